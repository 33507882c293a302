// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Which named planes a strand hands on, by its steps alone, without rendering it; and how one of them is looked at.
#pragma once

#include <set>
#include <string>
#include <string_view>

#include "core/recipe/recipe.h"

namespace loom {

/// Their ids (core/image/plane_names.h); what its steps borrow from other strands is among them. Empty for an unknown strand.
std::set<std::string_view> planes_of_strand(const Recipe& recipe, std::string_view strand);

/// A recipe whose cloth is what is taken of the strand, by the word of Borrow's outputs; numbers and slopes are spread from black
/// to white.
Recipe taken_recipe(const Recipe& recipe, std::string_view strand, std::string_view output);

}  // namespace loom
