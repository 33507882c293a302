// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where two objects meet, a pixel belongs to both. From the planes of objects, which name one owner a pixel, this tells the
// second and how much of the pixel is the first's, so that what is made from their lots has no stairs: by the shares of owners
// within a tent of two pixels (binomial weights 1 2 1).
#pragma once

#include <array>

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

class ObjectEdges {
public:
    explicit ObjectEdges(PlaneRef ids) : ids_(std::move(ids)) {}

    struct Owners {
        float second = 0;  ///< number of the object that has most of the rest; its own where there is no other
        float share = 1;   ///< of the first, 0..1
    };
    Owners at(int x, int y) const;

    /// Calls use(x, y, weight) for the nine pixels round (x, y) that a value at it is the mean of; only (x, y) itself, with 1,
    /// where all belong to one object.
    template <class Use>
    void around(int x, int y, Use&& use) const {
        if (alone(x, y)) return use(x, y, 1.0f);
        for (int j = -1; j <= 1; ++j)
            for (int i = -1; i <= 1; ++i)
                use(wrap(x + i, ids_->width()), wrap(y + j, ids_->height()), weights[j + 1] * weights[i + 1]);
    }
    /// `values`, which are those of one object a pixel, as means over pixels; the wanted rows of it.
    Plane smoothed(const Plane& values, Rows rows, const Job& job) const;

private:
    static constexpr float weights[] = {0.25f, 0.5f, 0.25f};
    bool alone(int x, int y) const;
    PlaneRef ids_;
};

}  // namespace loom
