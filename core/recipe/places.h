// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What stands at an address of a recipe: the one way by which --set, dials, colourways, tries and the desk reach it.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/catalogue/description.h"
#include "core/recipe/recipe.h"

namespace loom {

struct Place {
    Parameter parameter;  ///< describes the value: a parameter, a field, or a part of a value
    Value value;          ///< that it has now
};

/// Nothing if the recipe has no such place, or one of a step that this version does not know.
std::optional<Place> place_at(const Recipe& recipe, const Address& at);
/// Why there is none, as a sentence.
std::string no_place(const Recipe& recipe, const Address& at);
/// Every place there is, in the recipe's order.
std::vector<Address> places(const Recipe& recipe);

std::optional<Value> value_at(const Recipe& recipe, const Address& at);
/// Why `at` cannot take `value`, as a sentence or as words that follow the parameter's name; nothing if it can.
std::optional<std::string> refuses(const Recipe& recipe, const Address& at, const Value& value);
/// Sets what stands at `at`; values that are the default are not kept. Unchanged if there is no such place. The value is taken
/// as it is, so callers check it with refuses() first.
Recipe with_value(Recipe recipe, const Address& at, const Value& value);

}  // namespace loom
