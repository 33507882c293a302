// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A glTF 2.0 document: its shapes as bytes, and the JSON that names them. Private to core/files.
#pragma once

#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace loom {

/// A mesh as glTF's buffers hold it: places, normals, tangents and texture coordinates of each corner, then corners of triangles.
struct GltfMesh {
    std::string name;
    std::vector<float> places, normals, tangents, texture;  ///< 3, 3, 4 and 2 a corner
    std::vector<std::uint32_t> triangles;
    std::vector<float> least, most;  ///< of the places
};
/// A tile of that size in metres, upright, facing +z; y up, the texture's first row on top.
GltfMesh tile_mesh(double width, double height);
/// A ball round which the tile goes four times.
GltfMesh ball_mesh(double width, double height);

/// Where a picture lies: a place beside the document, or bytes within its buffer.
struct GltfPicture {
    std::string name, uri, mime;
    std::size_t bytes = 0;  ///< in the buffer, after the meshes, if there is no uri
};
struct GltfMaterial {
    std::string name;
    GltfPicture colour, surface, normal;  ///< surface: occlusion, roughness and metalness in red, green and blue
    GltfPicture brushing;                 ///< without a name: none
    bool transparent = false;
    /// Shares of 1, as the recipe's finish has them; 0: none.
    double sheen = 0, coat = 0, coat_rough = 0;
    double wide_m = 1, high_m = 1;
};
struct GltfDocument {
    nlohmann::ordered_json json;
    std::string geometry;  ///< begins the buffer; pictures within follow, each from a multiple of four
};
/// `geometry_uri` is "" if the buffer is the file's own.
GltfDocument gltf_document(const GltfMaterial& material, const std::string& geometry_uri);
constexpr std::size_t padded(std::size_t bytes) { return (bytes + 3) / 4 * 4; }

}  // namespace loom
