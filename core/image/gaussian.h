// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gaussian blur of a plane across its edges. Direct convolution (cut at 3 deviations, whole bands of rows both ways at once)
// below 3 px; from there the recursive fourth-order filter of Deriche (1993) as two complex one-pole filters, whose cost does not
// grow with the deviation; its error stays below 0.001 of the signal's range.
#pragma once

#include "core/base/job.h"
#include "core/image/footprint.h"
#include "core/image/plane.h"

namespace loom {

/// `across`, `down`: standard deviations in pixels; 0 leaves that direction alone.
Plane gaussian_blur(const Plane& plane, double across, double down, const Job& job);
/// Some rows of it, where gaussian_footprint allows bands; `plane` holds what that asks for.
Plane gaussian_blur(const Plane& plane, double across, double down, Rows rows, const Job& job);
Footprint gaussian_footprint(double across, double down);

}  // namespace loom
