// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/kinds/kind.h"

namespace loom {

namespace {

class Toggle : public UndividedKind<bool> {
public:
    std::string_view word() const override { return "toggle"; }
    WrittenForm form() const override { return {"`true`, `false`", "`true` or `on`, `false` or `off`"}; }
    std::string must_be(const Parameter&) const override { return "must be true or false"; }
    std::optional<std::string> refuses_content(const Parameter&, const bool&) const override { return std::nullopt; }
    Json write_content(const bool& on) const override { return on; }
    std::optional<Value> read(const Json& node, const std::string&, json_reading::Reader&) const override {
        if (!node.is_boolean()) return std::nullopt;
        return Value(node.get<bool>());
    }
    std::optional<Value> parse(std::string_view text) const override {
        if (text == "true" || text == "on") return Value(true);
        if (text == "false" || text == "off") return Value(false);
        return std::nullopt;
    }
    std::string text_of(const bool& on) const override { return on ? "on" : "off"; }
    std::string show_content(const Parameter&, const bool& on) const override { return text_of(on); }
};

}  // namespace

const ValueKind& toggle_kind() {
    static const Toggle kind;
    return kind;
}

}  // namespace loom
