// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Materials that other programs open: glTF 2.0 (Khronos; metals and roughness) in one file or beside its pictures, with a tile
// and a ball of it, and MaterialX 1.38 (standard_surface with displacement). Lengths are metres: the tile's real width, or one
// metre.
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/recipe/export_preset.h"
#include "core/recipe/recipe.h"

namespace loom {

struct ExportRun;
struct WrittenMaps;
class FilesTogether;

/// The pictures that it needs; brushing only where the recipe feeds it.
std::vector<ExportPicture> material_pictures(Material material, const Recipe& recipe);
/// Whether its readers know pictures of that kind.
bool usable(Material material, PictureFormat format);
/// Where the shapes of a glTF lie that is not one file.
std::string geometry_path(const std::string& material_path);

/// Writes the material of a run whose pictures are written.
Result<Done> write_material(const ExportRun& run, const WrittenMaps& maps, FilesTogether& together);

}  // namespace loom
