// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Reading many places of planes at once, across the tile edge; the instruction set is chosen when the program runs.
#pragma once

#include "core/image/sample.h"

namespace loom {

/// out[k][i] = plane k at (x[i], y[i]), in pixels with the centre of the first pixel at 0,0, between pixels by straight lines.
/// `planes` all hold the same rows, which the places have to lie between. Places may lie
/// anywhere: near_place says what becomes of those too far to be told.
void read_bilinear(const float* const* planes, int plane_count, PlaneRows sheet, const float* x, const float* y, int count,
                   float* const* out);

/// The same for four planes whose values lie side by side, four for each pixel: much faster than four planes.
void read_bilinear_four(const float* values, Size size, const float* x, const float* y, int count, float* const out[4]);

/// The same by Catmull-Rom weights (Keys 1981, a = -1/2) over four by four pixels.
void read_cubic(const float* const* planes, int plane_count, PlaneRows sheet, const float* x, const float* y, int count,
                float* const* out);

}  // namespace loom
