// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/variations.h"

#include <algorithm>
#include <cmath>

#include "core/recipe/edits.h"
#include "core/recipe/ramps.h"

namespace loom {

namespace {

/// Where a slider stands for a value, and back; roots give small values more room.
double slid(const Parameter& p, double value) {
    return p.scale == Scale::root && p.min >= 0 ? std::sqrt(std::max(0.0, value)) : value;
}
double back(const Parameter& p, double place) { return p.scale == Scale::root && p.min >= 0 ? place * place : place; }

/// To three digits, or to a hundredth of a span so narrow that three would not tell its values apart.
double readable(double value, double width) {
    const double digits = std::min(std::abs(value) > 0 ? std::abs(value) / 100 : 1.0, width > 0 ? width / 20 : 1.0);
    const double step = std::pow(10, std::floor(std::log10(std::max(digits, 1e-6))));
    return std::round(value / step) * step;
}

/// As the desk shows it; within a sheet the unit stands at every value.
Variant variant(const Parameter& p, const Address& at, const Value& value) { return {show_value(p, value), {{at, value}}}; }

bool has_ends(const Parameter& p) { return p.kind == Kind::number || p.kind == Kind::count; }

}  // namespace

Recipe varied(Recipe recipe, const Variant& variant) {
    for (const auto& [at, value] : variant.set)
        if (!refuses(recipe, at, value)) recipe = with_value(std::move(recipe), at, value);
    return recipe;
}

int present_variant(const Recipe& recipe, const Axis& axis) {
    for (std::size_t k = 0; k < axis.variants.size(); ++k) {
        const auto& set = axis.variants[k].set;
        if (std::all_of(set.begin(), set.end(), [&](const auto& each) { return value_at(recipe, each.first) == each.second; }))
            return static_cast<int>(k);
    }
    return -1;
}

std::string place_title(const Recipe& recipe, const Address& at) {
    const auto place = place_at(recipe, at);
    std::string title = place ? std::string(place->parameter.title) : at.parameter;
    const Strand* strand = recipe.strand(at.strand);
    if (!strand) return title;
    const Step* step = strand->step(at.step);
    return (step ? step_title(*step) : strand->name) + " · " + title;
}

bool is_number(const Recipe& recipe, const Address& at) {
    const auto place = place_at(recipe, at);
    return place && has_ends(place->parameter);
}

bool is_choice(const Recipe& recipe, const Address& at) {
    const auto place = place_at(recipe, at);
    return place && (place->parameter.kind == Kind::choice || place->parameter.kind == Kind::toggle);
}

Span usual_span(const Recipe& recipe, const Address& at) {
    const auto place = place_at(recipe, at);
    if (!place || !has_ends(place->parameter)) return {};
    const Parameter& p = place->parameter;
    const double value = as<double>(place->value), width = p.slider_max - p.slider_min;
    // Of the tile and its lamp, what is near: a tile of twenty pixels shows nothing, and a lamp at the horizon is none.
    if (at.strand.empty() && p.unit == Unit::px)
        return {readable(std::max(p.min, value / 2), 0), readable(std::min(p.max, value * 2), 0)};
    if (at.strand.empty() && p.min > 0 && p.unit == Unit::degrees) return {std::min(15.0, value), std::max(75.0, value)};
    // A slider that reaches from 1 to 4096 shows little around 30.
    if (p.scale == Scale::root && value > 0 && value < p.slider_min + width / 8)
        return {readable(std::max(p.min, value / 3), 0), readable(std::min(p.max, value * 3), 0)};
    return {std::min(p.slider_min, value), std::max(p.slider_max, value)};
}

Span closer(const Recipe& recipe, const Address& at, Span span, double around) {
    const auto place = place_at(recipe, at);
    if (!place) return span;
    const double half = (span.to - span.from) / 4, low = std::max(place->parameter.min, around - half);
    const double high = std::min(place->parameter.max, around + half);
    return {readable(low, high - low), readable(high, high - low)};
}

Span wider(const Recipe& recipe, const Address& at, Span span) {
    const auto place = place_at(recipe, at);
    if (!place) return span;
    const double half = (span.to - span.from) / 2;
    const double low = std::max(place->parameter.min, span.from - half), high = std::min(place->parameter.max, span.to + half);
    return {readable(low, high - low), readable(high, high - low)};
}

Axis value_axis(const Recipe& recipe, const Address& at, Span span, int count, bool now) {
    Axis axis{place_title(recipe, at), {}};
    const auto place = place_at(recipe, at);
    if (!place || !has_ends(place->parameter)) return axis;
    const Parameter& p = place->parameter;
    if (span.to < span.from) std::swap(span.from, span.to);
    const double first = slid(p, span.from), last = slid(p, span.to);
    std::vector<double> values;
    for (int k = 0; k < count; ++k) {
        const double t = count > 1 ? static_cast<double>(k) / (count - 1) : 0.5;
        double value = count > 1 && k == 0           ? span.from
                       : count > 1 && k == count - 1 ? span.to
                                                     : readable(back(p, first + t * (last - first)), span.to - span.from);
        if (p.kind == Kind::count) value = std::round(value);
        value = std::clamp(value, p.min, p.max);
        if (values.empty() || value > values.back()) values.push_back(value);
    }
    const double present = as<double>(place->value);
    if (now && !values.empty() && present >= values.front() && present <= values.back()) {
        auto nearest = values.begin();
        for (auto it = values.begin(); it != values.end(); ++it)
            if (std::abs(slid(p, *it) - slid(p, present)) < std::abs(slid(p, *nearest) - slid(p, present))) nearest = it;
        *nearest = present;
    }
    for (double value : values) axis.variants.push_back(variant(p, at, Value(value)));
    return axis;
}

Axis choice_axis(const Recipe& recipe, const Address& at) {
    Axis axis{place_title(recipe, at), {}};
    const auto place = place_at(recipe, at);
    if (!place) return axis;
    const Parameter& p = place->parameter;
    for (const Choice& choice : p.choices) axis.variants.push_back(variant(p, at, Value(std::string(choice.id))));
    if (p.kind == Kind::toggle)
        for (bool on : {false, true}) axis.variants.push_back(variant(p, at, Value(on)));
    return axis;
}

Axis seed_axis(const Recipe& recipe, const Address& at, int count) {
    Axis axis{place_title(recipe, at), {}};
    const auto place = place_at(recipe, at);
    if (!place || place->parameter.kind != Kind::count) return axis;
    const double most = place->parameter.max, first = std::min(as<double>(place->value), most - count + 1);
    for (int k = 0; k < count; ++k) axis.variants.push_back(variant(place->parameter, at, Value(first + k)));
    return axis;
}

Axis ramp_axis(const Recipe& recipe, const Address& at) {
    Axis axis{place_title(recipe, at), {}};
    const auto place = place_at(recipe, at);
    if (!place || place->parameter.kind != Kind::stops) return axis;
    std::vector<Value> known;
    const auto add = [&](std::string label, const Value& stops) {
        if (std::find(known.begin(), known.end(), stops) != known.end()) return;
        known.push_back(stops);
        axis.variants.push_back({std::move(label), {{at, stops}}});
    };
    add("As it is", place->value);
    // Ramps keep the grain that the stops have now, or a library would wash it away.
    const Stops present = as<Stops>(place->value);
    for (const Address& other : places(recipe)) {
        const auto there = place_at(recipe, other);
        if (there && there->parameter.kind == Kind::stops) add("As in " + place_title(recipe, other), there->value);
    }
    for (const Colourway& colourway : recipe.colourways)
        for (const auto& [other, value] : colourway.set)
            if (as_if<Stops>(value)) add(colourway.name, value);
    for (const NamedRamp& ramp : ramp_library()) add(std::string(ramp.name), Value(with_grain_of(ramp.stops, present)));
    return axis;
}

Axis presence_axis(const Recipe& recipe, std::string_view strand_id) {
    Axis axis;
    const Strand* strand = recipe.strand(strand_id);
    if (!strand) return axis;
    axis.title = strand->name + " · with and without a step";
    std::vector<std::pair<Address, bool>> present;
    for (ChainKind kind : all_chains)
        for (const Step& step : strand->chain(kind)) present.emplace_back(Address{strand->id, step.id, "on"}, step.on);
    // Every picture says of all steps whether they are on, so that it is known which of them is the present one.
    const auto state = [&](std::size_t switched) {
        std::map<Address, Value> set;
        for (std::size_t k = 0; k < present.size(); ++k)
            set[present[k].first] = Value(k == switched ? !present[k].second : present[k].second);
        return set;
    };
    axis.variants.push_back({"As it is", state(present.size())});
    for (std::size_t k = 0; k < present.size(); ++k) {
        const std::string title = step_title(*strand->step(present[k].first.step));
        axis.variants.push_back({(present[k].second ? "Without " : "With ") + title, state(k)});
    }
    return axis;
}

Axis colourway_axis(const Recipe& recipe) {
    Axis axis{"Colourways", {}};
    if (recipe.colourways.empty()) return axis;
    if (present_colourway(recipe).empty()) axis.variants.push_back({"As it is", {}});
    for (const Colourway& colourway : recipe.colourways) axis.variants.push_back({colourway.name, colourway.set});
    return axis;
}

}  // namespace loom
