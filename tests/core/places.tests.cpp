// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Everything a recipe holds has an address, and one way of being read, set, kept and refused by it.
#include <algorithm>
#include <set>

#include "core/catalogue/value_kind.h"
#include "core/files/kept_picture.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "core/recipe/references.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// A recipe with something of everything that has an address.
Recipe full_recipe() {
    Strand a = strand_of("a", {{"gradient", {}}, {"levels", {}}});
    a.routes[Map::height] = {Blend::plus, 40};
    Strand tile = strand_of("tile", {{"formula", {{"expression", std::string("depth * u + more * v")}}}});
    tile.mask = {{"m1", "clouds"}};
    tile.routes[Map::roughness] = {};
    // Gates whose ends matter, so that files keep them.
    for (Strand* strand : {&a, &tile}) {
        strand->join.gate.of = ToneGate::Of::own;
        for (std::size_t k = 0; k < strand->steps.size(); ++k) strand->steps.change(k).gate.of = ToneGate::Of::own;
    }
    tile.mask.change(0).gate.of = ToneGate::Of::own;
    Strand left = strand_of("left", {{"cells", {}}});
    left.steps.change(0).gate.of = left.join.gate.of = ToneGate::Of::own;
    return recipe_of({left, a, tile});
}

/// Another value that the place takes.
Value other_value(const Place& place) {
    const Parameter& p = place.parameter;
    switch (p.kind) {
        case Kind::number:
        case Kind::count: return Value(as<double>(place.value) == p.max ? p.min : p.max);
        case Kind::toggle: return Value(!as<bool>(place.value));
        case Kind::choice:
            for (const Choice& choice : p.choices)
                if (Value(std::string(choice.id)) != place.value) return Value(std::string(choice.id));
            break;
        case Kind::colour: return Value(Colour{0.2f, 0.4f, 0.6f});
        case Kind::stops: return Value(Stops{{0, {0, 0, 0}, 0}, {1, {1, 0.2f, 0}, 10}});
        case Kind::curve: return Value(CurvePoints{{0, 0.1}, {1, 0.9}});
        case Kind::strand: return Value(std::string("left"));
        case Kind::text: return Value(std::string("Other"));
        case Kind::formula: return Value(std::string("depth * v + more * u"));
        case Kind::draft: return Value(LongText("##/.#"));
        case Kind::inputs: return Value(Inputs{{"depth", 0.9, 0, 1, ""}});
        case Kind::picture: return Value(std::string("assets/p.png"));
        case Kind::recipe: return Value(std::string("assets/r.loom"));
        case Kind::drawing: return Value(std::string("assets/d.svg"));
        case Kind::strokes: return Value(example_strokes(p, {64, 64}));
        case Kind::moves: return Value(example_moves());
        case Kind::outline: return Value(SharedValue<Outline>(*read_outline("M 0 0 L 40 0 C 40 20 20 40 0 40 Z")));
    }
    FAIL("no other value for " << p.id);
    return {};
}

}  // namespace

TEST_CASE("addresses are written and parsed alike, for every place of every sample", "[address][samples]") {
    std::vector<Recipe> recipes{full_recipe()};
    for (const std::string& path : sample_paths()) recipes.push_back(read_loom(path)->recipe);
    for (const Recipe& recipe : recipes) {
        std::set<std::string> texts;
        for (const Address& at : places(recipe)) {
            INFO(recipe.name << " " << at.text());
            CHECK(texts.insert(at.text()).second);
            CHECK(Address::parse(at.text()) == at);
            const auto place = place_at(recipe, at);
            REQUIRE(place);
            CHECK(value_at(recipe, at) == place->value);
            CHECK_FALSE(refuses(recipe, at, place->value));
            CHECK(with_value(recipe, at, place->value) == recipe);
        }
        CHECK(texts.size() > 20);
    }
}

TEST_CASE("every place can be set, reads back, and changes nothing else", "[address]") {
    const Recipe recipe = full_recipe();
    const std::vector<Address> all = places(recipe);
    for (const char* needed : {"tile.width",
                               "tile.height",
                               "lamp.direction",
                               "lamp.elevation",
                               "a.amount",
                               "a.blend",
                               "a.on",
                               "a.within",
                               "a.gate.from",
                               "a.routes.height.amount",
                               "a.routes.height.blend",
                               "a/s1.stops.1.colour",
                               "a/s1.stops.1.place",
                               "a/s1.stops.1.grain",
                               "tile/s1.inputs.depth",
                               "tile/s1.inputs.more",
                               "tile/m1.amount",
                               "tile.amount",
                               "tile.routes.roughness.amount",
                               "a/s2.in-black",
                               "a/s2.seed",
                               "a/s2.where"})
        CHECK(std::any_of(all.begin(), all.end(), [&](const Address& at) { return at.text() == needed; }));
    for (const Address& at : all) {
        INFO(at.text());
        const Place place = *place_at(recipe, at);
        const Value value = other_value(place);
        REQUIRE_FALSE(refuses(recipe, at, value));
        const Recipe changed = with_value(recipe, at, value);
        CHECK(value_at(changed, at) == value);
        // Other values are what they were, but for those that hold this one or lie in it, or that suit a choice.
        if (place.parameter.kind == Kind::choice || place.parameter.kind == Kind::formula) continue;
        for (const Address& other : all) {
            if (other.strand == at.strand && other.step == at.step &&
                (other.parameter.starts_with(at.parameter) || at.parameter.starts_with(other.parameter)))
                continue;
            INFO(other.text());
            CHECK(value_at(changed, other) == value_at(recipe, other));
        }
        // It comes back from the file, and from a colourway's set.
        Recipe coloured = recipe;
        coloured.colourways.push_back({"Other", {{at, value}}});
        Reading back = read_recipe(write_recipe(coloured));
        const bool names_asset = names_kept(place.parameter.kind);
        REQUIRE_FALSE(back.first_fault());
        CHECK(back.recipe == coloured);
        if (!names_asset) CHECK(value_at(with_colourway(back.recipe, "Other"), at) == value);
        if (at.parameter != "inputs") CHECK(value_at(read_recipe(write_recipe(changed)).recipe, at) == value);
    }
}

TEST_CASE("what is no place is refused with what is missing", "[address]") {
    const Recipe recipe = full_recipe();
    const std::pair<const char*, const char*> wrong[] = {
        {"none.amount", "no strand 'none'"},
        {"none/s1.size", "no strand 'none'"},
        {"a/s9.size", "no step 's9'"},
        {"a/s1.sparkle", "no parameter 'sparkle'"},
        {"a.sparkle", "has no 'sparkle'"},
        {"a.routes.metalness.amount", "has no 'routes.metalness.amount'"},
        {"a.routes.height", "has no 'routes.height'"},
        {"a/s1.stops.9.colour", "no parameter 'stops.9.colour'"},
        {"a/s1.stops.1.hue", "no parameter 'stops.1.hue'"},
        {"a/s1.stops.01.colour", "no parameter"},
        {"tile/s1.inputs.nothing", "no parameter 'inputs.nothing'"},
    };
    for (const auto& [text, words] : wrong) {
        INFO(text);
        const auto at = Address::parse(text);
        REQUIRE(at);
        CHECK_FALSE(place_at(recipe, *at));
        const auto why = refuses(recipe, *at, Value(1.0));
        REQUIRE(why);
        CHECK_THAT(*why, Catch::Contains(words));
        CHECK(with_value(recipe, *at, Value(1.0)) == recipe);
    }
    for (const char* text : {"", "a", "a/b", "/b.c", "a/.c", "a/b.", ".amount", "a."}) CHECK_FALSE(Address::parse(text));
    CHECK(refuses(recipe, {"", "", "tile.width"}, Value(15.0)));
    CHECK(refuses(recipe, {"", "", "tile.width"}, Value(100.5)));
    CHECK(refuses(recipe, {"a", "", "blend"}, Value(std::string("glue"))));
    CHECK(refuses(recipe, {"a", "s1", "stops.0.place"}, Value(1.5)));
}

TEST_CASE("dials move what stands at any address that holds a number", "[address][dials]") {
    Recipe recipe = full_recipe();
    const std::pair<const char*, double> driven[] = {
        {"tile.width", 200},         {"lamp.direction", 20},         {"a.amount", 30},      {"a.routes.height.amount", 70},
        {"a/s1.stops.1.place", 0.5}, {"tile/s1.inputs.depth", 0.25}, {"tile/m1.amount", 60}};
    Dial dial{"All", 0, {}};
    for (const auto& [text, to] : driven) dial.drives.push_back({*Address::parse(text), to, to + 1e-3});
    recipe.dials.push_back(dial);
    const Reading back = read_recipe(write_recipe(recipe));
    CHECK(back.findings.empty());
    const Recipe moved = with_dial(back.recipe, "All", 0);
    for (const auto& [text, to] : driven) {
        INFO(text);
        CHECK(value_at(moved, *Address::parse(text)) == Value(to));
    }
    // What a dial or colourway names goes with it.
    Recipe named = recipe;
    named.colourways.push_back(
        {"Way", {{*Address::parse("a.amount"), Value(1.0)}, {*Address::parse("lamp.direction"), Value(1.0)}}});
    const Recipe without = without_loose_ends(strand_removed(named, "a"));
    CHECK(without.dials[0].drives.size() == 4);
    CHECK(without.colourways[0].set.size() == 1);
}
