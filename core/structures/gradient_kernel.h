// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where the pixels of a row lie along a gradient. Private to core/steps/make.
#pragma once

namespace loom {

enum class GradientForm { linear, reflected, radial, angular, square };
enum class GradientRepeat { once, loop, mirror };

struct GradientLine {
    GradientForm form;
    GradientRepeat repeat;
    float first, step;  ///< offset of the first pixel from the ramp's beginning or centre, and of each from the one before, tiles
    float down;         ///< offset of the row, tiles; brought to the nearest copy by the caller for forms round a centre
    float width, height;  ///< of the tile, design pixels
    float dx, dy;         ///< direction of the ramp, of length 1
    float length;         ///< design pixels
    float turns;
    bool copies;  ///< forms round a centre: the nearest copy of it counts, so that they repeat
};

/// Places from 0 to 1 along the ramp; beyond both ends where it is held.
void gradient_places(const GradientLine& line, int count, float* places);

}  // namespace loom
