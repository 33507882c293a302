// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/json_strands.h"

#include <algorithm>
#include <set>

#include "core/catalogue/description.h"

namespace loom {

namespace {

using namespace json_reading;

/// What a step does not say means what it did when the file was written.
void renew_defaults(const StepDescription& description, int defaults, Step& step) {
    for (const Parameter& p : description.parameters)
        for (const OnceDefault& once : p.once)
            if (defaults < once.before) {
                step.set.emplace(std::string(p.id), once.value);
                break;
            }
}

void read_set(Reader& reader, const StepDescription& description, const json& node, const std::string& pointer, Step& step) {
    json unknown = json::object();
    std::map<std::string, double, std::less<>> old;
    const auto& earlier = description.earlier.ids;
    for (const auto& [key, value] : node.items()) {
        const std::string here = at(pointer, key);
        const Parameter* parameter = description.parameter(key);
        if (value.is_number() && std::find(earlier.begin(), earlier.end(), key) != earlier.end()) {
            old[key] = value.get<double>();
        } else if (!parameter) {
            reader.warn(here, "step '" + step.kind + "' has no parameter " + in_quotes(key) + ", kept as it is");
            unknown[key] = value;
        } else if (auto read = reader.value(*parameter, value, here); read && *read != parameter->fallback) {
            step.set[std::string(parameter->id)] = *read;
        } else if (read) {
            step.set.erase(std::string(parameter->id));
        }
    }
    if (!old.empty()) {
        description.earlier.renew(old, step.set);
        std::erase_if(step.set, [&](const auto& each) {
            const Parameter* p = description.parameter(each.first);
            return p && each.second == p->fallback;
        });
    }
    if (unknown.empty()) return;
    json rest = step.unknown.empty() ? json::object() : json::parse(step.unknown);
    rest["set"] = unknown;
    step.unknown = rest.dump();
}

ToneGate read_gate(Reader& reader, const json& node, const std::string& pointer) {
    ToneGate gate;
    const auto found = node.find("gate");
    const std::string here = at(pointer, "gate");
    if (found == node.end() || !reader.object(*found, here)) return gate;
    const std::string word = reader.text(*found, "of", here, "");
    if (const auto of = find_gate(word); of && *of != ToneGate::Of::nothing)
        gate.of = *of;
    else
        reader.fault(at(here, "of"), "must be \"own\" or \"beneath\"");
    gate.from = reader.number(*found, "from", here, described(step_fields(), "gate.from"));
    gate.to = reader.number(*found, "to", here, described(step_fields(), "gate.to"));
    gate.softness = reader.number(*found, "softness", here, described(step_fields(), "gate.softness"));
    for (const auto& [key, value] : found->items())
        if (key != "of" && key != "from" && key != "to" && key != "softness")
            reader.warn(at(here, key), "unknown field, left out");
    return gate;
}

/// `defaults`: by which the file was written, see present_defaults.
Step read_step(Reader& reader, const json& node, const std::string& pointer, int defaults) {
    Step step;
    step.id = reader.text(node, "id", pointer, "");
    step.kind = reader.text(node, "step", pointer, "");
    step.on = reader.flag(node, "on", pointer, true);
    step.amount = reader.number(node, "amount", pointer, described(step_fields(), "amount"));
    step.where = reader.text(node, "where", pointer, "");
    step.gate = read_gate(reader, node, pointer);
    step.seed = static_cast<std::uint32_t>(reader.number(node, "seed", pointer, described(step_fields(), "seed")));
    step.name = reader.text(node, "name", pointer, "");
    step.note = reader.text(node, "note", pointer, "");
    const StepDescription* description = find_step(step.kind);
    if (step.kind.empty()) {
        reader.fault(at(pointer, "step"), "the step's word is missing");
    } else if (!description) {
        reader.warn(at(pointer, "step"), "unknown step " + in_quotes(step.kind) + ", kept and passed over");
        step.unknown = reader.unknown(node, pointer, {"id", "step", "on", "amount", "where", "gate", "seed", "name", "note"}, false);
        return step;
    }
    step.unknown = reader.unknown(node, pointer, {"id", "step", "on", "amount", "where", "gate", "seed", "name", "note", "set"});
    if (description) renew_defaults(*description, defaults, step);
    const auto set = node.find("set");
    if (description && set != node.end() && reader.object(*set, at(pointer, "set")))
        read_set(reader, *description, *set, at(pointer, "set"), step);
    // What was written by hand gains what the step keeps for itself.
    if (description && description->settle) description->settle(step.set);
    return step;
}

Join read_join(Reader& reader, const json& node, const std::string& pointer) {
    Join join;
    if (!reader.object(node, pointer)) return join;
    join.blend = reader.blend(node, pointer);
    join.amount = reader.number(node, "amount", pointer, described(strand_fields(), "amount"));
    join.width = reader.number(node, "smooth", pointer, described(strand_fields(), "smooth"));
    join.within = reader.flag(node, "within", pointer, false);
    join.lift = reader.flag(node, "lift", pointer, false);
    join.lift_amount = reader.number(node, "lift-amount", pointer, described(strand_fields(), "lift-amount"));
    if (const auto dots = node.find("dots"); dots != node.end() && reader.object(*dots, at(pointer, "dots"))) {
        const std::string here = at(pointer, "dots");
        Strand strand;
        const Field<Strand>& pattern = *find_field(strand_fields(), "dots.pattern");
        if (const auto word = dots->find("pattern"); word != dots->end())
            if (const auto value = reader.value(pattern.parameter, *word, at(here, "pattern"))) pattern.set(strand, *value);
        join.dots.pattern = strand.join.dots.pattern;
        join.dots.size = reader.number(*dots, "size", here, described(strand_fields(), "dots.size"));
        join.dots.density = reader.number(*dots, "density", here, described(strand_fields(), "dots.density"));
    }
    join.gate = read_gate(reader, node, pointer);
    for (const auto& [key, value] : node.items())
        if (key != "blend" && key != "amount" && key != "smooth" && key != "within" && key != "lift" && key != "lift-amount" &&
            key != "dots" && key != "gate")
            reader.warn(at(pointer, key), "unknown field, left out");
    return join;
}

Group read_group(Reader& reader, const json& node, const std::string& pointer) {
    Group group{reader.text(node, "name", pointer, ""), reader.flag(node, "folded", pointer, false)};
    if (group.name.empty()) reader.fault(at(pointer, "name"), "the group's name is missing");
    for (const auto& [key, value] : node.items())
        if (key != "name" && key != "folded") reader.warn(at(pointer, key), "unknown field, left out");
    return group;
}

/// In files older than the first change of defaults, steps of a mask changed a form's colours and not what it shows.
constexpr int masks_as_shown = 1;

Masking read_masking(Reader& reader, const json& strand, const std::string& pointer, const Chain& mask, int defaults) {
    Masking masking;
    masking.as_picture = defaults < masks_as_shown && std::any_of(mask.begin(), mask.end(), [](const Step& step) {
                             const StepDescription* description = find_step(step.kind);
                             return description && works_on_shown(*description);
                         });
    const auto node = strand.find("masking");
    const std::string here = at(pointer, "masking");
    if (node == strand.end() || !reader.object(*node, here)) return masking;
    masking.on = reader.flag(*node, "on", here, masking.on);
    masking.inverted = reader.flag(*node, "inverted", here, masking.inverted);
    masking.amount = reader.number(*node, "amount", here, described(strand_fields(), "mask.amount"));
    masking.as_picture = reader.flag(*node, "as-picture", here, masking.as_picture);
    for (const auto& [key, value] : node->items())
        if (key != "on" && key != "inverted" && key != "amount" && key != "as-picture")
            reader.warn(at(here, key), "unknown field, left out");
    return masking;
}

}  // namespace

Strand read_strand(Reader& reader, const json& node, const std::string& pointer, int defaults) {
    Strand strand;
    strand.id = reader.text(node, "id", pointer, "");
    strand.name = reader.text(node, "name", pointer, strand.id);
    strand.on = reader.flag(node, "on", pointer, true);
    strand.folded = reader.flag(node, "folded", pointer, false);
    if (const auto group = node.find("group"); group != node.end() && reader.object(*group, at(pointer, "group")))
        strand.group = read_group(reader, *group, at(pointer, "group"));
    if (const auto from = node.find("from"); from != node.end() && reader.object(*from, at(pointer, "from"))) {
        for (ChainKind kind : all_chains) strand.from_of(kind) = reader.text(*from, chain_id(kind), at(pointer, "from"), "");
        for (const auto& [key, value] : from->items())
            if (std::none_of(std::begin(all_chains), std::end(all_chains), [&](ChainKind kind) { return chain_id(kind) == key; }))
                reader.warn(at(at(pointer, "from"), key), "unknown field, left out");
    }
    std::set<std::string> ids;
    for (ChainKind kind : all_chains) {
        const json& list = reader.list(node, chain_id(kind), pointer);
        for (std::size_t k = 0; k < list.size(); ++k) {
            const std::string here = at(at(pointer, chain_id(kind)), k);
            if (!reader.object(list[k], here)) continue;
            Step step = read_step(reader, list[k], here, defaults);
            if (!step.id.empty() && !ids.insert(step.id).second)
                reader.fault(at(here, "id"), "the strand has another step " + in_quotes(step.id));
            const StepDescription* description = find_step(step.kind);
            const bool first = kind == ChainKind::steps && k == 0 && strand.from_of(kind).empty();
            if (first && description && needs_input(*description, step.set))
                reader.warn(at(here, "step"),
                            "the first step of a strand has to make something; '" + step.kind + "' is passed over");
            strand.chain(kind).push_back(std::move(step));
        }
    }
    // Once all ids are known that the file gives.
    int number = 0;
    for (ChainKind kind : all_chains)
        for (std::size_t k = 0; k < strand.chain(kind).size(); ++k) {
            if (!strand.chain(kind)[k].id.empty()) continue;
            std::string& id = strand.chain(kind).change(k).id;
            do {
                id = "s";
                id += std::to_string(++number);
            } while (!ids.insert(id).second);
        }
    strand.masking = read_masking(reader, node, pointer, strand.mask, defaults);
    if (const auto join = node.find("join"); join != node.end()) strand.join = read_join(reader, *join, at(pointer, "join"));
    json unknown_routes = json::object();
    if (const auto routes = node.find("routes"); routes != node.end() && reader.object(*routes, at(pointer, "routes"))) {
        for (const auto& [key, value] : routes->items()) {
            const std::string here = at(at(pointer, "routes"), key);
            const Map* known = nullptr;
            for (const MapInfo& info : map_table)
                if (info.routed && info.id == key) known = &info.map;
            if (!known) {
                reader.warn(here, "unknown map, kept as it is");
                unknown_routes[key] = value;
            } else if (reader.object(value, here)) {
                strand.routes[*known] = {reader.blend(value, here),
                                         reader.number(value, "amount", here, described(route_fields(), "amount")),
                                         reader.number(value, "smooth", here, described(route_fields(), "smooth")),
                                         {}};
                if (const auto plane = value.find("plane"); plane != value.end())
                    if (const auto read = reader.value(described(route_fields(), "plane"), *plane, at(here, "plane")))
                        strand.routes[*known].plane = as<std::string>(*read);
            }
        }
    }
    strand.unknown = reader.unknown(
        node, pointer, {"id", "name", "on", "folded", "group", "steps", "mask", "edge", "from", "masking", "join", "routes"});
    if (!unknown_routes.empty()) {
        json rest = strand.unknown.empty() ? json::object() : json::parse(strand.unknown);
        rest["routes"] = unknown_routes;
        strand.unknown = rest.dump();
    }
    return strand;
}

}  // namespace loom
