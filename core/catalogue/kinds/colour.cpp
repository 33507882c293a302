// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/kinds/kind.h"

namespace loom {

namespace {

class ColourKind : public UndividedKind<Colour> {
public:
    std::string_view word() const override { return "colour"; }
    WrittenForm form() const override { return {"`\"#c08a50\"`", "`#c08a50`"}; }
    std::string must_be(const Parameter&) const override { return "must be a colour such as #c08a50"; }
    std::optional<std::string> refuses_content(const Parameter&, const Colour&) const override { return std::nullopt; }
    Json write_content(const Colour& colour) const override { return write_colour(colour); }
    std::optional<Value> read(const Json& node, const std::string&, json_reading::Reader&) const override {
        return node.is_string() ? parse(node.get<std::string>()) : std::nullopt;
    }
    std::optional<Value> parse(std::string_view text) const override {
        if (const auto colour = parse_colour(text)) return Value(*colour);
        return std::nullopt;
    }
    std::string text_of(const Colour& colour) const override { return write_colour(colour); }
    std::string show_content(const Parameter&, const Colour& colour) const override { return write_colour(colour); }
};

}  // namespace

const ValueKind& colour_kind() {
    static const ColourKind kind;
    return kind;
}

}  // namespace loom
