// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/json_exports.h"

namespace loom {

using namespace json_reading;

namespace {

/// Notes what is not known, and goes on.
struct Strange {
    Reader& reader;
    bool found = false;
    void at(const std::string& pointer, const std::string& what) {
        found = true;
        reader.warn(pointer, what + ", kept and passed over");
    }
};

ExportPicture read_picture(Reader& reader, Strange& strange, const json& node, const std::string& here) {
    ExportPicture picture;
    if (!reader.object(node, here)) return picture;
    const std::string format = reader.text(node, "format", here, "png");
    if (const auto found = find_picture_format(format))
        picture.format = *found;
    else
        strange.at(at(here, "format"), "unknown format " + in_quotes(format));
    if (!node.contains("channels")) {
        const std::string map = reader.text(node, "map", here, "colour");
        if (const auto found = find_map(map))
            picture.map = *found;
        else
            strange.at(at(here, "map"), "unknown map " + in_quotes(map));
        return picture;
    }
    picture.pack = reader.text(node, "name", here, "packed");
    if (picture.pack.empty()) reader.fault(at(here, "name"), "the packed picture's name is missing");
    const json& channels = reader.list(node, "channels", here);
    if (channels.empty() || channels.size() > 4) reader.fault(at(here, "channels"), "must have 1 to 4 entries");
    for (std::size_t k = 0; k < channels.size() && k < 4; ++k) {
        const std::string there = at(at(here, "channels"), k);
        const std::string word = channels[k].is_string() ? channels[k].get<std::string>() : "";
        if (!channels[k].is_string()) reader.fault(there, "must be a text");
        if (const auto found = find_channel(word))
            picture.channels.push_back(*found);
        else
            strange.at(there, "unknown channel " + in_quotes(word));
    }
    return picture;
}

ExportPreset read_preset(Reader& reader, const json& node, const std::string& here) {
    ExportPreset preset;
    if (!reader.object(node, here)) return preset;
    Strange strange{reader};
    preset.name = reader.text(node, "name", here, "");
    if (preset.name.empty()) {
        strange.at(here, "a preset without a name");
        preset.foreign = node.dump();
        return preset;
    }
    const json& pictures = reader.list(node, "pictures", here);
    for (std::size_t k = 0; k < pictures.size(); ++k)
        preset.pictures.push_back(read_picture(reader, strange, pictures[k], at(at(here, "pictures"), k)));
    const json& sizes = reader.list(node, "sizes", here);
    for (std::size_t k = 0; k < sizes.size(); ++k) {
        const double size = sizes[k].is_number() ? sizes[k].get<double>() : 0;
        if (size >= 1 && size <= greatest_picture && size == std::floor(size))
            preset.sizes.push_back(static_cast<int>(size));
        else
            reader.fault(at(at(here, "sizes"), k), "must be a whole number from 1 to " + std::to_string(greatest_picture));
    }
    preset.names = reader.text(node, "names", here, "");
    const std::string material = reader.text(node, "material", here, "none");
    if (const auto found = find_material(material))
        preset.material = *found;
    else
        strange.at(at(here, "material"), "unknown material " + in_quotes(material));
    preset.every_colourway = reader.flag(node, "every-colourway", here, false);
    const std::string green = reader.text(node, "green", here, "up");
    preset.green_down = green == "down";
    if (green != "up" && green != "down") reader.fault(at(here, "green"), "must be \"up\" or \"down\"");
    preset.unknown = reader.unknown(node, here, {"name", "pictures", "sizes", "names", "material", "every-colourway", "green"});
    if (strange.found) preset.foreign = node.dump();
    return preset;
}

json write_picture(const ExportPicture& picture) {
    json node = json::object();
    if (picture.pack.empty()) {
        node["map"] = map_id(picture.map);
    } else {
        node["name"] = picture.pack;
        node["channels"] = json::array();
        for (const Channel& channel : picture.channels) node["channels"].push_back(channel_text(channel));
    }
    node["format"] = picture_format_id(picture.format);
    return node;
}

}  // namespace

std::vector<ExportPreset> read_exports(Reader& reader, const json& root) {
    std::vector<ExportPreset> presets;
    const json& list = reader.list(root, "export", "");
    for (std::size_t k = 0; k < list.size(); ++k) {
        ExportPreset preset = read_preset(reader, list[k], at("/export", k));
        for (const ExportPreset& other : presets)
            if (!preset.name.empty() && other.name == preset.name)
                reader.fault(at(at("/export", k), "name"), "there is another preset " + in_quotes(preset.name));
        presets.push_back(std::move(preset));
    }
    return presets;
}

json write_exports(const std::vector<ExportPreset>& presets) {
    json list = json::array();
    for (const ExportPreset& preset : presets) {
        if (!preset.foreign.empty()) {
            list.push_back(json::parse(preset.foreign));
            continue;
        }
        json node = {{"name", preset.name}, {"pictures", json::array()}};
        for (const ExportPicture& picture : preset.pictures) node["pictures"].push_back(write_picture(picture));
        node["sizes"] = preset.sizes;
        if (!preset.names.empty()) node["names"] = preset.names;
        if (preset.material != Material::none) node["material"] = material_info(preset.material).id;
        if (preset.every_colourway) node["every-colourway"] = true;
        if (preset.green_down) node["green"] = "down";
        if (!preset.unknown.empty()) {
            const json unknown = json::parse(preset.unknown);
            for (const auto& [key, value] : unknown.items()) node[key] = value;
        }
        list.push_back(std::move(node));
    }
    return list;
}

}  // namespace loom
