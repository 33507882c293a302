// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A picture in OKLab, as the tiling measures look at it. Private to core/measure.
#pragma once

#include <cmath>
#include <vector>

#include "core/base/quick_math.h"
#include "core/colour/colour.h"
#include "core/image/bundle.h"

namespace loom {

/// OKLab of a picture over black, plane by plane; grey pictures have no a and b.
struct LabPlanes {
    std::vector<Plane> planes;
    LabPlanes(const Bundle& picture, const Job& job) {
        const Size size = picture.size();
        const int count = picture.grey() ? 1 : 3;
        for (int k = 0; k < count; ++k) planes.emplace_back(size);
        const float *r = picture.channel(0).data(), *g = picture.channel(1).data(), *b = picture.channel(2).data();
        for_values(job, planes[0], [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) {
                const Lab lab = to_oklab({finite(r[i]), finite(g[i]), finite(b[i])});
                planes[0].data()[i] = lab.lightness;
                if (count == 3) planes[1].data()[i] = lab.a, planes[2].data()[i] = lab.b;
            }
        });
    }
    Size size() const { return planes.front().size(); }
    /// Lightness difference plus chroma distance of two pixels.
    double difference(int x0, int y0, int x1, int y1) const {
        double total = std::abs(planes[0].at(x0, y0) - planes[0].at(x1, y1));
        if (planes.size() == 3)
            total += std::hypot(planes[1].at(x0, y0) - planes[1].at(x1, y1), planes[2].at(x0, y0) - planes[2].at(x1, y1));
        return total;
    }
};

}  // namespace loom
