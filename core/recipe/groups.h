// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Groups of strands: a run of neighbours that carry the same group's name. A run that is parted becomes two groups.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/recipe/recipe.h"

namespace loom {

/// Strands first..last, counted from 0; a strand in no group is a run of its own.
struct Run {
    int first = 0, last = 0;
    bool operator==(const Run&) const = default;
    int count() const { return last - first + 1; }
};

/// All runs from left to right.
std::vector<Run> runs(const Recipe& recipe);
/// The run that a strand stands in; nothing if there is no such strand.
std::optional<Run> run_of(const Recipe& recipe, std::string_view strand);

/// `wish`, or that with a number, which no group has yet.
std::string new_group_name(const Recipe& recipe, const std::string& wish);
/// Strand and its right neighbour under one name; the neighbour's whole group comes along. Unchanged for the last strand.
Recipe grouped_with_next(Recipe recipe, std::string_view strand, std::string name);
Recipe group_renamed(Recipe recipe, std::string_view strand, std::string name);
/// Its strands stand by themselves again.
Recipe group_dissolved(Recipe recipe, std::string_view strand);
/// One place left (-1) or right (1). A folded group moves, and is passed, as one. A strand that comes to stand between two of a
/// group joins it, one that stands beside none of its own has left it.
Recipe strand_shifted(Recipe recipe, std::string_view strand, int side);
Recipe group_folded(Recipe recipe, std::string_view strand, bool folded);

}  // namespace loom
