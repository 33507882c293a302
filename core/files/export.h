// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A recipe written out: pictures of every map, size and colourway that is wanted, and a material that uses them.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/files/map_files.h"

namespace loom {

/// What one rendering writes: one colourway at one size.
struct ExportRun {
    Recipe recipe;          ///< in its colourway
    std::string colourway;  ///< "" for the recipe as it is
    Size size;
    std::vector<MapFile> files;
    Material material = Material::none;
    std::string material_path;
    /// Everything that will be there after it.
    std::vector<std::string> paths() const;
};

/// All that a preset writes of a recipe into a folder, in its order. Refused with one line: names that cannot be, two files of
/// one name, no picture at all, sizes beyond greatest_picture. `exact` stands for the preset's sizes.
Result<std::vector<ExportRun>> export_runs(const Recipe& recipe, const ExportPreset& preset, const std::string& folder,
                                           std::optional<Size> exact = {});

/// Bytes that rendering takes, as it is announced; with what a material in one file holds until it is written. Plans, and
/// throws what make_plan throws.
std::size_t announced_bytes(const ExportRun& run, const RenderOptions& options, const Job& job);
/// The most that one of them takes; an error says why there is no telling.
Result<std::size_t> announced_bytes(const std::vector<ExportRun>& runs, const RenderOptions& options, const Job& job);

/// What writing takes, tried at a small size of the same recipe: files of noise shrink alike at any size.
struct ExportEstimate {
    double seconds = 0;
    std::vector<double>
        bytes;  ///< file by file of every run, in their order; a material's own file has its pictures' or next to none
};
Result<ExportEstimate> estimated(const std::vector<ExportRun>& runs, const RenderOptions& options, const Job& job);

struct ExportedFile {
    std::string path;
    std::size_t bytes = 0;
};
struct Exported {
    std::vector<ExportedFile> files;  ///< that will be there
    std::vector<std::string> warnings;
    WrittenMaps maps;  ///< what was told of the rendering
};

/// Writes one run, whose files take their places with those of `together`. Folders are made as they are needed.
Result<Exported> write_export(const ExportRun& run, FilesTogether& together, const RenderOptions& options, const Job& job,
                              const FileProgress& progress = {});

/// The document alone of a material that lies beside its pictures, which somebody else writes.
Result<Exported> write_document(const ExportRun& run, FilesTogether& together, const RenderOptions& options, const Job& job);

}  // namespace loom
