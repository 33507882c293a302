// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a value does on its way from the file to the picture: read, kept, part of the node's key, and reachable by its address.
#include <algorithm>
#include <set>

#include "core/base/files.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/fields.h"
#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{16, 16};

std::string picture_bytes(float tone) {
    const TemporaryFolder folder;
    REQUIRE(write_picture(folder.path("p.png"), Bundle::of(Plane({4, 4}, tone)), PictureFormat::png));
    return *read_file(folder.path("p.png"), 1 << 20);
}

std::string recipe_bytes(double size_px) {
    LoomFile file;
    file.recipe = recipe_of({strand_of("a", {{"clouds", {{"size-x", size_px}}}})});
    file.recipe.dials.push_back({"Size", 50, {{{"a", "s1", "size-y"}, 20, 200}}});
    file.recipe.colourways.push_back({"Other", {{{"a", "s1", "octaves"}, Value(2.0)}}});
    return *loom_bytes(file);
}

struct Kept {
    std::string picture[2], recipe[2], drawing[2];
    Assets assets;
    Kept() {
        for (int k = 0; k < 2; ++k) {
            const std::string png = picture_bytes(0.3f + 0.3f * static_cast<float>(k)), loom = recipe_bytes(30 + 20 * k);
            picture[k] = asset_name(png, "png"), recipe[k] = asset_name(loom, "loom");
            const std::string svg =
                "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"9\" height=\"" + std::to_string(9 + k) + "\"/>";
            drawing[k] = asset_name(svg, "svg"), assets[drawing[k]] = make_asset(drawing[k], svg);
            assets[picture[k]] = make_asset(picture[k], png), assets[recipe[k]] = make_asset(recipe[k], loom);
        }
    }
};

/// Another value than the one a parameter has by itself.
Value another(const Parameter& p, const Kept& kept) {
    switch (p.kind) {
        case Kind::number:
        case Kind::count: {
            const double present = as<double>(p.fallback);
            return Value(present == p.max ? p.min : p.kind == Kind::count ? present + 1 : (present + p.max) / 2);
        }
        case Kind::toggle: return Value(!as<bool>(p.fallback));
        case Kind::choice:
            for (const Choice& choice : p.choices)
                if (Value(std::string(choice.id)) != p.fallback) return Value(std::string(choice.id));
            break;
        case Kind::colour: return Value(Colour{0.2f, 0.4f, 0.6f});
        case Kind::stops: return Value(Stops{{0, {0, 0, 0}, 0}, {0.4, {1, 0.2f, 0}, 10}, {1, {1, 1, 1}, 0}});
        case Kind::curve: return Value(CurvePoints{{0, 0.1}, {0.4, 0.7}, {1, 0.9}});
        case Kind::strand: return Value(std::string("left"));
        case Kind::text: return Value(std::string("Other"));
        case Kind::formula: return Value(std::string("u * v"));
        case Kind::draft: return Value(LongText("##/.#"));
        case Kind::inputs: return Value(Inputs{{"Size", 20, 0, 100, ""}});
        case Kind::picture: return Value(kept.picture[1]);
        case Kind::recipe: return Value(kept.recipe[1]);
        case Kind::drawing: return Value(kept.drawing[1]);
        case Kind::strokes: return Value(example_strokes(p, {64, 64}));
        case Kind::moves: return Value(example_moves());
        case Kind::outline: return Value(SharedValue<Outline>(*read_outline("M 0 0 L 40 0 C 40 20 20 40 0 40 Z")));
    }
    FAIL("no other value for " << p.id);
    return {};
}

/// Settings under which `p` matters.
Values grounds_for(const StepDescription& step, const Parameter& p, const Kept& kept) {
    Values values;
    for (const Parameter& each : step.parameters) {
        if (each.kind == Kind::picture) values[std::string(each.id)] = kept.picture[0];
        if (each.kind == Kind::drawing) values[std::string(each.id)] = kept.drawing[0];
        if (each.kind == Kind::recipe) values[std::string(each.id)] = kept.recipe[0];
        // An input that the expression uses.
        if (each.kind == Kind::formula && p.kind == Kind::inputs) values[std::string(each.id)] = std::string("Size * u");
    }
    REQUIRE(made_relevant(step, p, values));
    return values;
}

Recipe with_step(const StepDescription& step, Values values, const Kept& kept) {
    std::vector<StepOrder> orders;
    if (step.family != Family::make) orders.push_back({"clouds", {}, 1});
    orders.push_back({std::string(step.id), std::move(values), 1});
    Recipe recipe = recipe_of({strand_of("left", {{"cells", {}, 3}}), strand_of("a", orders)}, 64);
    recipe.assets = kept.assets;
    return recipe;
}

Key key_of(const Recipe& recipe) {
    const Plan plan = make_plan(recipe, size, {Wanted{Wanted::What::strand, "a", "", Map::height}}, &picture_reader());
    return plan.nodes[static_cast<std::size_t>(plan.outputs.begin()->second)].key;
}

}  // namespace

TEST_CASE("every parameter of every step is part of the node's key, and is read back as it was written", "[values][keys]") {
    const Kept kept;
    std::set<Kind> kinds;
    for (const StepDescription& step : all_steps())
        for (const Parameter& p : step.parameters) {
            INFO(step.id << " " << p.id);
            const Values before = grounds_for(step, p, kept);
            REQUIRE(relevant(step, p, before));
            Values after = before;
            after[std::string(p.id)] = another(p, kept);
            REQUIRE_FALSE(refuses(p, after[std::string(p.id)]));
            const Recipe recipe = with_step(step, after, kept);
            CHECK_FALSE(key_of(with_step(step, before, kept)) == key_of(recipe));
            CHECK(key_of(recipe) == key_of(with_step(step, after, kept)));
            const Reading back = read_recipe(write_recipe(recipe));
            CHECK_FALSE(back.first_fault());
            const Step& step_back = back.recipe.strand("a")->steps.back();
            // What a step keeps for itself is put in order as it is read.
            if (!p.own) CHECK(value_or_default(p, step_back.set) == after[std::string(p.id)]);
            kinds.insert(p.kind);
        }
    CHECK(kinds.size() == std::size(all_kinds));
}

TEST_CASE("each part of a stop and of an input counts in the key", "[values][keys]") {
    const Kept kept;
    const StepDescription& map = *find_step("gradientmap");
    const Stops stops{{0, {0, 0, 0}, 0}, {1, {1, 1, 1}, 0}};
    std::vector<Stops> others{stops, stops, stops, stops};
    others[0][1].place = 0.9, others[1][1].colour.blue = 0.9f, others[2][1].grain = 5, others[3].push_back(stops[1]);
    const Key base = key_of(with_step(map, {{"stops", stops}}, kept));
    for (const Stops& other : others) CHECK_FALSE(key_of(with_step(map, {{"stops", other}}, kept)) == base);

    // What once went wrong: two strands whose formulas differ in an input alone were one node.
    auto formula = [](double k) {
        return StepOrder{"formula", {{"expression", std::string("k * u")}, {"inputs", Inputs{{"k", k, 0, 1, ""}}}}};
    };
    const Bundle both =
        cloth(recipe_of({strand_of("a", {formula(0.2)}), strand_of("b", {formula(0.9)}, {Blend::difference})}), size);
    CHECK(both.channel(0).at(15, 8) == Approx(0.7 * 15.5 / 16).margin(0.01));
}

TEST_CASE("no parameter is called what every step has", "[catalogue][values]") {
    std::set<std::string_view> taken{"gate"};
    for (const Field<Step>& field : step_fields()) taken.insert(field.parameter.id);
    for (const char* word : {"amount", "on", "seed", "where", "gate.from"}) CHECK(taken.contains(word));
    for (const StepDescription& step : all_steps())
        for (const Parameter& p : step.parameters) {
            INFO(step.id << " " << p.id);
            CHECK_FALSE(taken.contains(p.id));
            CHECK(p.id.find('.') == std::string_view::npos);
        }
    // The old words still open, and an address means what every step has.
    for (const char* kind : {"static", "grain", "vignette"}) {
        const Parameter* p = find_step(kind)->parameter("amount");
        REQUIRE(p);
        CHECK(p->id == "strength");
        const Reading old = read_recipe(std::string(R"({"format": "keen-loom/1", "strands": [{"id": "a", "steps": [
            {"id": "s1", "step": "static"}, {"id": "s2", "step": ")") +
                                        kind + R"(", "set": {"amount": 33}}]}]})");
        CHECK(old.findings.empty());
        CHECK(value_at(old.recipe, {"a", "s2", "strength"}) == Value(33.0));
        CHECK(value_at(old.recipe, {"a", "s2", "amount"}) == Value(100.0));
        CHECK(write_recipe(old.recipe).find("\"strength\": 33") != std::string::npos);
    }
}

TEST_CASE("what every step has is read, written, addressed and refused by one description", "[values]") {
    const Recipe recipe = recipe_of({strand_of("left", {{"cells", {}}}), strand_of("a", {{"clouds", {}}, {"levels", {}}})});
    const std::pair<const char*, Value> others[] = {{"on", Value(false)},
                                                    {"seed", Value(4294967295.0)},
                                                    {"amount", Value(12.5)},
                                                    {"where", Value(std::string("left"))},
                                                    {"gate.of", Value(std::string("own"))},
                                                    {"gate.from", Value(0.25)},
                                                    {"gate.to", Value(0.5)},
                                                    {"gate.softness", Value(0.125)},
                                                    {"note", Value(std::string("Holds the rest together"))}};
    CHECK(std::size(others) == step_fields().size());
    Recipe all = recipe;
    for (const auto& [id, value] : others) {
        INFO(id);
        const Address at{"a", "s2", id};
        CHECK(value_at(recipe, at) == find_field(step_fields(), id)->parameter.fallback);
        REQUIRE_FALSE(refuses(recipe, at, value));
        all = with_value(std::move(all), at, value);
        CHECK(value_at(all, at) == value);
        CHECK(refuses(recipe, at, Value(Stops{})));
        if (std::holds_alternative<double>(value)) CHECK(refuses(recipe, at, Value(-1.0)));
    }
    const Reading back = read_recipe(write_recipe(all));
    CHECK(back.findings.empty());
    CHECK(back.recipe == all);
    for (const char* gate : {R"({"from": 0.1})", R"({"of": "above"})", R"({"of": "own", "from": 2})", "7"}) {
        const Reading wrong = read_recipe(std::string(R"({"format": "keen-loom/1", "strands": [{"id": "a", "steps": [
            {"id": "s1", "step": "flat", "gate": )") +
                                          gate + "}]}]}");
        INFO(gate);
        REQUIRE(wrong.first_fault());
        CHECK_THAT(wrong.first_fault()->pointer, Catch::StartsWith("/strands/0/steps/0/gate"));
    }
}

TEST_CASE("a tone gate lets a step work on its tones only, and fades beyond them", "[values][gate]") {
    // A ramp of 64 tones from left to right, then inverted where the gate lets it.
    auto shown = [](Step inverted, const Strand* beneath = nullptr) {
        Strand strand = strand_of("a", {{"formula", {{"expression", std::string("u")}}}});
        inverted.id = "s2", inverted.kind = "invert";
        std::vector<Strand> strands;
        if (beneath) {
            strands.push_back(*beneath);
            strand = strand_of("a", {{"flat", {{"colour", Colour{1, 1, 1}}}}});
        }
        strand.steps.push_back(std::move(inverted));
        strands.push_back(strand);
        return cloth(recipe_of(strands, 64), {64, 4});
    };
    const Bundle ramp = shown([] {
        Step step;
        step.on = false;
        return step;
    }());
    Step step;
    step.gate = {ToneGate::Of::own, 0.25, 0.5, 0.125};
    const Bundle out = shown(step);
    for (int x = 0; x < 64; ++x) {
        const double t = ramp.channel(0).at(x, 2), after = out.channel(0).at(x, 2);
        INFO(x << ": " << t << " to " << after);
        if (t >= 0.25 && t <= 0.5) CHECK(after == Approx(1 - t).margin(1e-5));
        if (t < 0.125 || t > 0.625) CHECK(after == Approx(t).margin(1e-5));
        // Half way out of a shoulder the step counts half.
        if (std::abs(t - 0.1875) < 0.004) CHECK(std::abs(after - 0.5) < std::abs(t - 0.5));
    }
    // Open ends let everything through, also what lies outside 0..1.
    step.gate = {ToneGate::Of::own, 0, 1, 0};
    CHECK(greatest_difference(shown(step), shown({})) < 1e-6);
    // Of what lies beneath: white over the ramp, inverted where the ramp is dark.
    const Strand left = strand_of("left", {{"formula", {{"expression", std::string("u")}}}});
    step.gate = {ToneGate::Of::beneath, 0, 0.5, 0};
    const Bundle over = shown(step, &left);
    CHECK(over.channel(0).at(5, 1) == Approx(0).margin(1e-5));
    CHECK(over.channel(0).at(60, 1) == Approx(1).margin(1e-5));
    // A strand beside it narrows the gate further.
    step.where = "left";
    CHECK(shown(step, &left).channel(0).at(16, 1) == Approx(1 - ramp.channel(0).at(16, 1)).margin(1e-4));
}

TEST_CASE("a join's gate keeps a strand off tones beneath it or of its own", "[values][gate]") {
    const Strand under = strand_of("under", {{"formula", {{"expression", std::string("u")}}}});
    for (const auto of : {ToneGate::Of::beneath, ToneGate::Of::own}) {
        Strand over = strand_of("over", {{"formula", {{"expression", std::string("1 - u")}}}});
        over.join.gate = {of, 0, 0.5, 0};
        const Bundle out = cloth(recipe_of({under, over}, 64), {64, 4});
        // Dark beneath is on the left; the strand itself is dark on the right.
        const float left = out.channel(0).at(4, 1), right = out.channel(0).at(59, 1);
        CHECK(left == Approx(of == ToneGate::Of::beneath ? 1 : 0).margin(0.1));
        CHECK(right == Approx(of == ToneGate::Of::beneath ? 1 : 0).margin(0.1));
    }
}

TEST_CASE("laying in is a join within a chain", "[values][inlay]") {
    const std::vector<StepOrder> one{{"clouds", {}, 1}, {"gradientmap", {}}}, two{{"cells", {}, 2}};
    for (const BlendName& blend : blend_names())
        for (bool linear : {false, true}) {
            // Every strand has dots of its own.
            if (blend.blend == Blend::stipple) continue;
            INFO(blend.id << linear);
            Recipe joined = recipe_of({strand_of("one", one), strand_of("two", two, {blend.blend, 70})}, 64);
            Strand hidden = strand_of("two", two), base = strand_of("one", one);
            hidden.on = false;
            std::vector<StepOrder> inlaid = one;
            inlaid.push_back(
                {"inlay", {{"strand", std::string("two")}, {"blend", std::string(blend.id)}, {"join-amount", 70.0}}});
            Recipe laid = recipe_of({strand_of("one", inlaid), hidden}, 64);
            joined.linear_light = laid.linear_light = linear;
            CHECK(same_bytes(cloth(joined, {64, 64}), cloth(laid, {64, 64})));
        }
    // The pair as a displacement, in one strand that shows nothing of it.
    Strand pair =
        strand_of("pair", {{"clouds", {}, 1}, {"inlay", {{"strand", std::string("two")}, {"blend", std::string("difference")}}}});
    Strand second = strand_of("two", two);
    pair.on = second.on = false;
    const Recipe bent =
        recipe_of({second, pair, strand_of("a", {{"stripes", {}}, {"displace", {{"map", std::string("pair")}}}})}, 64);
    const Recipe plain = recipe_of({second, pair, strand_of("a", {{"stripes", {}}})}, 64);
    CHECK(greatest_difference(cloth(bent, {64, 64}), cloth(plain, {64, 64})) > 0.2);
    // Kept within: nothing where the chain shows nothing.
    Strand cut = strand_of("a", {{"formula", {{"expression", std::string("1, 0, 0, step(0.5, u)")}}},
                                 {"inlay", {{"strand", std::string("two")}, {"within", true}}}});
    const Bundle kept = cloth(recipe_of({second, cut}, 64), {64, 64});
    REQUIRE(kept.coverage);
    CHECK(kept.coverage->at(8, 8) == Approx(0).margin(1e-6));
    CHECK(kept.coverage->at(56, 8) == Approx(1).margin(1e-6));
}
