// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/description.h"

#include <algorithm>
#include <charconv>
#include <cmath>
#include <set>

namespace loom {

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

bool relevant(const StepDescription& step, const Parameter& parameter, const Values& values) {
    const Parameter* group = parameter.group_id.empty() ? nullptr : step.parameter(parameter.group_id);
    if (!group) return true;
    const Value& value = value_or_default(*group, values);
    const std::string word = group->kind == Kind::toggle ? (std::get<bool>(value) ? "on" : "off") : std::get<std::string>(value);
    return std::find(parameter.group_values.begin(), parameter.group_values.end(), word) != parameter.group_values.end();
}

void set_parameter(const StepDescription& step, Values& values, const Parameter& parameter, const Value& value) {
    if (value == parameter.fallback)
        values.erase(std::string(parameter.id));
    else
        values[std::string(parameter.id)] = value;
    for (const Choice& choice : parameter.choices)
        if (value == Value(std::string(choice.id)))
            for (const auto& [id, suited] : choice.suits) set_parameter(step, values, *step.parameter(id), suited);
}

std::string write_number(double number) {
    char text[40];
    const auto end = std::to_chars(text, text + sizeof text, std::abs(number) < 5e-13 ? 0.0 : number);
    return std::string(text, end.ptr);
}

namespace {

/// Four digits, or all before the point. Never in the manner of the system's language: people type it back in.
std::string short_number(double number) {
    char text[40];
    const bool whole = std::abs(number) >= 100 || number == std::round(number);
    const auto end = whole ? std::to_chars(text, text + sizeof text, number, std::chars_format::fixed, 0)
                           : std::to_chars(text, text + sizeof text, number, std::chars_format::general, 4);
    return std::string(text, end.ptr);
}

std::string range_words(const Parameter& p) {
    return "must be a number from " + write_number(p.min) + " to " + write_number(p.max);
}

std::string choice_words(const Parameter& p) {
    std::string words = "must be one of";
    for (std::size_t k = 0; k < p.choices.size(); ++k) words += (k == 0 ? " " : ", ") + std::string(p.choices[k].id);
    return words;
}

bool in_range(double value, double min, double max) { return value >= min && value <= max; }

constexpr std::size_t longest_formula = 4096, most_inputs = 12;

std::optional<std::string> inputs_refused(const Inputs& inputs) {
    if (inputs.size() > most_inputs) return "may have at most 12 inputs";
    std::set<std::string_view> names;
    for (const Input& input : inputs) {
        if (input.name.empty() || input.name.size() > 64) return "has an input without a name of 1 to 64 characters";
        if (!names.insert(input.name).second) return "has two inputs named '" + input.name + "'";
        if (!(input.min < input.max) || !in_range(input.min, -1e6, 1e6) || !in_range(input.max, -1e6, 1e6))
            return "has the input '" + input.name + "' with no range: min must be below max, both within a million";
        if (!in_range(input.value, input.min, input.max))
            return "has the input '" + input.name + "' outside its range, " + write_number(input.min) + " to " +
                   write_number(input.max);
        if (input.note.size() > 256) return "has the input '" + input.name + "' with a note of more than 256 characters";
    }
    return std::nullopt;
}

}  // namespace

std::optional<std::string> refuses(const Parameter& p, const Value& value) {
    if (value.index() != p.fallback.index()) {
        switch (p.kind) {
            case Kind::number:
            case Kind::count: return range_words(p);
            case Kind::toggle: return "must be true or false";
            case Kind::choice: return choice_words(p);
            case Kind::colour: return "must be a colour such as #c08a50";
            case Kind::stops: return "must be a list of stops with place, colour and grain";
            case Kind::strand: return "must be the id of a strand";
            case Kind::text: return "must be a text";
            case Kind::formula: return "must be a formula";
            case Kind::draft: return "must be rows of # and . between slashes";
            case Kind::inputs: return "must be a list of inputs with name, value, min and max";
            case Kind::picture: return "must be the name of a picture in the recipe, assets/...";
            case Kind::recipe: return "must be the name of a recipe in the recipe, assets/...";
        }
    }
    switch (p.kind) {
        case Kind::number:
            if (!in_range(std::get<double>(value), p.min, p.max)) return range_words(p);
            break;
        case Kind::count: {
            const double number = std::get<double>(value);
            if (!in_range(number, p.min, p.max) || number != std::floor(number))
                return "must be a whole number from " + write_number(p.min) + " to " + write_number(p.max);
            break;
        }
        case Kind::choice:
            for (const Choice& choice : p.choices)
                if (choice.id == std::get<std::string>(value)) return std::nullopt;
            return choice_words(p);
        case Kind::stops: {
            const Stops& stops = std::get<Stops>(value);
            if (stops.empty()) return "needs at least one stop";
            if (stops.size() > 256) return "may have at most 256 stops";
            for (const Stop& stop : stops)
                if (!in_range(stop.place, 0, 1) || !in_range(stop.grain, 0, 100))
                    return "has a stop outside its range (place 0 to 1, grain 0 to 100)";
            break;
        }
        case Kind::inputs: return inputs_refused(std::get<Inputs>(value));
        case Kind::draft:
            if (const auto fault = p.check(std::get<std::string>(value))) return "goes wrong: " + fault->message;
            break;
        case Kind::formula:
            if (std::get<std::string>(value).size() > longest_formula)
                return "may have at most " + std::to_string(longest_formula) + " characters";
            if (const auto fault = p.check ? p.check(std::get<std::string>(value)) : std::nullopt)
                return "goes wrong at character " + std::to_string(fault->at + 1) + ": " + fault->message;
            break;
        case Kind::text:
            if (std::get<std::string>(value).size() > 256) return "may have at most 256 characters";
            break;
        case Kind::picture:
        case Kind::recipe: {
            const auto& name = std::get<std::string>(value);
            if (!name.empty() && !name.starts_with("assets/")) return "must name something in the recipe, assets/...";
            break;
        }
        case Kind::toggle:
        case Kind::colour:
        case Kind::strand: break;
    }
    return std::nullopt;
}

namespace {

std::optional<double> parse_number(std::string_view text) {
    double number = 0;
    if (!text.empty() && text.front() == '+') text.remove_prefix(1);
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), number);
    if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(number)) return std::nullopt;
    return number;
}

std::vector<std::string_view> words_of(std::string_view text, std::string_view separators) {
    std::vector<std::string_view> words;
    while (!text.empty()) {
        const auto begin = text.find_first_not_of(separators);
        if (begin == std::string_view::npos) break;
        const auto end = std::min(text.size(), text.find_first_of(separators, begin));
        words.push_back(text.substr(begin, end - begin));
        text.remove_prefix(end);
    }
    return words;
}

std::optional<Value> parse_stops(std::string_view text) {
    Stops stops;
    for (std::string_view part : words_of(text, ",")) {
        const auto words = words_of(part, " \t");
        if (words.size() < 2 || words.size() > 3) return std::nullopt;
        const auto place = parse_number(words[0]);
        const auto colour = parse_colour(words[1]);
        const auto grain = words.size() == 3 ? parse_number(words[2]) : std::optional<double>(0);
        if (!place || !colour || !grain) return std::nullopt;
        stops.push_back({*place, *colour, *grain});
    }
    return stops;
}

/// "depth 0.5 0 1, turns 3 1 9": name, value and range.
std::optional<Value> parse_inputs(std::string_view text) {
    Inputs inputs;
    for (std::string_view part : words_of(text, ",")) {
        const auto words = words_of(part, " \t");
        if (words.size() != 2 && words.size() != 4) return std::nullopt;
        const auto value = parse_number(words[1]);
        const auto min = words.size() == 4 ? parse_number(words[2]) : std::optional<double>(0);
        const auto max = words.size() == 4 ? parse_number(words[3]) : std::optional<double>(1);
        if (!value || !min || !max) return std::nullopt;
        inputs.push_back({std::string(words[0]), *value, *min, *max, {}});
    }
    return inputs;
}

}  // namespace

std::optional<Value> parse_value(const Parameter& p, std::string_view text) {
    switch (p.kind) {
        case Kind::number:
        case Kind::count:
            if (const auto number = parse_number(text)) return Value(*number);
            return std::nullopt;
        case Kind::toggle:
            if (text == "true" || text == "on") return Value(true);
            if (text == "false" || text == "off") return Value(false);
            return std::nullopt;
        case Kind::choice:
        case Kind::strand:
        case Kind::text:
        case Kind::formula:
        case Kind::draft:
        case Kind::picture:
        case Kind::recipe: return Value(std::string(text));
        case Kind::inputs: return parse_inputs(text);
        case Kind::colour:
            if (const auto colour = parse_colour(text)) return Value(*colour);
            return std::nullopt;
        case Kind::stops: return parse_stops(text);
    }
    return std::nullopt;
}

std::string show_value(const Parameter& p, const Value& value) {
    switch (p.kind) {
        case Kind::number:
        case Kind::count: {
            const double number = std::get<double>(value);
            if (p.unit == Unit::tone) return short_number(std::round(number * 255));
            const std::string text = short_number(number);
            const std::string_view unit = word(p.unit);
            if (unit.empty()) return text;
            return p.unit == Unit::degrees ? text + "°" : text + " " + std::string(unit);
        }
        case Kind::toggle: return std::get<bool>(value) ? "on" : "off";
        case Kind::choice:
            for (const Choice& choice : p.choices)
                if (choice.id == std::get<std::string>(value)) return std::string(choice.title);
            return std::get<std::string>(value);
        case Kind::strand:
        case Kind::text:
        case Kind::formula:
        case Kind::draft: return std::get<std::string>(value).empty() ? "none" : std::get<std::string>(value);
        case Kind::picture:
        case Kind::recipe: return std::get<std::string>(value).empty() ? "none" : "kept inside";
        case Kind::inputs: {
            std::string text;
            for (const Input& input : std::get<Inputs>(value)) {
                if (!text.empty()) text += ", ";
                text += input.name + " " + write_number(input.value);
            }
            return text.empty() ? "none" : text;
        }
        case Kind::colour: return write_colour(std::get<Colour>(value));
        case Kind::stops: {
            const std::size_t count = std::get<Stops>(value).size();
            return std::to_string(count) + (count == 1 ? " stop" : " stops");
        }
    }
    return {};
}

std::string_view word(Family family) {
    constexpr std::string_view words[] = {"make", "soften", "roughen", "bend", "shade", "tune", "finish"};
    return words[static_cast<std::size_t>(family)];
}
std::string_view word(Tiling tiling) {
    constexpr std::string_view words[] = {"keeps", "breaks", "depends"};
    return words[static_cast<std::size_t>(tiling)];
}
std::string_view word(Kind kind) {
    constexpr std::string_view words[] = {"number", "count",   "toggle", "choice", "colour",  "stops", "strand",
                                          "text",   "formula", "draft",  "inputs", "picture", "recipe"};
    return words[static_cast<std::size_t>(kind)];
}
std::string_view word(Unit unit) {
    constexpr std::string_view words[] = {"", "px", "%", "°", "tone", "stops"};
    return words[static_cast<std::size_t>(unit)];
}

}  // namespace loom
