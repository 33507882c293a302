// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The shapes on which a material is shown: for each pixel of a view where it lies in the tile, and how the surface stands there.
#pragma once

#include <string_view>
#include <vector>

#include "core/image/plane.h"

namespace loom {

enum class LitShape { tile, ball, sheet, block };
struct LitShapeInfo {
    LitShape shape;
    std::string_view id, title, brief;
};
constexpr LitShapeInfo lit_shape_table[] = {
    {LitShape::tile, "tile", "Flat tile", "Flat"},
    {LitShape::ball, "ball", "Sphere", "Sphere"},
    {LitShape::sheet, "sheet", "Draped sheet", "Sheet"},
    {LitShape::block, "block", "Rounded block", "Block"},
};

/// One value a pixel, row after row. Directions are in the room: x right, y up, z towards who looks.
struct LitGeometry {
    Size size;
    std::vector<float> u, v;                          ///< place, in tiles from the tile's upper left corner; any number
    std::vector<float> normal_x, normal_y, normal_z;  ///< of length 1
    std::vector<float> along_x, along_y, along_z;     ///< where u grows, at right angles to the normal, of length 1
    std::vector<float> cover;                         ///< 0..1: how much of the pixel it takes; 0 beside it
    std::vector<float> shade;                         ///< 0..1: how much of the room it sees past itself
};

/// `repeats`: tiles across the shape; `aspect`: the tile's height over its width.
LitGeometry lit_geometry(LitShape shape, Size size, double repeats, double aspect);

}  // namespace loom
