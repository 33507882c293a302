// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The list "export" of a recipe's JSON. Private to core/recipe.
#pragma once

#include "core/catalogue/json_reader.h"
#include "core/recipe/export_preset.h"

namespace loom {

/// What is wrong is a fault; an entry with words that this version does not know is kept as it is, with a warning, and passed
/// over.
std::vector<ExportPreset> read_exports(json_reading::Reader& reader, const json_reading::json& root);
json_reading::json write_exports(const std::vector<ExportPreset>& presets);

}  // namespace loom
