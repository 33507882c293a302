// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Reading a plane between its pixels, across the tile edge. Places are in pixels with the centre
// of the first pixel at 0,0.
#pragma once

#include <cmath>

#include "core/image/plane.h"

namespace loom {

/// wrap() for a place that is seldom outside: no division unless it is far out.
inline int wrap_near(int index, int count) {
    if (index < 0) index += count;
    if (index >= count) index -= count;
    return index >= 0 && index < count ? index : wrap(index, count);
}

/// Catmull-Rom weights (Keys 1981, a = -1/2) for a place `t` in [0, 1) after the second of four values.
inline void catmull_rom(float t, float weights[4]) {
    const float t2 = t * t, t3 = t2 * t;
    weights[0] = 0.5f * (-t3 + 2 * t2 - t);
    weights[1] = 0.5f * (3 * t3 - 5 * t2 + 2);
    weights[2] = 0.5f * (-3 * t3 + 4 * t2 + t);
    weights[3] = 0.5f * (t3 - t2);
}

inline float sample_bilinear(const Plane& plane, float x, float y) {
    const float fx = std::floor(x), fy = std::floor(y);
    const float tx = x - fx, ty = y - fy;
    const int x0 = wrap_near(static_cast<int>(fx), plane.width()), y0 = wrap_near(static_cast<int>(fy), plane.height());
    const int x1 = x0 + 1 == plane.width() ? 0 : x0 + 1, y1 = y0 + 1 == plane.height() ? 0 : y0 + 1;
    const float* top = plane.row(y0);
    const float* low = plane.row(y1);
    const float above = top[x0] + tx * (top[x1] - top[x0]);
    const float below = low[x0] + tx * (low[x1] - low[x0]);
    return above + ty * (below - above);
}

/// The sixteen pixels and weights around a place, worked out once for all planes of a bundle.
struct CubicPlace {
    int x[4];
    int y[4];
    float wx[4];
    float wy[4];
    bool inside;  ///< the four columns lie side by side

    CubicPlace(Size size, float px, float py) {
        const float fx = std::floor(px), fy = std::floor(py);
        catmull_rom(px - fx, wx);
        catmull_rom(py - fy, wy);
        x[0] = wrap_near(static_cast<int>(fx) - 1, size.width);
        y[0] = wrap_near(static_cast<int>(fy) - 1, size.height);
        inside = x[0] + 3 < size.width;
        for (int k = 1; k < 4; ++k) {
            x[k] = x[k - 1] + 1 == size.width ? 0 : x[k - 1] + 1;
            y[k] = y[k - 1] + 1 == size.height ? 0 : y[k - 1] + 1;
        }
    }

    float read(const Plane& plane) const {
        float sum = 0;
        if (inside) {
            for (int j = 0; j < 4; ++j) {
                const float* row = plane.row(y[j]) + x[0];
                sum += wy[j] * (wx[0] * row[0] + wx[1] * row[1] + wx[2] * row[2] + wx[3] * row[3]);
            }
            return sum;
        }
        for (int j = 0; j < 4; ++j) {
            const float* row = plane.row(y[j]);
            sum += wy[j] * (wx[0] * row[x[0]] + wx[1] * row[x[1]] + wx[2] * row[x[2]] + wx[3] * row[x[3]]);
        }
        return sum;
    }
};

}  // namespace loom
