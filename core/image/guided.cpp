// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/guided.h"

#include <algorithm>

#include "core/image/box.h"

namespace loom {

Plane guided_smooth(const Plane& plane, double rx, double ry, float edge, const Job& job) {
    const Size size = plane.size();
    Plane slope(size), offset(size), out(size);
    box_rows(
        size, rx, ry, 2,
        [&](int k, int y, float* scratch) {
            const float* row = plane.row(y);
            if (k == 0) return row;
            for (int x = 0; x < size.width; ++x) scratch[x] = row[x] * row[x];
            return static_cast<const float*>(scratch);
        },
        [&](int y, float* const* means) {
            const float *mean = means[0], *square = means[1];
            float *a = slope.row(y), *b = offset.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float variance = std::max(0.0f, square[x] - mean[x] * mean[x]);
                a[x] = variance / (variance + edge * edge + 1e-12f);
                b[x] = mean[x] * (1 - a[x]);
            }
        },
        job);
    box_rows(
        size, rx, ry, 2, [&](int k, int y, float*) { return (k == 0 ? slope : offset).row(y); },
        [&](int y, float* const* means) {
            const float* row = plane.row(y);
            float* to = out.row(y);
            for (int x = 0; x < size.width; ++x) to[x] = means[0][x] * row[x] + means[1][x];
        },
        job);
    return out;
}

}  // namespace loom
