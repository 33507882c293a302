// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/transposed.h"

#include <algorithm>

namespace loom {

Plane transposed(const Plane& plane, const Job& job) {
    Plane out(Size{plane.height(), plane.width()});
    constexpr int tile = 32;
    for_ranges(job, plane.width(), tile, [&](int x0, int x1) {
        for (int y0 = 0; y0 < plane.height(); y0 += tile)
            for (int x = x0; x < x1; ++x)
                for (int y = y0; y < std::min(y0 + tile, plane.height()); ++y) out.row(x)[y] = plane.row(y)[x];
    });
    return out;
}

}  // namespace loom
