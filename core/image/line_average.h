// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Averages along straight lines of any direction, across the tile edges, at a cost that does not grow with
// the length: running sums down the columns of the sheared picture.
#pragma once

#include <vector>

#include "core/base/job.h"
#include "core/image/footprint.h"
#include "core/image/plane.h"

namespace loom {

enum class Falloff { even, bell };

/// How much each sample counts that lies k steps from the centre, k = 0..; symmetric, the whole sums to 1.
std::vector<double> line_weights(double half_steps, Falloff falloff);

/// The same as a curve from end to end of the line, 0..1 both: what stands beside the choice of a falloff, counted as in Falloff.
double falloff_curve(std::size_t falloff, double x);

/// Average along the line of `dx`, `dy` pixels (its whole length) centred on each pixel. The line is sampled once
/// for each pixel of its longer side, linearly between the two pixels it passes. Lines longer than 16 pixels are
/// summed on a grid of lines a quarter pixel apart, which softens noise of one pixel by at most 3/255 across the line.
/// `rows` are those wanted, in blocks of line_footprint.
Plane line_average(const Plane& plane, double dx, double dy, Falloff falloff, Rows rows, const Job& job);
inline Plane line_average(const Plane& plane, double dx, double dy, Falloff falloff, const Job& job) {
    return line_average(plane, dx, dy, falloff, {0, plane.height()}, job);
}
Footprint line_footprint(double dx, double dy, Falloff falloff, Size size);
/// Planes that it needs besides the result.
int line_scratch(double dx, double dy);

}  // namespace loom
