// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Means over boxes, across the plane's edges, by running sums: the cost does not grow with the box.
#pragma once

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

/// Mean over 2 r + 1 pixels each way; the fraction of a radius counts its pixels in part, so that a box grows smoothly.
Plane box_mean(const Plane& plane, double radius_x, double radius_y, const Job& job);

}  // namespace loom
