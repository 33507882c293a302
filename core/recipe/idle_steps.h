// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Steps and joins that are switched on and change nothing, or not what they are there for.
#pragma once

#include <string>
#include <vector>

#include "core/recipe/recipe.h"

namespace loom {

struct IdleStep {
    std::string strand, step;  ///< `step` "" for the strand's join
    std::string pointer;       ///< of its JSON
    std::string message;       ///< a sentence: what has no effect, and why
};

/// In the order of the recipe. What a step says of its own settings (StepDescription::notice) is among it.
std::vector<IdleStep> idle_steps(const Recipe& recipe);

/// The message for one step; "" if it works.
std::string why_idle(const Strand& strand, std::string_view step);

}  // namespace loom
