// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What follows from a surface's height: normals, and how much of the sky is open. Heights are 0..1 and stand for height_range_px
// design pixels; they wrap at the tile edges.
#pragma once

#include "core/image/bundle.h"
#include "core/image/footprint.h"

namespace loom {

/// Design pixels from black to white in the height map, unless a recipe says otherwise.
constexpr double height_range_px = 32;

/// x right, y up, packed to 0..1; by Sobel's slopes, `deep` pixels from black to white. `height` holds a row more than `rows` on
/// both sides.
Bundle normal_map(const Plane& height, double deep, Rows rows, const Job& job);
constexpr Footprint normal_footprint{Footprint::Kind::near, 1, 1};

/// Share of open sky, 1 where nothing is in the way: height less its blurs at 2, 6 and 16 design px. `height` is whole.
Bundle occlusion_map(const Plane& height, double deep, double pixels_per_design_px, const Job& job);

}  // namespace loom
