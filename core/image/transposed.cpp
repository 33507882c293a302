// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/transposed.h"

#include <algorithm>

namespace loom {

Plane transposed(const Plane& plane, const Job& job) {
    const int first = plane.rows().first, count = plane.rows().count, height = plane.height();
    Plane out(Size{count, plane.width()});
    constexpr int tile = 32;
    for_ranges(job, plane.width(), tile, [&](int x0, int x1) {
        for (int y0 = 0; y0 < count; y0 += tile)
            for (int x = x0; x < x1; ++x)
                for (int y = y0; y < std::min(y0 + tile, count); ++y) out.row(x)[y] = plane.row(wrap(first + y, height))[x];
    });
    return out;
}

Plane transposed(const Plane& plane, Size size, Rows rows, const Job& job) {
    Plane out(size, rows);
    constexpr int tile = 32;
    for_ranges(job, rows.count, tile, [&](int y0, int y1) {
        for (int x0 = 0; x0 < size.width; x0 += tile)
            for (int y = y0; y < y1; ++y)
                for (int x = x0; x < std::min(x0 + tile, size.width); ++x) out.row(rows.first + y)[x] = plane.row(x)[y];
    });
    return out;
}

}  // namespace loom
