// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Reading a plane between its pixels, across the tile edge. Places are in pixels with the centre
// of the first pixel at 0,0.
#pragma once

#include <bit>
#include <cassert>
#include <cmath>
#include <cstddef>
#include <cstdint>

#include "core/image/plane.h"

namespace loom {

/// wrap() for a place that is seldom outside: no division unless it is far out.
inline int wrap_near(int index, int count) {
    if (index < 0) index += count;
    if (index >= count) index -= count;
    return index >= 0 && index < count ? index : wrap(index, count);
}

/// The bits of 2^22: a float of that many pixels tells half a pixel and no less, and goes into an int with room to spare.
constexpr std::uint32_t far_place_bits = 0x4a800000;
inline bool is_far_place(float place) { return (std::bit_cast<std::uint32_t>(place) & 0x7fffffffu) > far_place_bits; }
/// The same place of the tile as `place`, which is_far_place; 0 for what is no number or has no end.
float far_place(float place, int count);

/// `place` as all that reads at computed places takes it: as it is, but brought back by whole tiles of `count` pixels where it
/// is too far to be told. Found by its bits, as kernels are compiled for finite numbers only.
inline float near_place(float place, int count) { return is_far_place(place) ? far_place(place, count) : place; }

/// The pixel nearest to a place, in [0, count).
inline int nearest_pixel(float place, int count) { return wrap(static_cast<int>(std::lround(near_place(place, count))), count); }

/// std::floor without a call into the mathematics library, for places that are near.
inline int floor_to_int(float value) {
    const int cut = static_cast<int>(value);
    return cut - (value < static_cast<float>(cut) ? 1 : 0);
}

/// Catmull-Rom weights (Keys 1981, a = -1/2) for a place `t` in [0, 1) after the second of four values.
inline void catmull_rom(float t, float weights[4]) {
    const float t2 = t * t, t3 = t2 * t;
    weights[0] = 0.5f * (-t3 + 2 * t2 - t);
    weights[1] = 0.5f * (3 * t3 - 5 * t2 + 2);
    weights[2] = 0.5f * (-3 * t3 + 4 * t2 + t);
    weights[3] = 0.5f * (t3 - t2);
}

/// Where the values of a plane stand: the tile's size, the first row that is there and how many there are.
struct PlaneRows {
    Size size;
    int first = 0, count = 0;
    PlaneRows(Size tile) : size(tile), count(tile.height) {}
    explicit PlaneRows(const Plane& plane) : size(plane.size()), first(plane.rows().first), count(plane.rows().count) {}
    std::size_t row(int y) const {
        const int held = y >= first ? y - first : y - first + size.height;
        assert(held >= 0 && held < count);
        return static_cast<std::size_t>(held) * static_cast<std::size_t>(size.width);
    }
    /// Whether the pixel is one of those that are there, counted from the first.
    bool holds(std::int64_t pixel) const { return pixel >= 0 && pixel < std::int64_t{count} * size.width; }
};

/// Values at a place between pixels, by straight lines. Many places at once: sample_kernel.h.
inline float sample_bilinear(const float* data, PlaneRows sheet, float x, float y) {
    const Size size = sheet.size;
    x = near_place(x, size.width), y = near_place(y, size.height);
    const int left = floor_to_int(x), top = floor_to_int(y);
    const float tx = x - static_cast<float>(left), ty = y - static_cast<float>(top);
    const int x0 = wrap_near(left, size.width), y0 = wrap_near(top, size.height);
    const int x1 = x0 + 1 == size.width ? 0 : x0 + 1, y1 = y0 + 1 == size.height ? 0 : y0 + 1;
    const float* high = data + sheet.row(y0);
    const float* low = data + sheet.row(y1);
    const float above = high[x0] + tx * (high[x1] - high[x0]);
    const float below = low[x0] + tx * (low[x1] - low[x0]);
    return above + ty * (below - above);
}
inline float sample_bilinear(const Plane& plane, float x, float y) {
    return sample_bilinear(plane.data(), PlaneRows(plane), x, y);
}

/// The sixteen pixels and weights around a place, worked out once for all planes of a bundle.
struct CubicPlace {
    int x[4];
    int y[4];
    float wx[4];
    float wy[4];
    bool inside;  ///< the four columns lie side by side

    CubicPlace(Size size, float px, float py) {
        px = near_place(px, size.width), py = near_place(py, size.height);
        const int left = floor_to_int(px), top = floor_to_int(py);
        catmull_rom(px - static_cast<float>(left), wx);
        catmull_rom(py - static_cast<float>(top), wy);
        x[0] = wrap_near(left - 1, size.width);
        y[0] = wrap_near(top - 1, size.height);
        inside = x[0] + 3 < size.width;
        for (int k = 1; k < 4; ++k) {
            x[k] = x[k - 1] + 1 == size.width ? 0 : x[k - 1] + 1;
            y[k] = y[k - 1] + 1 == size.height ? 0 : y[k - 1] + 1;
        }
    }

    float read(const Plane& plane) const { return read(plane.data(), PlaneRows(plane)); }
    float read(const float* data, PlaneRows sheet) const {
        float sum = 0;
        for (int j = 0; j < 4; ++j) {
            const float* row = data + sheet.row(y[j]);
            const float across = inside
                                     ? wx[0] * row[x[0]] + wx[1] * row[x[0] + 1] + wx[2] * row[x[0] + 2] + wx[3] * row[x[0] + 3]
                                     : wx[0] * row[x[0]] + wx[1] * row[x[1]] + wx[2] * row[x[2]] + wx[3] * row[x[3]];
            sum += wy[j] * across;
        }
        return sum;
    }
};

}  // namespace loom
