// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The catalogue as JSON, as pages and as a list; all of it from the descriptions.
#pragma once

#include <nlohmann/json.hpp>
#include <optional>
#include <string>

#include "batch/command.h"
#include "core/catalogue/description.h"

namespace loom::batch {

nlohmann::ordered_json steps_json();
/// All steps, or those of one family.
std::string steps_markdown(std::optional<Family> family = std::nullopt);
/// Writes a page and a sheet of pictures for each family, and an index, into a folder.
Outcome write_step_pages(const std::string& folder, const Job& job);
std::string steps_text();

}  // namespace loom::batch
