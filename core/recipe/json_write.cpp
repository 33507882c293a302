// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <nlohmann/json.hpp>

#include "core/catalogue/value_kind.h"
#include "core/recipe/fields.h"
#include "core/recipe/json.h"
#include "core/recipe/json_exports.h"

namespace loom {

namespace {

using json = nlohmann::ordered_json;

json number(double value) { return number_kind().write(Value(value)); }

json write(const Value& value) { return kind_of(value).write(value); }

/// Adds the members of `extra`; objects that both have are joined.
void add_members(json& node, const json& extra) {
    for (const auto& [key, value] : extra.items()) {
        if (node.contains(key) && node[key].is_object() && value.is_object())
            add_members(node[key], value);
        else
            node[key] = value;
    }
}

void add_unknown(json& node, const std::string& unknown) {
    if (!unknown.empty()) add_members(node, json::parse(unknown));
}

void add_gate(json& node, const ToneGate& gate) {
    if (gate.of == ToneGate::Of::nothing) return;
    node["gate"] = {
        {"of", gate_word(gate.of)}, {"from", number(gate.from)}, {"to", number(gate.to)}, {"softness", number(gate.softness)}};
}

json write(const Step& step) {
    json node = {{"id", step.id}, {"step", step.kind}};
    if (!step.name.empty()) node["name"] = step.name;
    if (!step.note.empty()) node["note"] = step.note;
    if (!step.set.empty()) {
        json set = json::object();
        for (const auto& [id, value] : step.set) set[id] = write(value);
        node["set"] = std::move(set);
    }
    if (step.seed != 0) node["seed"] = step.seed;
    if (step.amount != 100) node["amount"] = number(step.amount);
    if (!step.where.empty()) node["where"] = step.where;
    add_gate(node, step.gate);
    if (!step.on) node["on"] = false;
    add_unknown(node, step.unknown);
    return node;
}

json write(const Chain& chain) {
    json list = json::array();
    for (const Step& step : chain) list.push_back(write(step));
    return list;
}

json write(const Strand& strand) {
    json node = {{"id", strand.id}, {"name", strand.name}, {"on", strand.on}};
    if (strand.folded) node["folded"] = true;
    if (!strand.group.name.empty()) {
        node["group"] = {{"name", strand.group.name}};
        if (strand.group.folded) node["group"]["folded"] = true;
    }
    for (ChainKind kind : all_chains) node[std::string(chain_id(kind))] = write(strand.chain(kind));
    for (ChainKind kind : all_chains)
        if (!strand.from_of(kind).empty()) node["from"][std::string(chain_id(kind))] = strand.from_of(kind);
    if (strand.masking != Masking{})
        node["masking"] = {{"on", strand.masking.on},
                           {"inverted", strand.masking.inverted},
                           {"amount", number(strand.masking.amount)},
                           {"as-picture", strand.masking.as_picture}};
    node["join"] = {
        {"blend", blend_id(strand.join.blend)}, {"amount", number(strand.join.amount)}, {"within", strand.join.within}};
    if (strand.join.width != Join{}.width) node["join"]["smooth"] = number(strand.join.width);
    if (strand.join.lift) node["join"]["lift"] = true;
    if (strand.join.lift_amount != Join{}.lift_amount) node["join"]["lift-amount"] = number(strand.join.lift_amount);
    if (strand.join.dots != StippleDots{}) {
        const auto value = [&](std::string_view id) { return write(find_field(strand_fields(), id)->get(strand)); };
        node["join"]["dots"] = {
            {"pattern", value("dots.pattern")}, {"size", value("dots.size")}, {"density", value("dots.density")}};
    }
    add_gate(node["join"], strand.join.gate);
    json routes = json::object();
    for (const auto& [map, route] : strand.routes) {
        json& written = routes[std::string(map_id(map))] = {{"blend", blend_id(route.blend)}, {"amount", number(route.amount)}};
        if (route.width != Route{}.width) written["smooth"] = number(route.width);
        if (!route.plane.empty()) written["plane"] = route.plane;
    }
    node["routes"] = std::move(routes);
    add_unknown(node, strand.unknown);
    return node;
}

}  // namespace

std::string write_recipe(const Recipe& recipe) {
    json root = {{"format", "keen-loom/1"}, {"defaults", present_defaults}, {"name", recipe.name}, {"seed", recipe.seed}};
    root["tile"] = {{"width", recipe.tile.width}, {"height", recipe.tile.height}};
    if (recipe.tile.wide_cm) root["tile"]["wide-cm"] = number(*recipe.tile.wide_cm);
    if (recipe.tile.deep != Tile{}.deep) root["tile"]["deep"] = number(recipe.tile.deep);
    root["light"] = recipe.linear_light ? "linear" : "encoded";
    // Of the fields in groups, what differs from the default; both of the lamp's places stand together.
    for (const Field<Recipe>& field : recipe_fields()) {
        const auto dot = field.parameter.id.find('.');
        const std::string group(field.parameter.id.substr(0, dot));
        const bool place = field.parameter.id == "lamp.direction" || field.parameter.id == "lamp.elevation";
        if (field.get(recipe) == field.parameter.fallback && !(place && recipe.lamp != Lamp{})) continue;
        if (group == "lamp" || group == "finish")
            root[group][std::string(field.parameter.id.substr(dot + 1))] = write(field.get(recipe));
    }
    if (recipe.shown_lit) root["picture"] = "lit";
    root["strands"] = json::array();
    for (const StrandRef& strand : recipe.strands) root["strands"].push_back(write(*strand));
    root["dials"] = json::array();
    for (const Dial& dial : recipe.dials) {
        json drives = json::array();
        for (const Drive& drive : dial.drives)
            drives.push_back({{"at", drive.at.text()}, {"from", number(drive.from)}, {"to", number(drive.to)}});
        root["dials"].push_back({{"name", dial.name}, {"value", number(dial.value)}, {"drives", std::move(drives)}});
    }
    root["colourways"] = json::array();
    for (const Colourway& colourway : recipe.colourways) {
        json set = json::object();
        for (const auto& [at, value] : colourway.set) set[at.text()] = write(value);
        root["colourways"].push_back({{"name", colourway.name}, {"set", std::move(set)}});
    }
    if (!recipe.exports.empty()) root["export"] = write_exports(recipe.exports);
    add_unknown(root, recipe.unknown);
    // Text that is no UTF-8 is replaced rather than thrown about.
    return root.dump(2, ' ', false, json::error_handler_t::replace) + "\n";
}

}  // namespace loom
