// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/maps/maps.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"

namespace loom {

std::string_view material_map_id(MaterialMap map) {
    constexpr std::string_view ids[] = {"colour", "height", "normal", "roughness", "metalness", "occlusion"};
    return ids[static_cast<std::size_t>(map)];
}

std::optional<MaterialMap> find_material_map(std::string_view id) {
    for (MaterialMap map : all_material_maps)
        if (material_map_id(map) == id) return map;
    return std::nullopt;
}

Wanted source_of(MaterialMap map) {
    switch (map) {
        case MaterialMap::colour: return {};
        case MaterialMap::roughness: return {Wanted::What::map, "", "", Map::roughness};
        case MaterialMap::metalness: return {Wanted::What::map, "", "", Map::metalness};
        case MaterialMap::height:
        case MaterialMap::normal:
        case MaterialMap::occlusion: break;
    }
    return {Wanted::What::map, "", "", Map::height};
}

Bundle normal_map(const Plane& height, double pixels_per_design_px) {
    const Size size = height.size();
    Plane red(size), green(size), blue(size);
    const auto scale = static_cast<float>(height_range_px * pixels_per_design_px / 8);
    for (int y = 0; y < size.height; ++y) {
        const float* above = height.row(wrap(y - 1, size.height));
        const float* here = height.row(y);
        const float* below = height.row(wrap(y + 1, size.height));
        for (int x = 0; x < size.width; ++x) {
            const int l = wrap(x - 1, size.width), r = wrap(x + 1, size.width);
            const float nx = -scale * ((above[r] + 2 * here[r] + below[r]) - (above[l] + 2 * here[l] + below[l]));
            const float ny = scale * ((below[l] + 2 * below[x] + below[r]) - (above[l] + 2 * above[x] + above[r]));
            const float length = std::sqrt(nx * nx + ny * ny + 1);
            red.row(y)[x] = 0.5f + 0.5f * nx / length;
            green.row(y)[x] = 0.5f + 0.5f * ny / length;
            blue.row(y)[x] = 0.5f + 0.5f / length;
        }
    }
    return Bundle::of(std::move(red), std::move(green), std::move(blue));
}

Bundle occlusion_map(const Plane& height, double pixels_per_design_px, const Job& job) {
    Plane sky(height.size(), 1.0f);
    for (double radius_px : {2.0, 6.0, 16.0}) {
        const double radius = radius_px * pixels_per_design_px;
        const Plane soft = gaussian_blur(height, radius, radius, job);
        const auto factor = static_cast<float>(height_range_px * pixels_per_design_px / std::max(0.5, radius));
        for (std::size_t i = 0; i < sky.size().pixels(); ++i)
            sky.data()[i] *= std::exp(-factor * std::max(0.0f, soft.data()[i] - height.data()[i]));
    }
    return Bundle::of(std::move(sky));
}

Bundle material_map(MaterialMap map, const Rendering& rendering, const Tile& tile, const Job& job) {
    const Bundle& source = rendering.results.at(source_of(map));
    const double scale = static_cast<double>(rendering.size.width) / tile.width;
    if (map == MaterialMap::normal) return normal_map(source.channel(0), scale);
    if (map == MaterialMap::occlusion) return occlusion_map(source.channel(0), scale, job);
    return source;
}

}  // namespace loom
