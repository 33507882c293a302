// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/description.h"

#include <algorithm>
#include <charconv>
#include <cmath>

#include "core/catalogue/value_kind.h"

namespace loom {

Choice::Choice(std::string_view own_id, std::string_view own_title, std::vector<std::pair<std::string_view, Value>> suited)
    : id(own_id), title(own_title), suits(std::move(suited)) {}
Choice::Choice(const Choice&) = default;
Choice::Choice(Choice&&) noexcept = default;
Choice& Choice::operator=(const Choice&) = default;
Choice::~Choice() = default;
Parameter::Parameter() = default;
Parameter::Parameter(const Parameter&) = default;
Parameter::Parameter(Parameter&&) noexcept = default;
Parameter& Parameter::operator=(const Parameter&) = default;
Parameter& Parameter::operator=(Parameter&&) noexcept = default;
Parameter::~Parameter() = default;
StepDescription::StepDescription() = default;
StepDescription::StepDescription(const StepDescription&) = default;
StepDescription::StepDescription(StepDescription&&) noexcept = default;
StepDescription& StepDescription::operator=(const StepDescription&) = default;
StepDescription::~StepDescription() = default;

void PixelRow::to_colour() {
    if (channels == 3) return;
    std::copy_n(channel[0], count, channel[1]);
    std::copy_n(channel[0], count, channel[2]);
    channels = 3;
}

const Parameter* StepDescription::parameter(std::string_view parameter_id) const {
    for (const Parameter& p : parameters)
        if (p.id == parameter_id) return &p;
    for (const Parameter& p : parameters)
        if (std::find(p.formerly.begin(), p.formerly.end(), parameter_id) != p.formerly.end()) return &p;
    return nullptr;
}

const Parameter* StepDescription::parameter_of(Kind kind) const {
    for (const Parameter& p : parameters)
        if (p.kind == kind) return &p;
    return nullptr;
}

std::string show_pixels(double across, double down) {
    std::string text = write_number(std::round(across * 10) / 10);
    text += " x ";
    text += write_number(std::round(down * 10) / 10);
    text += " px";
    return text;
}

int repeats(int outer, int inner, double scale) {
    return std::max(1, static_cast<int>(std::lround(outer / std::max(1e-6, inner * scale / 100))));
}

const StepDescription* find_step(std::string_view id) {
    for (const StepDescription& step : all_steps())
        if (step.id == id) return &step;
    return nullptr;
}

const Value& value_or_default(const Parameter& parameter, const Values& values) {
    const auto found = values.find(parameter.id);
    return found == values.end() ? parameter.fallback : found->second;
}

namespace {

bool holds(const Condition& condition, const StepDescription& step, const Values& values) {
    return condition.always() || condition.holds([&](std::string_view id) {
        const Parameter* other = step.parameter(id);
        return other ? kind_of(*other).text(value_or_default(*other, values)) : std::string();
    });
}

}  // namespace

bool relevant(const StepDescription& step, const Parameter& parameter, const Values& values) {
    return holds(parameter.when, step, values);
}

bool needs_input(const StepDescription& step, const Values& values) {
    return step.family != Family::make && (!step.takes_input || holds(*step.takes_input, step, values));
}

bool uses_input(const StepDescription& step, const Values& values) {
    return step.family != Family::make || (step.takes_input && holds(*step.takes_input, step, values));
}

std::string when_text(const StepDescription& step, const Parameter& parameter) {
    return parameter.when.text([&](std::string_view id, std::string_view word) {
        const Parameter* other = step.parameter(id);
        if (!other || (word.empty() && other->kind != Kind::strand)) return std::string(other ? other->title : id);
        const auto value = kind_of(*other).parse(word);
        return value ? show_value(*other, *value) : std::string(word);
    });
}

namespace {

void put_parameter(const StepDescription& step, Values& values, const Parameter& parameter, const Value& value) {
    if (value == parameter.fallback)
        values.erase(std::string(parameter.id));
    else
        values[std::string(parameter.id)] = value;
    for (const Choice& choice : parameter.choices)
        if (value == Value(std::string(choice.id)))
            for (const auto& [id, suited] : choice.suits) put_parameter(step, values, *step.parameter(id), suited);
}

}  // namespace

void set_parameter(const StepDescription& step, Values& values, const Parameter& parameter, const Value& value) {
    put_parameter(step, values, parameter, value);
    if (step.settle) step.settle(values);
}

std::string write_number(double number) {
    char text[40];
    const auto end = std::to_chars(text, text + sizeof text, std::abs(number) < 5e-13 ? 0.0 : number);
    return std::string(text, end.ptr);
}

std::optional<std::string> refuses(const Parameter& p, const Value& value) {
    const ValueKind& kind = kind_of(p);
    return kind.holds(value) ? kind.refuses(p, value) : kind.must_be(p);
}

std::optional<Value> parse_value(const Parameter& p, std::string_view text) { return kind_of(p).parse(text); }

std::string show_value(const Parameter& p, const Value& value) { return kind_of(p).show(p, value); }

std::string_view word(Family family) {
    constexpr std::string_view words[] = {"make", "soften", "roughen", "bend", "shade", "tune", "mask", "finish"};
    return words[static_cast<std::size_t>(family)];
}
std::string_view word(Tiling tiling) {
    constexpr std::string_view words[] = {"keeps", "breaks", "depends"};
    return words[static_cast<std::size_t>(tiling)];
}
std::string_view word(Kind kind) { return kind_of(kind).word(); }
std::string_view word(Unit unit) {
    constexpr std::string_view words[] = {"", "px", "%", "°", "tone", "stops"};
    return words[static_cast<std::size_t>(unit)];
}

}  // namespace loom
