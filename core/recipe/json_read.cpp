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
#include "core/recipe/json_strands.h"
#include "core/recipe/references.h"

namespace loom {

namespace {

using namespace json_reading;

/// The lamp, the finish, and what the picture is: fields of the recipe in groups.
void read_light(Reader& reader, const json& root, Recipe& recipe) {
    const auto take = [&](const json& node, const std::string& word, const std::string& pointer, const Field<Recipe>& field) {
        const auto found = node.find(word);
        if (found == node.end()) return;
        if (const auto value = reader.value(field.parameter, *found, at(pointer, word.c_str()))) field.set(recipe, *value);
    };
    for (const std::string group : {"lamp", "finish"}) {
        const auto node = root.find(group);
        if (node == root.end() || !reader.object(*node, "/" + group)) continue;
        for (const Field<Recipe>& field : recipe_fields())
            if (field.parameter.id.starts_with(group + "."))
                take(*node, std::string(field.parameter.id.substr(group.size() + 1)), "/" + group, field);
    }
    take(root, "picture", "", *find_field(recipe_fields(), "picture"));
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

    read_light(reader, root, recipe);
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
    recipe.unknown = reader.unknown(root, "",
                                    {"format", "defaults", "name", "seed", "tile", "light", "lamp", "finish", "picture",
                                     "strands", "dials", "colourways", "export"});
    check_references(reader, recipe);
    return reading;
}

}  // namespace loom
