// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The catalogue as JSON, as pages and as a list; all of it from the descriptions.
#pragma once

#include <nlohmann/json.hpp>
#include <string>

namespace loom::batch {

nlohmann::ordered_json steps_json();
std::string steps_markdown();
std::string steps_text();

}  // namespace loom::batch
