// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A corner of the halt on which materials lie at their real width: a wall with a lower one before it, the floor, and a crate.
// Seen from far away, so that the shading of shapes holds for it as it is; everything is measured in centimetres.
#pragma once

#include <string_view>
#include <vector>

#include "core/maps/lit_shape.h"
#include "core/structures/lit_room.h"

namespace loom {

enum class ScenePlace { wall, floor, crate };
struct ScenePlaceInfo {
    ScenePlace place;
    std::string_view id, title;
};
constexpr ScenePlaceInfo scene_place_table[] = {
    {ScenePlace::wall, "wall", "Wall"},
    {ScenePlace::floor, "floor", "Floor"},
    {ScenePlace::crate, "crate", "Crate"},
};
/// Of the shorter side of the view, as it is seen first.
constexpr double scene_wide_cm = 190;
/// What a tile whose width nobody has said is taken for.
constexpr double unknown_wide_cm = 50;

/// u and v are centimetres from the upper left; `material` holds ScenePlace. `wide_cm`: the shorter side of the view.
LitGeometry scene_geometry(Size size, double wide_cm);

/// The same light from where it can come from: above the floor and before the wall.
LitLight light_in_scene(const LitLight& light);

/// How much of the key lamp crate and low wall let through, one value a pixel of a scene's geometry; 1 on other shapes.
std::vector<float> lamp_in_scene(const LitGeometry& scene, const LitRoom& room, const Job& job);

}  // namespace loom
