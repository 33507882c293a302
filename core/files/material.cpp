// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/material.h"

#include <algorithm>
#include <filesystem>
#include <pugixml.hpp>
#include <sstream>

#include "core/base/files.h"
#include "core/catalogue/value_kind.h"
#include "core/files/export.h"
#include "core/files/gltf.h"

namespace loom {

namespace {

ExportPicture map_picture(Map map, PictureFormat format) { return {map, "", {}, format}; }

/// Occlusion, roughness and metalness, as glTF reads them.
ExportPicture surface_picture() {
    ExportPicture picture;
    picture.pack = "surface";
    for (const char* word : {"occlusion", "roughness", "metalness"}) picture.channels.push_back(*find_channel(word));
    return picture;
}

bool brushed(const Recipe& recipe) {
    return std::any_of(recipe.strands.begin(), recipe.strands.end(),
                       [](const StrandRef& strand) { return strand->on && strand->routes.contains(Map::brushing); });
}

double wide_m(const Recipe& recipe) { return recipe.tile.wide_cm ? *recipe.tile.wide_cm / 100 : 1; }
double high_m(const Recipe& recipe) { return wide_m(recipe) * recipe.tile.height / recipe.tile.width; }

/// As it is named in a document beside it.
std::string place_beside(const std::string& path, const std::string& document) {
    return std::filesystem::path(path).lexically_relative(std::filesystem::path(document).parent_path()).generic_string();
}

/// A place as a URI (RFC 3986).
std::string uri_of(const std::string& place) {
    std::string uri;
    for (char c : place) {
        if (std::isalnum(static_cast<unsigned char>(c)) || std::string_view("-._~/").find(c) != std::string_view::npos) {
            uri += c;
            continue;
        }
        constexpr char digits[] = "0123456789ABCDEF";
        uri += '%', uri += digits[static_cast<unsigned char>(c) >> 4], uri += digits[static_cast<unsigned char>(c) & 15];
    }
    return uri;
}

/// The file of a run that holds a picture: its index.
std::size_t file_with(const ExportRun& run, const ExportPicture& picture) {
    std::size_t best = run.files.size();
    for (std::size_t k = 0; k < run.files.size(); ++k) {
        const MapFile& file = run.files[k];
        const bool fits = file.picture.channels == picture.channels && file.picture.pack.empty() == picture.pack.empty() &&
                          (file.picture.map == picture.map || !picture.pack.empty()) && !file.green_down &&
                          usable(run.material, file.picture.format);
        // What is kept in memory is for the material alone.
        if (fits && (best == run.files.size() || file.path.empty())) best = k;
    }
    return best;
}

std::string number(std::uint32_t value) {
    std::string bytes;
    for (int k = 0; k < 4; ++k, value >>= 8) bytes += static_cast<char>(value & 255);
    return bytes;
}

Result<Done> write_glb(const std::string& path, const GltfDocument& document, const std::vector<const std::string*>& pictures,
                       FilesTogether& together) {
    std::string head = document.json.dump();
    head.resize(padded(head.size()), ' ');
    std::size_t length = document.geometry.size();
    for (const std::string* picture : pictures) length += padded(picture->size());
    const std::size_t whole = 12 + 8 + head.size() + 8 + length;
    if (whole > 0xffffffffu)
        return Error{Fault::file, "cannot write '" + path +
                                      "': its pictures take more than the 4 GiB that one file can have; choose a "
                                      "smaller size, or glTF with pictures"};
    auto file = FileWriter::open(path);
    if (!file) return file.error();
    std::string start = "glTF" + number(2) + number(static_cast<std::uint32_t>(whole));
    start += number(static_cast<std::uint32_t>(head.size())) + "JSON" + head;
    start += number(static_cast<std::uint32_t>(length)) + std::string("BIN\0", 4) + document.geometry;
    if (auto done = file->write(start); !done) return done;
    for (const std::string* picture : pictures) {
        if (auto done = file->write(*picture); !done) return done;
        if (auto done = file->write(std::string(padded(picture->size()) - picture->size(), '\0')); !done) return done;
    }
    return together.add(std::move(*file));
}

Result<Done> write_gltf(const ExportRun& run, const WrittenMaps& maps, FilesTogether& together) {
    const std::string& path = run.material_path;
    const bool one_file = run.material == Material::glb;
    GltfMaterial material;
    const Finish& finish = run.recipe.finish;
    material.sheen = finish.sheen / 100, material.coat = finish.coat / 100, material.coat_rough = finish.coat_rough / 100;
    material.name = run.recipe.name, material.wide_m = wide_m(run.recipe), material.high_m = high_m(run.recipe);
    const auto wanted = material_pictures(run.material, run.recipe);
    GltfPicture* places[] = {&material.colour, &material.surface, &material.normal, &material.brushing};
    std::vector<const std::string*> inside;
    for (std::size_t k = 0; k < wanted.size(); ++k) {
        const std::size_t index = file_with(run, wanted[k]);
        const MapFile& file = run.files[index];
        places[k]->name = run.recipe.name + " " + wanted[k].word();
        places[k]->mime = file.picture.format == PictureFormat::jpg ? "image/jpeg" : "image/png";
        if (one_file) {
            inside.push_back(&maps.in_memory[index]);
            places[k]->bytes = maps.in_memory[index].size();
        } else {
            places[k]->uri = uri_of(place_beside(file.path, path));
        }
        if (k == 0) material.transparent = maps.transparent[index];
    }
    if (one_file) return write_glb(path, gltf_document(material, ""), inside, together);
    const std::string geometry = geometry_path(path);
    const GltfDocument document = gltf_document(material, uri_of(place_beside(geometry, path)));
    // In the order of the run's paths.
    if (auto done = together.add(path, document.json.dump(2) + "\n"); !done) return done;
    return together.add(geometry, document.geometry);
}

/// Design pixels that light goes within what lets it in, as the lit map has it.
constexpr double subsurface_px = 12;

/// An element with a name and a type, which nearly all of MaterialX's have.
pugi::xml_node add(pugi::xml_node parent, const char* element, const char* name, const char* type) {
    pugi::xml_node node = parent.append_child(element);
    node.append_attribute("name") = name;
    node.append_attribute("type") = type;
    return node;
}
void add_value(pugi::xml_node parent, const char* name, const char* type, const std::string& value) {
    add(parent, "input", name, type).append_attribute("value") = value.c_str();
}
void add_link(pugi::xml_node parent, const char* name, const char* type, const char* from) {
    add(parent, "input", name, type).append_attribute("nodename") = from;
}

/// Strength and direction out of the picture; standard_surface wants the way in which light is spread, across the scratches, in
/// turns.
void add_brushing(pugi::xml_node graph) {
    const auto part = [&](const char* name, const char* index) {
        pugi::xml_node node = add(graph, "extract", name, "float");
        add_link(node, "in", "vector3", "brushing_picture");
        add_value(node, "index", "integer", index);
    };
    part("brushing_x", "0"), part("brushing_y", "1"), part("brushing", "2");
    const auto centred = [&](const char* name, const char* from) {
        pugi::xml_node node = add(graph, "subtract", name, "float");
        add_link(node, "in1", "float", from);
        add_value(node, "in2", "float", "0.5");
    };
    centred("brushing_right", "brushing_x"), centred("brushing_up", "brushing_y");
    pugi::xml_node angle = add(graph, "atan2", "brushing_angle", "float");
    add_link(angle, "in1", "float", "brushing_up");
    add_link(angle, "in2", "float", "brushing_right");
    pugi::xml_node turn = add(graph, "divide", "brushing_turn", "float");
    add_link(turn, "in1", "float", "brushing_angle");
    add_value(turn, "in2", "float", "6.28318530718");
    pugi::xml_node across = add(graph, "add", "brushing_across", "float");
    add_link(across, "in1", "float", "brushing_turn");
    add_value(across, "in2", "float", "0.25");
}

Result<Done> write_materialx(const ExportRun& run, FilesTogether& together) {
    const std::string& path = run.material_path;
    pugi::xml_document document;
    pugi::xml_node root = document.append_child("materialx");
    root.append_attribute("version") = "1.38";
    root.append_attribute("colorspace") = "lin_rec709";
    pugi::xml_node graph = root.append_child("nodegraph");
    graph.append_attribute("name") = "maps";
    const auto picture = [&](const char* name, const char* type, Map map) {
        for (const ExportPicture& each : material_pictures(run.material, run.recipe)) {
            if (each.map != map) continue;
            const MapFile& file = run.files[file_with(run, each)];
            pugi::xml_node node = add(graph, "tiledimage", name, type);
            pugi::xml_node input = add(node, "input", "file", "filename");
            input.append_attribute("value") = place_beside(file.path, path).c_str();
            // EXR holds linear light already; data are numbers.
            if (!map_info(map).data && !picture_format_info(file.picture.format).linear)
                input.append_attribute("colorspace") = "srgb_texture";
            add_value(node, "uvtiling", "vector2", "1, 1");
        }
    };
    picture("colour", "color3", Map::colour);
    picture("roughness", "float", Map::roughness);
    picture("metalness", "float", Map::metalness);
    picture("normal_picture", "vector3", Map::normal);
    picture("height", "float", Map::height);
    add_link(add(graph, "normalmap", "normal", "vector3"), "in", "vector3", "normal_picture");
    const bool with_brushing = brushed(run.recipe);
    if (with_brushing) {
        picture("brushing_picture", "vector3", Map::brushing);
        add_brushing(graph);
    }
    // The middle grey of the height lies in the surface.
    pugi::xml_node raised = add(graph, "subtract", "raised", "float");
    add_link(raised, "in1", "float", "height");
    add_value(raised, "in2", "float", "0.5");
    std::vector<std::pair<const char*, const char*>> outputs = {
        {"colour", "color3"}, {"roughness", "float"}, {"metalness", "float"}, {"normal", "vector3"}, {"raised", "float"}};
    if (with_brushing) outputs.insert(outputs.end(), {{"brushing", "float"}, {"brushing_across", "float"}});
    for (const auto& [name, type] : outputs) {
        pugi::xml_node output = add(graph, "output", (std::string(name) + "_out").c_str(), type);
        output.append_attribute("nodename") = name;
    }
    const auto from_graph = [](pugi::xml_node node, const char* name, const char* type, const char* output) {
        pugi::xml_node input = add(node, "input", name, type);
        input.append_attribute("nodegraph") = "maps";
        input.append_attribute("output") = output;
    };
    pugi::xml_node surface = add(root, "standard_surface", "surface", "surfaceshader");
    add_value(surface, "base", "float", "1");
    from_graph(surface, "base_color", "color3", "colour_out");
    from_graph(surface, "metalness", "float", "metalness_out");
    from_graph(surface, "specular_roughness", "float", "roughness_out");
    from_graph(surface, "normal", "vector3", "normal_out");
    if (with_brushing) {
        from_graph(surface, "specular_anisotropy", "float", "brushing_out");
        from_graph(surface, "specular_rotation", "float", "brushing_across_out");
    }
    const Finish& finish = run.recipe.finish;
    if (finish.sheen > 0) {
        add_value(surface, "sheen", "float", write_number(finish.sheen / 100));
        from_graph(surface, "sheen_color", "color3", "colour_out");
    }
    if (finish.coat > 0) {
        add_value(surface, "coat", "float", write_number(finish.coat / 100));
        add_value(surface, "coat_roughness", "float", write_number(finish.coat_rough / 100));
    }
    if (finish.spread > 0) {
        add_value(surface, "subsurface", "float", write_number(finish.spread / 100));
        from_graph(surface, "subsurface_color", "color3", "colour_out");
        add_value(surface, "subsurface_scale", "float", write_number(subsurface_px * wide_m(run.recipe) / run.recipe.tile.width));
    }
    pugi::xml_node bumps = add(root, "displacement", "bumps", "displacementshader");
    from_graph(bumps, "displacement", "float", "raised_out");
    add_value(bumps, "scale", "float", write_number(run.recipe.tile.deep * wide_m(run.recipe) / run.recipe.tile.width));
    std::string name;
    for (char c : file_word(run.recipe.name)) name += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
    if (std::isdigit(static_cast<unsigned char>(name.front()))) name.insert(name.begin(), '_');
    pugi::xml_node material = add(root, "surfacematerial", name.c_str(), "material");
    add_link(material, "surfaceshader", "surfaceshader", "surface");
    add_link(material, "displacementshader", "displacementshader", "bumps");
    std::ostringstream text;
    document.save(text, "  ", pugi::format_default, pugi::encoding_utf8);
    return together.add(path, text.str());
}

}  // namespace

std::vector<ExportPicture> material_pictures(Material material, const Recipe& recipe) {
    std::vector<ExportPicture> pictures;
    PictureFormat format = PictureFormat::png;
    switch (material) {
        case Material::none: return {};
        case Material::glb:
        case Material::gltf:
            pictures = {map_picture(Map::colour, format), surface_picture(), map_picture(Map::normal, format)};
            break;
        case Material::materialx:
            format = PictureFormat::png16;
            for (Map map : {Map::colour, Map::roughness, Map::metalness, Map::normal, Map::height})
                pictures.push_back(map_picture(map, format));
            break;
    }
    if (brushed(recipe)) pictures.push_back(map_picture(Map::brushing, format));
    return pictures;
}

bool usable(Material material, PictureFormat format) {
    if (material == Material::materialx) return format != PictureFormat::webp;
    return format == PictureFormat::png || format == PictureFormat::png16 || format == PictureFormat::jpg;
}

std::string geometry_path(const std::string& material_path) {
    return std::filesystem::path(material_path).replace_extension(".bin").string();
}

Result<Done> write_material(const ExportRun& run, const WrittenMaps& maps, FilesTogether& together) {
    if (run.material == Material::materialx) return write_materialx(run, together);
    return write_gltf(run, maps, together);
}

}  // namespace loom
