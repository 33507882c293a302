// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "batch/format_reference.h"

#include "core/catalogue/description.h"
#include "core/colour/blend.h"
#include "core/recipe/common_fields.h"

namespace loom::batch {

namespace {

std::string code(std::string_view text) { return "`" + std::string(text) + "`"; }

std::string blends_table() {
    std::string text = "| blend | called |\n|---|---|\n";
    for (const BlendName& name : blend_names()) text += "| " + code(name.id) + " | " + std::string(name.title) + " |\n";
    return text;
}

std::string values_of(const Parameter& p) {
    switch (p.kind) {
        case Kind::number:
        case Kind::count: return write_number(p.min) + " to " + write_number(p.max);
        case Kind::choice: {
            std::string text;
            for (const Choice& choice : p.choices)
                text += (text.empty() ? "" : ", ") + (choice.id.empty() ? "nothing" : code(choice.id));
            return text;
        }
        default: return std::string(word(p.kind));
    }
}

std::string fields_table() {
    std::string text = "| address ends in | values | left out | meaning |\n|---|---|---|---|\n";
    for (const CommonField& field : common_fields()) {
        const Parameter& p = field.parameter;
        text += "| " + code(p.id) + " | " + values_of(p) + " | ";
        const auto* number = std::get_if<double>(&p.fallback);
        text += (number ? write_number(*number) : show_value(p, p.fallback)) + " | " + std::string(p.help) + " |\n";
    }
    return text;
}

/// How a value is written, in files and behind the `=` of --set.
struct Form {
    std::string_view json, set;
};
Form form_of(Kind kind) {
    switch (kind) {
        case Kind::number: return {"`2.5`", "`2.5`"};
        case Kind::count: return {"`6`", "`6`"};
        case Kind::toggle: return {"`true`, `false`", "`true` or `on`, `false` or `off`"};
        case Kind::choice: return {"`\"mirror\"`", "`mirror`"};
        case Kind::colour: return {"`\"#c08a50\"`", "`#c08a50`"};
        case Kind::stops:
            return {"`[{\"place\": 0, \"colour\": \"#000000\", \"grain\": 5}, ...]`; grain may be left out",
                    "`0 #000000 5, 1 #ffffff`: place, colour, grain"};
        case Kind::strand: return {"`\"long-grain\"`, the id of a strand", "`long-grain`"};
        case Kind::text: return {"`\"Smoked\"`", "`Smoked`"};
        case Kind::formula: return {"`\"wave(3 * u)\"`", "`wave(3 * u)`"};
        case Kind::draft: return {"`\"##../.##.\"`, rows of # (warp on top) and .", "the same, or a WIF file's path"};
        case Kind::inputs:
            return {"`[{\"name\": \"depth\", \"value\": 0.5, \"min\": 0, \"max\": 1, \"note\": \"\"}]`",
                    "`depth 0.5 0 1`: name, value, range"};
        case Kind::picture: return {"`\"assets/<sha256>.png\"`, a file kept inside", "a file's path, which is then kept inside"};
        case Kind::recipe: return {"`\"assets/<sha256>.loom\"`, a file kept inside", "a file's path, which is then kept inside"};
    }
    return {};
}

std::string kinds_table() {
    std::string text = "| kind | in the file | behind --set |\n|---|---|---|\n";
    for (int k = 0; k <= static_cast<int>(Kind::recipe); ++k) {
        const auto kind = static_cast<Kind>(k);
        const Form form = form_of(kind);
        text += "| " + std::string(word(kind)) + " | " + std::string(form.json) + " | " + std::string(form.set) + " |\n";
    }
    return text;
}

}  // namespace

std::string format_tables() { return kinds_table() + "\n" + fields_table() + "\n" + blends_table(); }

}  // namespace loom::batch
