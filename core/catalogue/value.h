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

/// number and count: double; toggle: bool; choice and strand: the word; colour; stops.
using Value = std::variant<double, bool, std::string, Colour, Stops>;
using Values = std::map<std::string, Value, std::less<>>;

}  // namespace loom
