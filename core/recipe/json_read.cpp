// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <set>

#include "core/catalogue/description.h"
#include "core/catalogue/json_reader.h"
#include "core/recipe/fields.h"
#include "core/recipe/json.h"
#include "core/recipe/json_exports.h"
#include "core/recipe/references.h"

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

template <class Owner>
const Parameter& described(const Fields<Owner>& fields, std::string_view id) {
    return find_field(fields, id)->parameter;
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
    const StepDescription* description = find_step(step.kind);
    if (step.kind.empty()) {
        reader.fault(at(pointer, "step"), "the step's word is missing");
    } else if (!description) {
        reader.warn(at(pointer, "step"), "unknown step " + in_quotes(step.kind) + ", kept and passed over");
        step.unknown = reader.unknown(node, pointer, {"id", "step", "on", "amount", "where", "gate", "seed", "name"}, false);
        return step;
    }
    step.unknown = reader.unknown(node, pointer, {"id", "step", "on", "amount", "where", "gate", "seed", "name", "set"});
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
                                         reader.number(value, "smooth", here, described(route_fields(), "smooth"))};
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

Tile read_tile(Reader& reader, const json& node, const std::string& pointer) {
    Tile tile;
    if (!reader.object(node, pointer)) return tile;
    tile.width = static_cast<int>(reader.number(node, "width", pointer, described(recipe_fields(), "tile.width")));
    tile.height = static_cast<int>(reader.number(node, "height", pointer, described(recipe_fields(), "tile.height")));
    tile.deep = reader.number(node, "deep", pointer, described(recipe_fields(), "tile.deep"));
    if (node.contains("wide-cm")) tile.wide_cm = reader.number(node, "wide-cm", pointer, 10, 0.01, 100000);
    return tile;
}

/// An address that a dial or colourway names; nothing, with a fault, if nothing is there.
std::optional<Address> read_address(Reader& reader, const Recipe& recipe, std::string_view text, const std::string& pointer) {
    const auto address = Address::parse(text);
    if (!address) {
        reader.fault(pointer, in_quotes(text) + " must be written " + std::string(address_form));
        return std::nullopt;
    }
    if (const Step* step = recipe.step(*address); step && !find_step(step->kind)) return address;
    if (!value_at(recipe, *address)) {
        reader.fault(pointer, in_quotes(text) + " names nothing in this recipe");
        return std::nullopt;
    }
    return address;
}

void read_dials(Reader& reader, const json& root, Recipe& recipe) {
    const json& list = reader.list(root, "dials", "");
    for (std::size_t k = 0; k < list.size(); ++k) {
        const std::string here = at("/dials", k);
        if (!reader.object(list[k], here)) continue;
        Dial dial;
        dial.name = reader.text(list[k], "name", here, "Dial");
        dial.value = reader.number(list[k], "value", here, 50, 0, 100);
        const json& drives = reader.list(list[k], "drives", here);
        for (std::size_t d = 0; d < drives.size(); ++d) {
            const std::string there = at(at(here, "drives"), d);
            if (!reader.object(drives[d], there)) continue;
            Drive drive;
            drive.from = reader.number(drives[d], "from", there, 0, -1e9, 1e9);
            drive.to = reader.number(drives[d], "to", there, 1, -1e9, 1e9);
            const auto address = read_address(reader, recipe, reader.text(drives[d], "at", there, ""), at(there, "at"));
            if (!address) continue;
            drive.at = *address;
            for (double end : {drive.from, drive.to})
                if (const auto why = refuses(recipe, drive.at, Value(end)); why && value_at(recipe, drive.at)) {
                    const bool whole_only = !refuses(recipe, drive.at, Value(std::round(end)));
                    if (!whole_only) reader.fault(there, drive.at.text() + " " + *why);
                }
            dial.drives.push_back(drive);
        }
        recipe.dials.push_back(std::move(dial));
    }
}

void read_colourways(Reader& reader, const json& root, Recipe& recipe) {
    const json& list = reader.list(root, "colourways", "");
    for (std::size_t k = 0; k < list.size(); ++k) {
        const std::string here = at("/colourways", k);
        if (!reader.object(list[k], here)) continue;
        Colourway colourway;
        colourway.name = reader.text(list[k], "name", here, "Colourway");
        const auto set = list[k].find("set");
        if (set != list[k].end() && reader.object(*set, at(here, "set"))) {
            for (const auto& [key, node] : set->items()) {
                const std::string there = at(at(here, "set"), key);
                const auto address = read_address(reader, recipe, key, there);
                if (!address) continue;
                std::optional<Value> value;
                if (const auto place = place_at(recipe, *address)) {
                    value = reader.value(place->parameter, node, there);
                } else {
                    // Of a step that is not known: kept as what it looks like.
                    if (node.is_boolean()) value = Value(node.get<bool>());
                    if (node.is_number()) value = Value(node.get<double>());
                    if (node.is_string()) value = Value(node.get<std::string>());
                }
                if (value) colourway.set[*address] = *value;
            }
        }
        recipe.colourways.push_back(std::move(colourway));
    }
}

constexpr std::size_t deepest_json = 64, most_members = 4096;

/// What makes a text's shape unreadable, before it is read: what unknown fields hold is written back by functions that call
/// themselves for every level, and members of an object are looked for one by one.
std::string shape_fault(std::string_view text) {
    struct Open {
        bool object;
        std::size_t members;
    };
    std::vector<Open> open;
    for (std::size_t at = 0; at < text.size(); ++at) switch (text[at]) {
            case '"':
                for (++at; at < text.size() && text[at] != '"'; ++at) at += text[at] == '\\';
                break;
            case '{':
            case '[':
                if (open.size() == deepest_json)
                    return "lists and objects lie more than " + std::to_string(deepest_json) + " deep";
                open.push_back({text[at] == '{', 1});
                break;
            case '}':
            case ']':
                if (!open.empty()) open.pop_back();
                break;
            case ',':
                if (!open.empty() && ++open.back().members > most_members && open.back().object)
                    return "an object has more than " + std::to_string(most_members) + " members";
                break;
            default: break;
        }
    return {};
}

void check_references(Reader& reader, const Recipe& recipe) {
    bool all_known = true;
    for (const Reference& reference : references(recipe))
        if (!recipe.strand(reference.to)) {
            reader.fault(reference.pointer, "there is no strand " + in_quotes(reference.to));
            all_known = false;
        }
    std::string pointer;
    if (!all_known) return;
    if (const std::string ring = circle(recipe, &pointer); !ring.empty())
        reader.fault(pointer, "strands go round in a circle: " + ring);
}

}  // namespace

const Finding* Reading::first_fault() const {
    for (const Finding& finding : findings)
        if (finding.weight == Finding::Weight::fault) return &finding;
    return nullptr;
}

Reading read_recipe(std::string_view json_text) {
    Reading reading;
    Reader reader(reading.findings);
    json root;
    if (const std::string fault = shape_fault(json_text); !fault.empty()) {
        reader.fault("", "no readable JSON: " + fault);
        return reading;
    }
    try {
        root = json::parse(json_text);
    } catch (const json::parse_error& error) {
        reader.fault("", "no readable JSON: it breaks off or goes wrong at byte " + std::to_string(error.byte));
        return reading;
    } catch (const json::exception&) {
        reader.fault("", "no readable JSON: a number in it is too large for any computer number");
        return reading;
    }
    if (!reader.object(root, "")) return reading;
    const std::string format = reader.text(root, "format", "", "");
    if (format != "keen-loom/1") {
        reader.fault("/format", "must be \"keen-loom/1\"" + (format.empty() ? std::string() : ", not " + in_quotes(format)));
        return reading;
    }
    // Files say nothing of it that are older than the first change, and those written by hand may leave it out.
    const int defaults = static_cast<int>(reader.number(root, "defaults", "", 0, 0, 1e6));
    Recipe& recipe = reading.recipe;
    recipe.name = reader.text(root, "name", "", "Untitled");
    recipe.seed = static_cast<std::uint32_t>(reader.number(root, "seed", "", described(recipe_fields(), "seed")));
    if (const auto tile = root.find("tile"); tile != root.end()) recipe.tile = read_tile(reader, *tile, "/tile");
    const std::string light = reader.text(root, "light", "", "encoded");
    recipe.linear_light = light == "linear";
    if (light != "linear" && light != "encoded") reader.fault("/light", "must be \"encoded\" or \"linear\"");

    if (const auto lamp = root.find("lamp"); lamp != root.end() && reader.object(*lamp, "/lamp")) {
        recipe.lamp.direction = reader.number(*lamp, "direction", "/lamp", described(recipe_fields(), "lamp.direction"));
        recipe.lamp.elevation = reader.number(*lamp, "elevation", "/lamp", described(recipe_fields(), "lamp.elevation"));
    }
    const json& strands = reader.list(root, "strands", "");
    if (!root.contains("strands")) reader.fault("/strands", "the list of strands is missing");
    for (std::size_t k = 0; k < strands.size(); ++k) {
        const std::string here = at("/strands", k);
        if (!reader.object(strands[k], here)) continue;
        Strand strand = read_strand(reader, strands[k], here, defaults);
        if (strand.id.empty())
            reader.fault(at(here, "id"), "the strand's id is missing");
        else if (recipe.strand(strand.id))
            reader.fault(at(here, "id"), "there is another strand " + in_quotes(strand.id));
        recipe.strands.push_back(std::make_shared<const Strand>(std::move(strand)));
    }
    read_dials(reader, root, recipe);
    read_colourways(reader, root, recipe);
    recipe.exports = read_exports(reader, root);
    recipe.unknown = reader.unknown(
        root, "", {"format", "defaults", "name", "seed", "tile", "light", "lamp", "strands", "dials", "colourways", "export"});
    check_references(reader, recipe);
    return reading;
}

}  // namespace loom
