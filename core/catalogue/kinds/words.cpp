// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Everything that is written as it is: one of several choices, the name of a strand or of something the recipe keeps, texts,
// formulas and drafts.
#include "core/catalogue/kinds/kind.h"

namespace loom {

namespace {

/// `Held`: std::string, or LongText for what may be large.
template <class Held>
class Words : public UndividedKind<std::string, Held> {
public:
    using Json = ValueKind::Json;
    std::optional<std::string> refuses_content(const Parameter&, const std::string&) const override { return std::nullopt; }
    Json write_content(const std::string& words) const override { return words; }
    std::optional<Value> read(const Json& node, const std::string&, json_reading::Reader&) const override {
        if (!node.is_string()) return std::nullopt;
        return Value(Held(node.template get<std::string>()));
    }
    std::optional<Value> parse(std::string_view text) const override { return Value(Held(std::string(text))); }
    std::string text_of(const std::string& words) const override { return words; }
    std::string show_content(const Parameter&, const std::string& words) const override { return words.empty() ? "none" : words; }
};

class ChoiceKind : public Words<std::string> {
public:
    std::string_view word() const override { return "choice"; }
    WrittenForm form() const override { return {"`\"mirror\"`", "`mirror`"}; }
    std::string must_be(const Parameter& p) const override {
        std::string words = "must be one of";
        for (std::size_t k = 0; k < p.choices.size(); ++k) words += (k == 0 ? " " : ", ") + std::string(p.choices[k].id);
        return words;
    }
    std::optional<std::string> refuses_content(const Parameter& p, const std::string& id) const override {
        for (const Choice& choice : p.choices)
            if (choice.id == id) return std::nullopt;
        return must_be(p);
    }
    std::string show_content(const Parameter& p, const std::string& id) const override {
        for (const Choice& choice : p.choices)
            if (choice.id == id) return std::string(choice.title);
        return id;
    }
};

class StrandKind : public Words<std::string> {
public:
    std::string_view word() const override { return "strand"; }
    WrittenForm form() const override { return {"`\"long-grain\"`, the id of a strand", "`long-grain`"}; }
    std::string must_be(const Parameter&) const override { return "must be the id of a strand"; }
};

class TextKind : public Words<std::string> {
public:
    std::string_view word() const override { return "text"; }
    WrittenForm form() const override { return {"`\"Smoked\"`", "`Smoked`"}; }
    std::string must_be(const Parameter&) const override { return "must be a text"; }
    std::optional<std::string> refuses_content(const Parameter&, const std::string& text) const override {
        if (text.size() > 256) return "may have at most 256 characters";
        return std::nullopt;
    }
};

class FormulaKind : public Words<std::string> {
public:
    std::string_view word() const override { return "formula"; }
    WrittenForm form() const override { return {"`\"wave(3 * u)\"`", "`wave(3 * u)`"}; }
    std::string must_be(const Parameter&) const override { return "must be a formula"; }
    std::optional<std::string> refuses_content(const Parameter& p, const std::string& text) const override {
        constexpr std::size_t longest = 4096;
        if (text.size() > longest) return "may have at most " + std::to_string(longest) + " characters";
        if (const auto fault = p.check ? p.check(text) : std::nullopt)
            return "goes wrong at character " + std::to_string(fault->at + 1) + ": " + fault->message;
        return std::nullopt;
    }
};

class DraftKind : public Words<LongText> {
public:
    std::string_view word() const override { return "draft"; }
    WrittenForm form() const override {
        return {"`\"##../.##.\"`, rows of # (warp on top) and .", "the same, or a WIF file's path"};
    }
    std::string must_be(const Parameter&) const override { return "must be rows of # and . between slashes"; }
    std::optional<std::string> refuses_content(const Parameter& p, const std::string& rows) const override {
        if (const auto fault = p.check ? p.check(rows) : std::nullopt) return "goes wrong: " + fault->message;
        return std::nullopt;
    }
};

/// Something that the recipe keeps inside.
class KeptKind : public Words<std::string> {
public:
    KeptKind(std::string_view word, std::string_view json) : word_(word), json_(json) {}
    std::string_view word() const override { return word_; }
    WrittenForm form() const override { return {json_, "a file's path, which is then kept inside"}; }
    std::string must_be(const Parameter&) const override {
        return "must be the name of a " + std::string(word_) + " in the recipe, assets/...";
    }
    std::optional<std::string> refuses_content(const Parameter&, const std::string& name) const override {
        if (name.empty() || name.starts_with("assets/")) return std::nullopt;
        return "must name something in the recipe, assets/...";
    }
    std::string show_content(const Parameter&, const std::string& name) const override {
        return name.empty() ? "none" : "kept inside";
    }

private:
    std::string_view word_, json_;
};

}  // namespace

const ValueKind& choice_kind() {
    static const ChoiceKind kind;
    return kind;
}
const ValueKind& strand_kind() {
    static const StrandKind kind;
    return kind;
}
const ValueKind& text_kind() {
    static const TextKind kind;
    return kind;
}
const ValueKind& formula_kind() {
    static const FormulaKind kind;
    return kind;
}
const ValueKind& draft_kind() {
    static const DraftKind kind;
    return kind;
}
const ValueKind& picture_kind() {
    static const KeptKind kind("picture", "`\"assets/<sha256>.png\"`, a file kept inside");
    return kind;
}
const ValueKind& recipe_kind() {
    static const KeptKind kind("recipe", "`\"assets/<sha256>.loom\"`, a file kept inside");
    return kind;
}

const ValueKind& drawing_kind() {
    static const KeptKind kind("drawing", "`\"assets/<sha256>.svg\"`, an SVG file kept inside");
    return kind;
}

}  // namespace loom
