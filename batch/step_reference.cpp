// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "batch/step_reference.h"

#include "core/catalogue/description.h"

namespace loom::batch {

namespace {

bool ranged(const Parameter& p) { return p.kind == Kind::number || p.kind == Kind::count; }

nlohmann::ordered_json value_json(const Value& value) {
    using json = nlohmann::ordered_json;
    if (const auto* number = std::get_if<double>(&value)) return *number;
    if (const auto* flag = std::get_if<bool>(&value)) return *flag;
    if (const auto* text = std::get_if<std::string>(&value)) return *text;
    if (const auto* colour = std::get_if<Colour>(&value)) return write_colour(*colour);
    json list = json::array();
    if (const auto* inputs = std::get_if<Inputs>(&value)) {
        for (const Input& input : *inputs)
            list.push_back(
                {{"name", input.name}, {"value", input.value}, {"min", input.min}, {"max", input.max}, {"note", input.note}});
        return list;
    }
    for (const Stop& stop : std::get<Stops>(value))
        list.push_back({{"place", stop.place}, {"colour", write_colour(stop.colour)}, {"grain", stop.grain}});
    return list;
}

}  // namespace

nlohmann::ordered_json steps_json() {
    using json = nlohmann::ordered_json;
    json steps = json::array();
    for (const StepDescription& step : all_steps()) {
        json parameters = json::array();
        for (const Parameter& p : step.parameters) {
            json choices = json::array();
            for (const Choice& choice : p.choices) choices.push_back(choice.id);
            parameters.push_back({{"id", p.id},
                                  {"title", p.title},
                                  {"kind", word(p.kind)},
                                  {"unit", word(p.unit)},
                                  {"min", ranged(p) ? json(p.min) : json()},
                                  {"max", ranged(p) ? json(p.max) : json()},
                                  {"default", value_json(p.fallback)},
                                  {"choices", choices},
                                  {"help", p.help}});
        }
        steps.push_back({{"id", step.id},
                         {"title", step.title},
                         {"family", word(step.family)},
                         {"summary", step.summary},
                         {"tiles", word(step.tiles)},
                         {"parameters", parameters}});
    }
    return {{"steps", steps}};
}

std::string steps_markdown() {
    std::string text = "# Steps\n\nMade from the step descriptions by `keen-loom-batch steps --markdown`; do not edit by hand.\n";
    for (const StepDescription& step : all_steps()) {
        text += "\n## " + std::string(step.title) + " (`" + std::string(step.id) + "`)\n\n";
        text += std::string(step.summary) + " Family: " + std::string(word(step.family)) +
                ". Tiling: " + std::string(word(step.tiles));
        if (!step.tiles_note.empty()) text += " (" + std::string(step.tiles_note) + ")";
        text += step.seeded ? ". Draws lots, so it has a seed.\n" : ".\n";
        if (step.parameters.empty()) continue;
        text += "\n| parameter | values | default | meaning |\n|---|---|---|---|\n";
        for (const Parameter& p : step.parameters) {
            std::string values(word(p.kind));
            if (ranged(p))
                values = write_number(p.min) + " to " + write_number(p.max) +
                         (p.unit == Unit::none ? "" : " " + std::string(word(p.unit)));
            for (std::size_t k = 0; k < p.choices.size(); ++k)
                values = (k ? values + ", " : "") + "`" + std::string(p.choices[k].id) + "`";
            text += "| **" + std::string(p.title) + "** `" + std::string(p.id) + "` | " + values + " | " +
                    show_value(p, p.fallback) + " | " + std::string(p.help) + " |\n";
        }
    }
    return text;
}

std::string steps_text() {
    std::string text;
    for (const StepDescription& step : all_steps()) {
        std::string id(step.id);
        id.resize(std::max<std::size_t>(14, id.size() + 1), ' ');
        text += id + std::string(step.summary) + "\n";
    }
    return text;
}

}  // namespace loom::batch
