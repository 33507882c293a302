// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/render/lighting.h"

namespace loom {

namespace {

Wanted wanted_map(Map map) { return {map == Map::colour ? Wanted::What::body : Wanted::What::map, "", "", map}; }

}  // namespace

LitLight light_of(const Lamp& lamp) {
    LitLight light;
    light.direction = lamp.direction, light.elevation = lamp.elevation, light.exposure = lamp.exposure;
    light.warmth = lamp.warmth, light.width = lamp.width, light.strength = lamp.strength;
    light.room = lamp.room, light.turn = lamp.turn, light.fill = lamp.fill;
    return light;
}

LitFinish finish_of(const Finish& finish) { return {finish.sheen, finish.coat, finish.coat_rough, finish.spread}; }

std::vector<Wanted> wanted_for_light() {
    std::vector<Wanted> wanted;
    for (const MapInfo& info : map_table)
        if (of_material(info.map)) wanted.push_back(wanted_map(info.map));
    return wanted;
}

LitMaps maps_for_light(const Recipe& recipe, Size size, const std::map<Wanted, Bundle>& rendered) {
    const auto bundle = [&](Map map) {
        const auto found = rendered.find(wanted_map(map));
        return found == rendered.end() ? Bundle() : found->second;
    };
    const auto plane = [&](Map map) {
        const Bundle found = bundle(map);
        return found.empty() ? nullptr : found.colour.front();
    };
    LitMaps maps;
    maps.colour = bundle(Map::colour), maps.normal = bundle(Map::normal), maps.brushing = bundle(Map::brushing);
    maps.height = plane(Map::height), maps.roughness = plane(Map::roughness), maps.metalness = plane(Map::metalness);
    maps.occlusion = plane(Map::occlusion);
    maps.scale = static_cast<double>(size.width) / recipe.tile.width, maps.deep = maps.scale * recipe.tile.deep;
    return maps;
}

}  // namespace loom
