// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Numbers, and counts, which are whole ones.
#include <charconv>
#include <cmath>

#include "core/catalogue/kinds/kind.h"

namespace loom {

namespace {

using namespace kinds;

/// Four digits, or all before the point. Never in the manner of the system's language: people type it back in.
std::string short_number(double number) {
    char text[40];
    const bool whole = std::abs(number) >= 100 || number == std::round(number);
    const auto end = whole ? std::to_chars(text, text + sizeof text, number, std::chars_format::fixed, 0)
                           : std::to_chars(text, text + sizeof text, number, std::chars_format::general, 4);
    return std::string(text, end.ptr);
}

class Number : public UndividedKind<double> {
public:
    std::string_view word() const override { return "number"; }
    WrittenForm form() const override { return {"`2.5`", "`2.5`"}; }
    std::string must_be(const Parameter& p) const override { return range_words(p); }
    std::optional<std::string> refuses_content(const Parameter& p, const double& number) const override {
        if (in_range(number, p.min, p.max)) return std::nullopt;
        return range_words(p);
    }
    Json write_content(const double& number) const override { return number_json(number); }
    std::optional<Value> read(const Json& node, const std::string&, json_reading::Reader&) const override {
        if (!node.is_number()) return std::nullopt;
        return Value(node.get<double>());
    }
    std::optional<Value> parse(std::string_view text) const override {
        if (const auto number = parse_number(text)) return Value(*number);
        return std::nullopt;
    }
    std::string text_of(const double& number) const override { return write_number(number); }
    std::string show_content(const Parameter& p, const double& number) const override {
        if (p.unit == Unit::tone) return short_number(std::round(number * 255));
        const std::string text = short_number(number);
        const std::string_view unit = loom::word(p.unit);
        if (unit.empty()) return text;
        return p.unit == Unit::degrees ? text + "°" : text + " " + std::string(unit);
    }
};

class Count : public Number {
public:
    std::string_view word() const override { return "count"; }
    WrittenForm form() const override { return {"`6`", "`6`"}; }
    std::optional<std::string> refuses_content(const Parameter& p, const double& number) const override {
        if (in_range(number, p.min, p.max) && number == std::floor(number)) return std::nullopt;
        return "must be a whole number from " + write_number(p.min) + " to " + write_number(p.max);
    }
};

}  // namespace

const ValueKind& number_kind() {
    static const Number kind;
    return kind;
}
const ValueKind& count_kind() {
    static const Count kind;
    return kind;
}

}  // namespace loom
