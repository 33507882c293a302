// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <charconv>
#include <cmath>

#include "core/catalogue/kinds/kind.h"

namespace loom {

const ValueKind& kind_of(Kind kind) {
    switch (kind) {
        case Kind::number: return number_kind();
        case Kind::count: return count_kind();
        case Kind::toggle: return toggle_kind();
        case Kind::choice: return choice_kind();
        case Kind::colour: return colour_kind();
        case Kind::stops: return stops_kind();
        case Kind::curve: return curve_kind();
        case Kind::strand: return strand_kind();
        case Kind::text: return text_kind();
        case Kind::formula: return formula_kind();
        case Kind::draft: return draft_kind();
        case Kind::inputs: return inputs_kind();
        case Kind::picture: return picture_kind();
        case Kind::recipe: return recipe_kind();
        case Kind::drawing: return drawing_kind();
        case Kind::strokes: return strokes_kind();
        case Kind::moves: return moves_kind();
        case Kind::outline: return outline_kind();
    }
    return text_kind();
}

const ValueKind& kind_of(const Value& value) {
    for (Kind kind : all_kinds)
        if (kind_of(kind).holds(value)) return kind_of(kind);
    return text_kind();
}

void hash_value(Key& key, const Colour& colour) {
    key.add(double(colour.red)).add(double(colour.green)).add(double(colour.blue));
}

void hash_value(Key& key, const Value& value) {
    key.add(static_cast<std::uint64_t>(value.index()));
    std::visit([&](const auto& content) { hash_value(key, content); }, value);
}

namespace kinds {

ValueKind::Json number_json(double value) {
    if (value > -1e15 && value < 1e15 && value == static_cast<double>(static_cast<long long>(value)))
        return static_cast<long long>(value);
    return value;
}

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

std::string range_words(const Parameter& p) {
    return "must be a number from " + write_number(p.min) + " to " + write_number(p.max);
}

std::string at_most(std::size_t most, std::string_view what) {
    std::string words = "may have at most ";
    words += std::to_string(most);
    words += " ";
    words += what;
    return words;
}

Parameter number_part(std::string_view id, std::string_view title, double min, double max, Unit unit, double fallback) {
    Parameter p;
    p.id = id, p.title = title, p.unit = unit, p.fallback = fallback;
    p.min = p.slider_min = min, p.max = p.slider_max = max;
    return p;
}

std::string indexed(std::size_t index, std::string_view id) {
    std::string path = std::to_string(index);
    path += '.';
    return path += id;
}

std::size_t index_of(std::string_view path) {
    std::size_t index = 0;
    std::from_chars(path.data(), path.data() + path.size(), index);
    return index;
}

}  // namespace kinds

}  // namespace loom
