// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/files/gltf.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <numbers>

namespace loom {

namespace {

using json = nlohmann::ordered_json;

enum Gltf : int {
    array_buffer = 34962,
    element_array_buffer = 34963,
    of_floats = 5126,
    of_whole_numbers = 5125,
    linear = 9729,
    linear_mipmap_linear = 9987,
    repeat = 10497,
};

void add_corner(GltfMesh& mesh, const float (&place)[3], const float (&normal)[3], const float (&tangent)[3], float u, float v) {
    mesh.places.insert(mesh.places.end(), place, place + 3);
    mesh.normals.insert(mesh.normals.end(), normal, normal + 3);
    mesh.tangents.insert(mesh.tangents.end(), tangent, tangent + 3);
    // The texture's up is the cross product of normal and tangent.
    mesh.tangents.push_back(1);
    mesh.texture.insert(mesh.texture.end(), {u, v});
}

GltfMesh bounded(GltfMesh mesh) {
    mesh.least.assign(mesh.places.begin(), mesh.places.begin() + 3), mesh.most = mesh.least;
    for (std::size_t k = 0; k < mesh.places.size(); ++k) {
        mesh.least[k % 3] = std::min(mesh.least[k % 3], mesh.places[k]);
        mesh.most[k % 3] = std::max(mesh.most[k % 3], mesh.places[k]);
    }
    return mesh;
}

/// The document's buffer and what refers to it.
class Buffer {
public:
    template <class T>
    int add(const std::vector<T>& values, int components, const char* type, int target, const GltfMesh* bounds = nullptr) {
        const std::size_t length = values.size() * sizeof(T);
        const int view = add_view(length, target);
        bytes_.append(reinterpret_cast<const char*>(values.data()), length);
        json accessor = {{"bufferView", view},
                         {"componentType", target == array_buffer ? of_floats : of_whole_numbers},
                         {"count", values.size() / static_cast<std::size_t>(components)},
                         {"type", type}};
        if (bounds) accessor["min"] = bounds->least, accessor["max"] = bounds->most;
        accessors.push_back(std::move(accessor));
        return static_cast<int>(accessors.size()) - 1;
    }
    int add_view(std::size_t length, int target = 0) {
        json view = {{"buffer", 0}, {"byteOffset", end_}, {"byteLength", length}};
        if (target) view["target"] = target;
        views.push_back(std::move(view));
        end_ = padded(end_ + length);
        return static_cast<int>(views.size()) - 1;
    }
    json add_mesh(const GltfMesh& mesh) {
        json attributes = {{"POSITION", add(mesh.places, 3, "VEC3", array_buffer, &mesh)}};
        attributes["NORMAL"] = add(mesh.normals, 3, "VEC3", array_buffer);
        attributes["TANGENT"] = add(mesh.tangents, 4, "VEC4", array_buffer);
        attributes["TEXCOORD_0"] = add(mesh.texture, 2, "VEC2", array_buffer);
        const int triangles = add(mesh.triangles, 1, "SCALAR", element_array_buffer);
        json primitive = {{"attributes", attributes}, {"indices", triangles}, {"material", 0}};
        return {{"name", mesh.name}, {"primitives", json::array({primitive})}};
    }
    std::size_t end() const { return end_; }
    std::string taken() { return std::move(bytes_); }

    json views = json::array(), accessors = json::array();

private:
    std::string bytes_;
    std::size_t end_ = 0;
};

}  // namespace

GltfMesh tile_mesh(double width, double height) {
    GltfMesh mesh;
    mesh.name = "Tile";
    const auto x = static_cast<float>(width / 2), y = static_cast<float>(height / 2);
    const float normal[3] = {0, 0, 1}, tangent[3] = {1, 0, 0};
    for (int corner = 0; corner < 4; ++corner) {
        const bool right = corner % 2 == 1, low = corner >= 2;
        add_corner(mesh, {right ? x : -x, low ? -y : y, 0}, normal, tangent, right ? 1.0f : 0.0f, low ? 1.0f : 0.0f);
    }
    mesh.triangles = {0, 2, 1, 1, 2, 3};
    return bounded(std::move(mesh));
}

GltfMesh ball_mesh(double width, double height) {
    constexpr int across = 96, down = 48, times = 4;
    constexpr double pi = std::numbers::pi;
    const double radius = times * width / (2 * pi);
    // As many tiles from pole to pole as keep it in shape.
    const double tiles_down = std::max(1.0, std::round(pi * radius / height));
    GltfMesh mesh;
    mesh.name = "Ball";
    for (int j = 0; j <= down; ++j)
        for (int i = 0; i <= across; ++i) {
            const double turn = 2 * pi * i / across, rise = pi * j / down;
            const auto nx = static_cast<float>(std::sin(rise) * std::sin(turn)), ny = static_cast<float>(std::cos(rise)),
                       nz = static_cast<float>(std::sin(rise) * std::cos(turn));
            const auto r = static_cast<float>(radius);
            add_corner(mesh, {r * nx, r * ny, r * nz}, {nx, ny, nz},
                       {static_cast<float>(std::cos(turn)), 0, static_cast<float>(-std::sin(turn))},
                       static_cast<float>(static_cast<double>(i) * times / across), static_cast<float>(tiles_down * j / down));
        }
    const auto index = [](int i, int j) { return static_cast<std::uint32_t>(j * (across + 1) + i); };
    for (int j = 0; j < down; ++j)
        for (int i = 0; i < across; ++i) {
            // At the poles one of the two has no area.
            if (j > 0) mesh.triangles.insert(mesh.triangles.end(), {index(i, j), index(i, j + 1), index(i + 1, j)});
            if (j < down - 1)
                mesh.triangles.insert(mesh.triangles.end(), {index(i + 1, j), index(i, j + 1), index(i + 1, j + 1)});
        }
    return bounded(std::move(mesh));
}

GltfDocument gltf_document(const GltfMaterial& material, const std::string& geometry_uri) {
    Buffer buffer;
    json meshes = json::array();
    meshes.push_back(buffer.add_mesh(tile_mesh(material.wide_m, material.high_m)));
    meshes.push_back(buffer.add_mesh(ball_mesh(material.wide_m, material.high_m)));
    GltfDocument document;
    document.geometry = buffer.taken();
    json images = json::array(), textures = json::array();
    std::vector<const GltfPicture*> pictures = {&material.colour, &material.surface, &material.normal};
    if (!material.brushing.name.empty()) pictures.push_back(&material.brushing);
    for (const GltfPicture* picture : pictures) {
        json image = {{"name", picture->name}};
        if (picture->uri.empty())
            image["mimeType"] = picture->mime, image["bufferView"] = buffer.add_view(picture->bytes);
        else
            image["uri"] = picture->uri;
        images.push_back(std::move(image));
        textures.push_back({{"sampler", 0}, {"source", static_cast<int>(images.size()) - 1}});
    }
    json& root = document.json;
    root["asset"] = {{"version", "2.0"}, {"generator", "Keen Loom"}};
    root["scene"] = 0;
    root["scenes"] = json::array({{{"nodes", {0, 1}}}});
    // Beside each other, the ball a tenth of its width away.
    const double ball = 4 * material.wide_m / (2 * std::numbers::pi);
    root["nodes"] = json::array({{{"name", "Tile"}, {"mesh", 0}},
                                 {{"name", "Ball"}, {"mesh", 1}, {"translation", {material.wide_m / 2 + 1.2 * ball, 0, 0}}}});
    root["meshes"] = std::move(meshes);
    json look = {{"name", material.name}}, used = json::array();
    look["pbrMetallicRoughness"] = {{"baseColorTexture", {{"index", 0}}}, {"metallicRoughnessTexture", {{"index", 1}}}};
    look["occlusionTexture"] = {{"index", 1}};
    look["normalTexture"] = {{"index", 2}};
    if (!material.brushing.name.empty()) {
        constexpr const char* extension = "KHR_materials_anisotropy";
        // It wants the way in which light is spread, which is across the scratches.
        look["extensions"][extension] = {
            {"anisotropyStrength", 1}, {"anisotropyRotation", std::numbers::pi / 2}, {"anisotropyTexture", {{"index", 3}}}};
        used.push_back(extension);
    }
    if (material.sheen > 0) {
        constexpr const char* extension = "KHR_materials_sheen";
        // Of fibres that stand at random within 30 degrees or so; the roughness is that of our own.
        look["extensions"][extension] = {{"sheenColorFactor", {material.sheen, material.sheen, material.sheen}},
                                         {"sheenRoughnessFactor", std::sqrt(0.5)}};
        used.push_back(extension);
    }
    if (material.coat > 0) {
        constexpr const char* extension = "KHR_materials_clearcoat";
        look["extensions"][extension] = {{"clearcoatFactor", material.coat}, {"clearcoatRoughnessFactor", material.coat_rough}};
        used.push_back(extension);
    }
    if (!used.empty()) root["extensionsUsed"] = std::move(used);
    if (material.transparent) look["alphaMode"] = "BLEND";
    root["materials"] = json::array({std::move(look)});
    root["textures"] = std::move(textures);
    root["images"] = std::move(images);
    root["samplers"] =
        json::array({{{"magFilter", linear}, {"minFilter", linear_mipmap_linear}, {"wrapS", repeat}, {"wrapT", repeat}}});
    root["accessors"] = std::move(buffer.accessors);
    root["bufferViews"] = std::move(buffer.views);
    json whole = {{"byteLength", buffer.end()}};
    if (!geometry_uri.empty()) whole["uri"] = geometry_uri;
    root["buffers"] = json::array({std::move(whole)});
    return document;
}

}  // namespace loom
