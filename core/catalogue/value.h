// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The values a parameter can have.
#pragma once

#include <functional>
#include <map>
#include <string>
#include <variant>
#include <vector>

#include "core/colour/colour.h"

namespace loom {

/// One stop of a gradient.
struct Stop {
    double place = 0;  ///< 0..1 along the ramp
    Colour colour;
    double grain = 0;  ///< 0..100 %: noise of its own, fading towards the neighbours' amounts
    bool operator==(const Stop&) const = default;
};
using Stops = std::vector<Stop>;

/// A number with a name of its own: an input of a formula, a dial of a recipe within the recipe.
struct Input {
    std::string name;  ///< letters, digits and _; dials have any name
    double value = 0.5, min = 0, max = 1;
    std::string note;
    bool operator==(const Input&) const = default;
};
using Inputs = std::vector<Input>;

/// number and count: double; toggle: bool; colour; stops; inputs; all other kinds: the word or text.
using Value = std::variant<double, bool, std::string, Colour, Stops, Inputs>;
using Values = std::map<std::string, Value, std::less<>>;

}  // namespace loom
