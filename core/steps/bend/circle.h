// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// For bends round a centre: offsets to its nearest copy, so that what happens within half a tile repeats.
#pragma once

#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/resample.h"

namespace loom {

/// The parameters "centre-x" and "centre-y" and their handle on the cloth.
template <class Settings>
Describe<Settings>& describe_centre(Describe<Settings>& describe, double Settings::*x, double Settings::*y) {
    const Range share{-100, 200, Unit::percent, 100};
    return describe.number("centre-x", "Centre x", x, share, "Place of the centre across the tile.")
        .number("centre-y", "Centre y", y, share, "Place of the centre down the tile.")
        .pair("Centre", "centre-x", "centre-y")
        .point("Centre", "centre-x", "centre-y");
}

/// Reads each pixel from the place that `bend` makes of its offset from the centre, in design pixels.
template <class Bend>
Bundle bent_round(const StepContext& context, double centre_x, double centre_y, Bend&& bend) {
    const Size size = context.size, tile = context.tile;
    const double cx = centre_x / 100 * tile.width, cy = centre_y / 100 * tile.height;
    return resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            for (int x = 0; x < size.width; ++x) {
                const double u = (x + 0.5) / context.scale_x() - cx, v = (y + 0.5) / context.scale_y() - cy;
                const double dx = u - std::round(u / tile.width) * tile.width, dy = v - std::round(v / tile.height) * tile.height;
                double to_x = dx, to_y = dy;
                bend(dx, dy, to_x, to_y);
                px[x] = static_cast<float>(x + (to_x - dx) * context.scale_x());
                py[x] = static_cast<float>(y + (to_y - dy) * context.scale_y());
            }
        },
        *context.job);
}

/// No place moves farther than `way`.
inline Footprint round_footprint(const Scales& at, double way) {
    return Footprint::near(at.across(way, resampled_margin), at.down(way, resampled_margin));
}

constexpr std::string_view circle_tiles = "it repeats while the radius is at most half the tile";

}  // namespace loom
