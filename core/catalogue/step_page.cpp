// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/step_page.h"

namespace loom {

namespace {

bool ranged(const Parameter& p) { return p.kind == Kind::number || p.kind == Kind::count; }

/// Formulas have characters that mean something in a table.
std::string in_code(const Parameter& p, const std::string& text) {
    if (p.kind != Kind::formula && p.kind != Kind::draft) return text;
    std::string code("`");
    code += text;
    code += '`';
    return code;
}

}  // namespace

std::string step_page(const StepDescription& step) {
    std::string text;
    text += "## " + std::string(step.title) + " (`" + std::string(step.id) + "`)\n\n";
    text +=
        std::string(step.summary) + " Family: " + std::string(word(step.family)) + ". Tiling: " + std::string(word(step.tiles));
    if (!step.tiles_note.empty()) text += " (" + std::string(step.tiles_note) + ")";
    text += step.seeded ? ". Draws lots, so it has a seed.\n" : ".\n";
    if (step.parameters.empty()) return text;
    text += "\n| parameter | values | default | meaning |\n|---|---|---|---|\n";
    std::string_view section;
    for (const Parameter& p : step.parameters) {
        if (p.section != section) text += "| *" + std::string(p.section) + "* | | | |\n";
        section = p.section;
        std::string values;
        if (ranged(p)) {
            values = write_number(p.min);
            values += " to ";
            values += write_number(p.max);
            // People see tones as 0 to 255.
            if (p.unit == Unit::tone)
                values = show_value(p, Value(p.min)) + " to " + show_value(p, Value(p.max)) + "; in files " + values;
            else if (p.unit != Unit::none)
                values += ' ', values += word(p.unit);
        }
        for (const Choice& choice : p.choices) {
            if (!values.empty()) values += ", ";
            values += '`', values += choice.id, values += '`';
        }
        if (values.empty()) values = word(p.kind);
        for (const std::string_view part : {std::string_view("| **"), p.title, std::string_view("** `"), p.id,
                                            std::string_view("` | "), std::string_view(values), std::string_view(" | ")})
            text += part;
        text += in_code(p, show_value(p, p.fallback));
        text += " | ";
        text += p.help;
        if (!p.when.always()) text += " Only where " + when_text(step, p) + ".";
        text += " |\n";
    }
    return text;
}

}  // namespace loom
