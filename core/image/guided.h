// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Edge-keeping smoothing.
#pragma once

#include "core/image/plane.h"

namespace loom {

/// Guided filter (He, Sun & Tang 2010), the plane its own guide: in every box of these radii (pixels) the picture is a line of
/// itself, steep where its variance is above the square of `edge`, flat where it is below; the lines of all boxes over a pixel
/// are averaged. Wraps. Needs two planes besides its result.
Plane guided_smooth(const Plane& plane, double radius_x, double radius_y, float edge, const Job& job);

}  // namespace loom
