// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The .loom file: a zip of mimetype, recipe.json, assets/ and preview.png, or a folder with the same contents.
#pragma once

#include <string>

#include "core/base/result.h"
#include "core/recipe/assets.h"
#include "core/recipe/json.h"
#include "core/recipe/recipe.h"

namespace loom {

struct LoomFile {
    Recipe recipe;                  ///< with its assets
    std::vector<Finding> findings;  ///< faults and warnings of the recipe and of recipes within it
    std::string preview_png;        ///< "" if there is none or it could not be read
};

/// What reading may still take. Recipes within a recipe share one budget with it, so that no file grows beyond what one may.
struct ReadingBudget {
    int depth = deepest_recipe;                ///< recipes within recipes that are still read
    int entries = 4096;                        ///< files inside, counted over all depths
    std::size_t bytes = std::size_t{2} << 30;  ///< unpacked, over all depths
};

constexpr std::string_view loom_mimetype = "application/x-keen-loom";

/// Reads a .loom file, a folder or a bare recipe.json. A recipe with faults is still read; the caller decides.
Result<LoomFile> inspect_loom(const std::string& path);

/// The same from the bytes of a .loom file or a recipe.json; `name` stands in messages.
Result<LoomFile> inspect_loom_bytes(const std::string& bytes, const std::string& name, ReadingBudget& budget);

/// inspect_loom, but the first fault of the recipe is an error that names file and place.
Result<LoomFile> read_loom(const std::string& path);

/// The picture kept in the .loom file or folder at `path`, as PNG, and nothing else of it; "" if there is none or the file cannot
/// be read.
std::string preview_in(const std::string& path);

/// The bytes of a .loom file.
Result<std::string> loom_bytes(const LoomFile& file);

/// Writes atomically; a path without ".loom" that is a folder is written as a folder. There recipe.json, written last of what it
/// needs, is what counts; kept files that it no longer names are removed after that.
Result<Done> write_loom(const std::string& path, const LoomFile& file);

}  // namespace loom
