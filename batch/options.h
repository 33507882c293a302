// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Option texts that several commands read alike.
#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include "core/base/result.h"
#include "core/catalogue/description.h"
#include "core/files/picture.h"
#include "core/measure/measure.h"
#include "core/recipe/recipe.h"

namespace loom::batch {

Error call_error(std::string message);

/// "name=value"; `what` is the option's name for the message.
Result<std::pair<std::string, std::string>> split_assignment(std::string_view text, std::string_view what);

/// "512" (longer side) or "512x256"; "" is the tile's own size.
Result<Size> parse_size(std::string_view text, const Tile& tile);

/// What a step keeps of a WIF file; nothing for other texts.
std::optional<Result<Value>> draft_of_file(const Parameter& parameter, const std::string& text);

/// "2G", "512M", "1000000".
Result<std::size_t> parse_bytes(std::string_view text);

/// The format of a path to write, from its extension.
Result<PictureFormat> format_for(const std::string& path);

/// Prints one JSON document and a newline on standard output.
void print_json(const nlohmann::ordered_json& document);

nlohmann::ordered_json measures_json(const Measures& measures);

}  // namespace loom::batch
