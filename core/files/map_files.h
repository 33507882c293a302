// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Renders maps of a recipe into picture files, band by band: while the next rows are rendered, each file's last ones are encoded
// on a thread of its own.
#pragma once

#include <string>
#include <vector>

#include "core/files/picture.h"
#include "core/render/render.h"

namespace loom {

struct MapFile {
    Map map = Map::colour;
    std::string path;
    PictureFormat format = PictureFormat::png;
};

struct WrittenMaps {
    Rendering rendering;                 ///< without pictures
    double render_ms = 0, write_ms = 0;  ///< writing: what it takes besides rendering
};

/// All files are written or none: after an error or a cancel nothing is left of this call.
Result<WrittenMaps> write_maps(const Recipe& recipe, Size size, const std::vector<MapFile>& files, const RenderOptions& options,
                               const Job& job);

}  // namespace loom
