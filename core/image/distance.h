// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Exact Euclidean distance to where a plane crosses a level, across the tile edges and finer than pixels. The edge is the
// polyline that marching squares draws: crossings of the lines between neighbouring pixels' centres, by linear interpolation,
// joined within each square of four centres. Distances come in two passes, along columns and then across rows (Saito & Toriwaki
// 1994: the least of squares in a window, whose far parts are passed over while they cannot matter), once for crossings on
// columns and once for those on rows; within near_px of the edge from its straight pieces.
#pragma once

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

/// Pixels: positive where the plane lies above `level`, negative elsewhere; within 0.03 px of the polyline. Distances beyond
/// `reach` are cut there; a plane that never crosses the level gives +-reach. The cost
/// grows with the distances there are. For coverage the level is 1/2.
Plane distance_to_level(const Plane& plane, float level, double reach, const Job& job);

constexpr int near_px = 3;

}  // namespace loom
