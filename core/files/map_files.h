// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Renders maps of a recipe into picture files, band by band: while the next rows are rendered, each file's last ones are encoded
// on a thread of its own, with the others' help.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/base/files.h"
#include "core/files/picture.h"
#include "core/recipe/export_preset.h"
#include "core/render/render.h"

namespace loom {

struct MapFile {
    ExportPicture picture;
    std::string path;  ///< "" for one that is kept in memory
    bool green_down = false;
};

struct WrittenMaps {
    Rendering rendering;                 ///< without pictures
    double render_ms = 0, write_ms = 0;  ///< writing: what it takes besides rendering
    std::vector<std::string> in_memory;  ///< file by file what would have been written; "" where it was
    std::vector<bool> transparent;       ///< file by file whether it has alpha
};

/// How much of a file is encoded, 0..1; from any thread.
using FileProgress = std::function<void(std::size_t file, double share)>;

/// What has to be rendered for it.
std::vector<Wanted> wanted_of(const ExportPicture& picture);

/// The files are whole then, and take their places with those of `together`.
Result<WrittenMaps> write_maps(const Recipe& recipe, Size size, const std::vector<MapFile>& files, FilesTogether& together,
                               const RenderOptions& options, const Job& job, const FileProgress& progress = {});

}  // namespace loom
