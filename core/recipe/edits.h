// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Every change of a recipe, as a function from recipe to recipe. An edit that names something that is not there
// gives the recipe back unchanged; values are taken as they are, so callers check them with refuses() first.
#pragma once

#include <string>
#include <string_view>

#include "core/recipe/places.h"
#include "core/recipe/recipe.h"

namespace loom {

/// A place in a chain; `index` counts from 0 and may be one past the end.
struct Slot {
    std::string strand;
    ChainKind chain = ChainKind::steps;
    int index = 0;
    bool operator==(const Slot&) const = default;
};
/// Where a step stands; nothing if it is not there.
std::optional<Slot> slot_of(const Recipe& recipe, std::string_view strand, std::string_view step);

/// An id like `wish` that the recipe (or the strand) does not have yet.
std::string new_strand_id(const Recipe& recipe, std::string_view wish);
std::string new_step_id(const Strand& strand);

Recipe renamed(Recipe recipe, std::string name);
Recipe with_tile(Recipe recipe, Tile tile);
Recipe with_seed(Recipe recipe, std::uint32_t seed);
Recipe with_linear_light(Recipe recipe, bool linear);
Recipe with_lamp(Recipe recipe, Lamp lamp);
Recipe with_asset(Recipe recipe, std::string name, std::shared_ptr<const Asset> asset);

Recipe strand_added(Recipe recipe, Strand strand, int index);
Recipe strand_removed(Recipe recipe, std::string_view strand);
/// The copy stands right of the original.
Recipe strand_duplicated(Recipe recipe, std::string_view strand);
Recipe strand_renamed(Recipe recipe, std::string_view strand, std::string name);
Recipe strand_switched(Recipe recipe, std::string_view strand, bool on);
Recipe strand_folded(Recipe recipe, std::string_view strand, bool folded);
Recipe with_join(Recipe recipe, std::string_view strand, Join join);
Recipe with_route(Recipe recipe, std::string_view strand, Map map, std::optional<Route> route);

/// Puts `step` in; its id is replaced if the strand has it already.
Recipe step_added(Recipe recipe, const Slot& slot, Step step);
Recipe step_removed(Recipe recipe, std::string_view strand, std::string_view step);
/// Also between strands; `to.index` counts in the chain as it is before the move.
Recipe step_moved(Recipe recipe, std::string_view strand, std::string_view step, const Slot& to);
/// The copy stands below the original.
Recipe step_duplicated(Recipe recipe, std::string_view strand, std::string_view step);
/// Another kind in its place: name, amount, where and every parameter of the same id stay, numbers within the new range.
Recipe step_exchanged(Recipe recipe, std::string_view strand, std::string_view step, const StepDescription& to);
Recipe step_renamed(Recipe recipe, std::string_view strand, std::string_view step, std::string name);

/// All parameters of a step back to their defaults.
Recipe step_reset(Recipe recipe, std::string_view strand, std::string_view step);
/// Moves a dial and everything it drives.
Recipe with_dial(Recipe recipe, std::string_view dial, double value);
/// Lays a colourway's values over the recipe.
Recipe with_colourway(Recipe recipe, std::string_view colourway);
/// Keeps the present values of everything that any colourway sets (and of `also`) under a name; replaces one of that name.
Recipe colourway_kept(Recipe recipe, std::string name, const std::vector<Address>& also = {});
/// Keeps a preset of the export; replaces one of its name.
Recipe export_kept(Recipe recipe, ExportPreset preset);
Recipe export_removed(Recipe recipe, std::string_view name);
/// The colourway whose values the recipe has now, or "".
std::string present_colourway(const Recipe& recipe);

/// What a step is called: its own name or the catalogue's title.
std::string step_title(const Step& step);

}  // namespace loom
