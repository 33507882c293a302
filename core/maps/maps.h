// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The material maps of a recipe: what its strands route, and what follows from the height.
#pragma once

#include <optional>
#include <string_view>
#include <vector>

#include "core/render/render.h"

namespace loom {

enum class MaterialMap { colour, height, normal, roughness, metalness, occlusion };
constexpr MaterialMap all_material_maps[] = {MaterialMap::colour,    MaterialMap::height,    MaterialMap::normal,
                                             MaterialMap::roughness, MaterialMap::metalness, MaterialMap::occlusion};

std::string_view material_map_id(MaterialMap map);
std::optional<MaterialMap> find_material_map(std::string_view id);
/// Colour is sRGB; all others are plain data.
constexpr bool is_data(MaterialMap map) { return map != MaterialMap::colour; }

/// What has to be rendered to make the map.
Wanted source_of(MaterialMap map);

/// Normal map from a height plane (0..1 standing for height_range_px design pixels), x right, y up, packed to 0..1.
Bundle normal_map(const Plane& height, double pixels_per_design_px);

/// Share of open sky from a height plane, 1 where nothing is in the way: height less its blurs at 2, 6 and 16 design px.
Bundle occlusion_map(const Plane& height, double pixels_per_design_px, const Job& job);

/// The map from a rendering that holds source_of(map).
Bundle material_map(MaterialMap map, const Rendering& rendering, const Tile& tile, const Job& job);

}  // namespace loom
