// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Edits of several steps together. Steps that are not there are passed over; the order is always the recipe's own: strands from
// left to right, in each its chains from top to bottom.
#pragma once

#include <string>
#include <vector>

#include "core/recipe/edits.h"

namespace loom {

/// A step of a strand; without a step the strand, without both the recipe.
struct StepPlace {
    std::string strand, step;
    bool operator==(const StepPlace&) const = default;
    auto operator<=>(const StepPlace&) const = default;
};
using StepPlaces = std::vector<StepPlace>;

/// Those that are there, in the recipe's order, each once.
StepPlaces in_order(const Recipe& recipe, const StepPlaces& steps);
/// From one step to another: within a chain all between them, else whole strands' chains between, both ends included.
StepPlaces between(const Recipe& recipe, const StepPlace& from, const StepPlace& to);

Recipe steps_removed(Recipe recipe, const StepPlaces& steps);
Recipe steps_switched(Recipe recipe, const StepPlaces& steps, bool on);
/// Each run of neighbours is copied below itself. `copies` receives where the copies are, as after all the others.
Recipe steps_duplicated(Recipe recipe, const StepPlaces& steps, StepPlaces& copies);
/// All one after another into a slot, counted as before the move; `moved` receives where they are then.
Recipe steps_moved(Recipe recipe, const StepPlaces& steps, const Slot& to, StepPlaces& moved);
/// Each one place up (-1) or down (1) in its chain. Those that stand at the end hold up those behind them.
Recipe steps_shifted(Recipe recipe, const StepPlaces& steps, int way);
/// Each into the neighbouring strand, -1 left or 1 right, at the height it has. Unchanged if there is none for one of them.
Recipe steps_shifted_across(Recipe recipe, const StepPlaces& steps, int side, StepPlaces& moved);

}  // namespace loom
