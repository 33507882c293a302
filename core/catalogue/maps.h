// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The material maps, said once: recipe files, the planner, the command line and export follow from this table.
#pragma once

#include <iterator>
#include <optional>
#include <string>
#include <string_view>

namespace loom {

enum class Map { colour, height, normal, roughness, metalness, brushing, occlusion, lit };

struct MapInfo {
    Map map;
    std::string_view id, title;
    bool data;     ///< plain numbers; otherwise sRGB
    bool routed;   ///< strands feed it
    bool derived;  ///< made from the height, and the lit map from all others
    int channels;
    float base;  ///< tone where nothing feeds it
};

constexpr MapInfo map_table[] = {
    {Map::colour, "colour", "Colour", false, false, false, 3, 0},
    {Map::height, "height", "Height", true, true, false, 1, 0.5f},
    {Map::normal, "normal", "Normal", true, false, true, 3, 0},
    {Map::roughness, "roughness", "Roughness", true, true, false, 1, 0.5f},
    {Map::metalness, "metalness", "Metalness", true, true, false, 1, 0},
    {Map::brushing, "brushing", "Brushing", true, true, false, 3, 0},
    {Map::occlusion, "occlusion", "Ambient occlusion", true, false, true, 1, 1},
    {Map::lit, "lit", "Lit", false, false, true, 3, 0},
};

constexpr const MapInfo& map_info(Map map) { return map_table[static_cast<std::size_t>(map)]; }
/// Whether it holds directions, whose y can point up or down.
constexpr bool points(Map map) { return map == Map::normal || map == Map::brushing; }
constexpr std::string_view map_id(Map map) { return map_info(map).id; }

/// Whether it is a map of the material, rather than a picture of it.
constexpr bool of_material(Map map) { return map != Map::lit; }

/// All of them, for messages.
inline std::string map_words() {
    std::string words;
    for (const MapInfo& info : map_table) (words += words.empty() ? "" : ", ") += info.id;
    return words;
}

constexpr std::optional<Map> find_map(std::string_view id) {
    for (const MapInfo& info : map_table)
        if (info.id == id) return info.map;
    return std::nullopt;
}

}  // namespace loom
