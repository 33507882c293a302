// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a try sheet shows: one thing of a recipe varied along an axis, or two, as rows and columns. The window and the command
// line ask the same questions here.
#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/recipe/places.h"
#include "core/recipe/recipe.h"

namespace loom {

/// One state: what is set, and how it is told apart from its neighbours.
struct Variant {
    std::string label;
    std::map<Address, Value> set;
};

struct Axis {
    std::string title;  ///< "Growth rings · Bands"
    std::vector<Variant> variants;
};

Recipe varied(Recipe recipe, const Variant& variant);
/// The variant that the recipe is in now; -1: none.
int present_variant(const Recipe& recipe, const Axis& axis);

/// "Growth rings · Bands"; of the recipe "Lamp from".
std::string place_title(const Recipe& recipe, const Address& at);

/// Whether value_axis() can vary it: a number or a count.
bool is_number(const Recipe& recipe, const Address& at);
/// Whether choice_axis() can: a choice or a toggle.
bool is_choice(const Recipe& recipe, const Address& at);

/// Ends of what is worth trying of a number: its slider, or half and double the value where the slider is far wider.
struct Span {
    double from = 0, to = 1;
    bool operator==(const Span&) const = default;
};
Span usual_span(const Recipe& recipe, const Address& at);
/// Half as wide around a value, or twice, within what it may be.
Span closer(const Recipe& recipe, const Address& at, Span span, double around);
Span wider(const Recipe& recipe, const Address& at, Span span);

/// `count` values between the ends, spread as the number's slider is and rounded to what can be read; fewer where a count has
/// no more. With `now` the nearest to the present value gives way to it if it lies between the ends.
Axis value_axis(const Recipe& recipe, const Address& at, Span span, int count, bool now);
/// Every choice, such as all blends of a join.
Axis choice_axis(const Recipe& recipe, const Address& at);
/// The present seed and those that follow; of a step, or of the recipe ("seed").
Axis seed_axis(const Recipe& recipe, const Address& at, int count);
/// Every ramp of the library and every other one of the recipe, for a parameter that holds stops.
Axis ramp_axis(const Recipe& recipe, const Address& at);
/// As it is, and without each step of a strand.
Axis presence_axis(const Recipe& recipe, std::string_view strand);
/// As it is, if that is none of them, and every colourway.
Axis colourway_axis(const Recipe& recipe);

}  // namespace loom
