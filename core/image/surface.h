// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What follows from a surface's height: normals, and how much of the sky is open. Heights are 0..1 and stand for height_range_px
// design pixels; they wrap at the tile edges.
#pragma once

#include <vector>

#include "core/image/bundle.h"
#include "core/image/footprint.h"

namespace loom {

/// Design pixels from black to white in the height map, unless a recipe says otherwise.
constexpr double height_range_px = 32;

/// x right, y up, packed to 0..1; by Sobel's slopes, `deep` pixels from black to white. `height` holds a row more than `rows` on
/// both sides.
Bundle normal_map(const Plane& height, double deep, Rows rows, const Job& job);
constexpr Footprint normal_footprint{Footprint::Kind::near, 1, 1};

/// Design pixels (deviations) of the blurs that a height is compared with to tell how much sky is open.
constexpr double occlusion_px[] = {2, 6, 16};

/// A height's blur, smaller by a power of two where the blur leaves nothing that would need more pixels.
struct SoftHeight {
    Size size;
    double across, down;  ///< deviations left to be blurred at that size, in its pixels
    /// `radius`: deviation in pixels of `whole`.
    SoftHeight(Size whole, double radius);
    Footprint footprint(Size whole) const;
    /// All of it, or the wanted rows where it has the height's own size.
    Plane of(const Plane& height, Rows rows, const Job& job) const;
};

/// Share of open sky, 1 where nothing is in the way: height less its blurs. `soft` are those of occlusion_px in their order;
/// what is smaller than `height` is whole, all else holds `rows`.
Bundle occlusion_map(const Plane& height, const std::vector<const Plane*>& soft, double deep, double pixels_per_design_px,
                     Rows rows, const Job& job);

}  // namespace loom
