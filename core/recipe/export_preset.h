// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a recipe is written to: pictures, their sizes and names. Kept in the recipe's list "export".
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/catalogue/maps.h"
#include "core/catalogue/picture_format.h"

namespace loom {

/// One channel of a packed picture: a plane of a map, as it is or taken from 1.
struct Channel {
    enum class Of { nothing, plane, coverage };
    Of of = Of::nothing;    ///< nothing: black
    Map map = Map::colour;  ///< for coverage the colour
    int plane = 0;          ///< of the map's channels
    bool inverse = false;
    bool operator==(const Channel&) const = default;
};
/// "red", "green", "blue", "coverage" (of the colour), "normal-x", "brushing-x", ..., "brushing" (its strength), the id of a grey
/// map, each perhaps after "1-"; "" is black.
std::optional<Channel> find_channel(std::string_view text);
std::string channel_text(const Channel& channel);
/// "red, green, ...": for messages.
std::string channel_words();
/// The map whose picture it is read from; nothing for black.
std::optional<Map> map_of(const Channel& channel);

/// One picture of each size and colourway: a map, or up to four channels packed.
struct ExportPicture {
    Map map = Map::colour;
    std::string pack = {};               ///< its name if channels are packed, else ""
    std::vector<Channel> channels = {};  ///< of a packed one, 1 to 4
    PictureFormat format = PictureFormat::png;
    bool operator==(const ExportPicture&) const = default;

    /// What stands for {map} in its name.
    std::string word() const { return pack.empty() ? std::string(map_id(map)) : pack; }
    std::vector<Map> reads() const;
    /// Whether its numbers are colours, marked sRGB.
    bool colours() const;
};

enum class Material { none, glb, gltf, materialx };
struct MaterialInfo {
    Material material;
    std::string_view id, title, extension;
};
constexpr MaterialInfo material_table[] = {
    {Material::none, "none", "none", ""},
    {Material::glb, "glb", "glTF, one file", "glb"},
    {Material::gltf, "gltf", "glTF with pictures", "gltf"},
    {Material::materialx, "materialx", "MaterialX", "mtlx"},
};
constexpr const MaterialInfo& material_info(Material material) { return material_table[static_cast<std::size_t>(material)]; }
constexpr std::optional<Material> find_material(std::string_view id) {
    for (const MaterialInfo& info : material_table)
        if (info.id == id) return info.material;
    return std::nullopt;
}

struct ExportPreset {
    std::string name;
    std::vector<ExportPicture> pictures;
    std::vector<int> sizes;  ///< pixels of the longer side; none: the tile's own size
    /// Names without extension, of {name}, {map}, {size}, {width}, {height} and {colourway}; "/" makes folders. "" is name and
    /// map, with colourway and size where there are several.
    std::string names;
    Material material = Material::none;
    bool every_colourway = false;
    bool green_down = false;  ///< normals point down in green, as DirectX wants them
    std::string unknown;
    std::string foreign;  ///< the whole entry as JSON if it has words that are not known; it is kept and passed over
    bool operator==(const ExportPreset&) const = default;
};

/// A pattern's name, or why it cannot be one: unknown words in braces, no name at all, a way out of the folder.
struct ExportWords {
    std::string name, map, colourway;
    int width = 0, height = 0;
};
Result<std::string> export_name(std::string_view pattern, const ExportWords& words);
/// The pattern that "" stands for.
std::string usual_pattern(const ExportPreset& preset);
/// A name as file names have it: "Stoker's denim" is "stokers-denim".
std::string file_word(std::string_view name);

}  // namespace loom
