// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/transposed.h"

#include <algorithm>

namespace loom {

namespace {

/// to(x)[y] = from(y)[x] for x from x0 to x1 and all y.
template <class From, class To>
void turn(int x0, int x1, int count, From&& from, To&& to) {
    constexpr int side = 32;
    const float* rows[side];
    for (int y0 = 0; y0 < count; y0 += side) {
        const int high = std::min(side, count - y0);
        for (int v = 0; v < high; ++v) rows[v] = from(y0 + v);
        for (int x = x0; x < x1; ++x) {
            float* column = to(x) + y0;
            for (int v = 0; v < high; ++v) column[v] = rows[v][x];
        }
    }
}

constexpr int at_once = 32;

}  // namespace

Plane transposed(const Plane& plane, const Job& job) {
    const int first = plane.rows().first, count = plane.rows().count, height = plane.height();
    Plane out(Size{count, plane.width()});
    for_ranges(job, plane.width(), at_once, [&](int x0, int x1) {
        turn(
            x0, x1, count, [&](int y) { return plane.row(wrap(first + y, height)); }, [&](int x) { return out.row(x); });
    });
    return out;
}

Plane transposed(const Plane& plane, Size size, Rows rows, const Job& job) {
    Plane out(size, rows);
    for_ranges(job, rows.count, at_once, [&](int y0, int y1) {
        turn(
            y0, y1, size.width, [&](int x) { return plane.row(x); }, [&](int y) { return out.row(rows.first + y); });
    });
    return out;
}

}  // namespace loom
