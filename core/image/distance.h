// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Exact Euclidean distance to where a plane crosses a level, across the tile edges and finer than pixels. The edge is the
// polyline that marching squares draws: crossings of the lines between neighbouring pixels' centres, by linear interpolation,
// joined within each square of four centres. Distances come from the lower envelope of parabolas (Felzenszwalb & Huttenlocher
// 2012) in two passes, once for crossings on columns and once for those on rows; within near_px of the edge from its straight
// pieces.
#pragma once

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

/// Pixels: positive where the plane lies above `level`, negative elsewhere; within 0.03 px of the polyline. Distances beyond
/// `reach` are cut there; a plane that never crosses the level gives +-reach. The cost grows with the reach up to 48 px and stays
/// the same from there on. For coverage the level is 1/2.
Plane distance_to_level(const Plane& plane, float level, double reach, const Job& job);

constexpr int near_px = 3;

}  // namespace loom
