// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Which dials and colourways change what stands at an address, and making them do so.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/recipe/places.h"
#include "core/recipe/recipe.h"

namespace loom {

/// Whether a dial can drive it: numbers and counts.
bool can_be_driven(const Recipe& recipe, const Address& at);
/// Names of the dials that drive it.
std::vector<std::string> dials_of(const Recipe& recipe, const Address& at);
/// A new dial for it, over its slider's range and standing where the value is now. Its name is `wish`, or that with a number.
Recipe dial_made(Recipe recipe, const Address& at, const std::string& wish);
/// A dial that is there drives it too: from its present value at the dial's present place, as far as its slider goes.
Recipe driven_by(Recipe recipe, const Address& at, std::string_view dial);
/// No dial drives it any more; one that drives nothing else goes.
Recipe undriven(Recipe recipe, const Address& at);

/// Where the value stands at dial 0, or at 100 (`to`); it moves there if the dial is there. Values beyond its range are cut to
/// it.
Recipe drive_ended(Recipe recipe, std::string_view dial, const Address& at, bool to, double value);
/// One dial alone lets go of it; a dial that drives nothing goes.
Recipe freed_from(Recipe recipe, std::string_view dial, const Address& at);
/// Another name, with a number if there is one already.
Recipe dial_renamed(Recipe recipe, std::string_view dial, const std::string& name);
/// What it drove stays where it is.
Recipe dial_removed(Recipe recipe, std::string_view dial);

/// Makes a colourway set it to its present value, or leave it alone.
Recipe set_by_colourway(Recipe recipe, std::string_view colourway, const Address& at, bool on);

}  // namespace loom
