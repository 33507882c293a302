// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The tables of docs/recipe-format.md, made from what the program itself reads by.
#pragma once

#include <string>

namespace loom::batch {

/// Blends, what every step has, and how values of each kind are written; one Markdown table each, empty lines between.
std::string format_tables();

}  // namespace loom::batch
