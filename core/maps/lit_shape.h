// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The shapes on which a material is shown: for each pixel of a view where it lies in the tile, and how the surface stands there.
#pragma once

#include <array>
#include <cstdint>
#include <string_view>
#include <vector>

#include "core/image/plane.h"
#include "core/maps/vector3.h"

namespace loom {

enum class LitShape { tile, ball, sheet, block, scene };
struct LitShapeInfo {
    LitShape shape;
    std::string_view id, title, brief;
};
constexpr LitShapeInfo lit_shape_table[] = {
    {LitShape::tile, "tile", "Flat tile", "Flat"},
    {LitShape::ball, "ball", "Sphere", "Sphere"},
    {LitShape::sheet, "sheet", "Draped sheet", "Sheet"},
    {LitShape::block, "block", "Rounded block", "Block"},
    {LitShape::scene, "scene", "Corner of the halt", "Scene"},
};

/// One value a pixel, row after row. Directions are in the room: x right, y up, z towards who looks.
struct LitGeometry {
    explicit LitGeometry(Size size);
    void set(std::size_t pixel, const Vector3& normal, const Vector3& along);
    Size size;
    std::vector<float> u, v;                          ///< place, in tiles from the tile's upper left corner; any number
    std::vector<float> normal_x, normal_y, normal_z;  ///< of length 1
    std::vector<float> along_x, along_y, along_z;     ///< where u grows, at right angles to the normal, of length 1
    std::vector<float> cover;                         ///< 0..1: how much of the pixel it takes; 0 beside it
    std::vector<float> shade;                         ///< 0..1: how much of the room it sees past itself
    // Of a scene alone (core/maps/lit_scene.h).
    std::vector<std::uint8_t> material;   ///< which of several; empty: the first everywhere
    std::vector<float> at_x, at_y, at_z;  ///< place in the scene
    struct Edge {
        std::size_t pixel;
        std::array<std::size_t, 4> of;  ///< pixels of whose colours it has a quarter each
    };
    std::vector<Edge> edges;
};

/// `repeats`: tiles across the shape; `aspect`: the tile's height over its width. A scene (core/maps/lit_scene.h) is measured in
/// centimetres, and seen from `repeats` times as far.
LitGeometry lit_geometry(LitShape shape, Size size, double repeats, double aspect);

}  // namespace loom
