// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Slopes that objects have by themselves, where they lie as tilted planes. Next to another object a difference of heights says
// how far one lies above the other, and nothing of how either leans.
#pragma once

#include <algorithm>
#include <cmath>
#include <string>
#include <utility>
#include <vector>

#include "core/image/bundle.h"
#include "core/image/footprint.h"

namespace loom {

class OwnSlopes {
public:
    /// `source` without planes of tilted objects: no edges anywhere. `scale`: pixels per design pixel.
    OwnSlopes(const Bundle& source, double scale)
        : id_(source.plane(objects::id)),
          right_(source.plane(objects::tilt[0])),
          down_(source.plane(objects::tilt[1])),
          reach_(reach_of(scale)) {}

    static std::vector<std::string> reads() {
        std::vector<std::string> planes;
        for (std::string_view name : {height_plane, objects::id, objects::tilt[0], objects::tilt[1]}) planes.emplace_back(name);
        return planes;
    }
    /// Pixels around that decide whether a place lies at an edge: heights are softened over a good pixel, here or where small
    /// pictures are made, which mixes neighbours that far.
    static int reach_of(double scale) { return static_cast<int>(std::ceil(std::max(1.0, scale))) + 1; }

    bool any() const { return id_ && right_ && down_; }
    /// Whether a difference of heights at a pixel would reach over an edge.
    bool at_edge(int x, int y) const {
        if (!any()) return false;
        const float own = id_->row(y)[x];
        for (const auto& [dx, dy] : looked_at)
            if (id_->row(wrap(y + dy * reach_ / 2, id_->height()))[wrap(x + dx * reach_ / 2, id_->width())] != own) return true;
        return false;
    }
    /// In heights of 1 a design pixel.
    double right(int x, int y) const { return static_cast<double>(right_->row(y)[x]); }
    double up(int x, int y) const { return -static_cast<double>(down_->row(y)[x]); }

private:
    /// In halves of the reach: a ring and the four ends.
    static constexpr std::pair<int, int> looked_at[] = {{1, 0},  {-1, 0},  {0, 1}, {0, -1}, {1, 1}, {1, -1},
                                                        {-1, 1}, {-1, -1}, {2, 0}, {-2, 0}, {0, 2}, {0, -2}};
    PlaneRef id_, right_, down_;
    int reach_;
};

}  // namespace loom
