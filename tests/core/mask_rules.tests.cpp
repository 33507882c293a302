// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Masks as a whole, forms that meet what came before, chains that are shared, and what files of earlier days mean.
#include <algorithm>

#include "core/recipe/edits.h"
#include "core/recipe/idle_steps.h"
#include "core/recipe/json.h"
#include "core/recipe/references.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{96, 96};

std::string word(const char* text) { return text; }

/// White where it shows, with this mask; nothing beneath.
Recipe masked(const std::vector<StepOrder>& mask, Masking masking = {}) {
    Strand strand = strand_of("a", {{"flat", {{"colour", Colour{1, 1, 1}}}}});
    strand.mask = strand_of("m", mask).steps;
    strand.masking = masking;
    return recipe_of({strand}, 96);
}
/// Where the strand of masked() shows.
Plane shown(const Recipe& recipe) { return coverage_of(cloth(recipe, size))->clone(); }

StepOrder ellipse(double width, const char* meets = nullptr) {
    StepOrder order{"shape", {{"form", word("ellipse")}, {"width", width}, {"height", width}}};
    if (meets) order.set["meets"] = word(meets);
    return order;
}

Recipe read(const std::string& json) {
    const Reading reading = read_recipe(json);
    REQUIRE_FALSE(reading.first_fault());
    return reading.recipe;
}

}  // namespace

TEST_CASE("a mask can be switched off, inverted and taken back in part", "[masks]") {
    const Plane plain = shown(masked({ellipse(60)})), off = shown(masked({ellipse(60)}, {false})),
                inverted = shown(masked({ellipse(60)}, {true, true})), half = shown(masked({ellipse(60)}, {true, false, 50}));
    CHECK(mean_of(off) == Approx(1));
    for (std::size_t i = 0; i < plain.count(); ++i) {
        REQUIRE(inverted.data()[i] == Approx(1 - plain.data()[i]).margin(1e-5));
        REQUIRE(half.data()[i] == Approx(0.5f + 0.5f * plain.data()[i]).margin(1e-5));
    }
}

TEST_CASE("switching off what a mask begins with shows all of the strand, not its own tones", "[masks]") {
    Strand strand = strand_of("a", {{"clouds", {}, 3}});
    strand.mask = strand_of("m", {ellipse(40), {"gaussian", {{"radius", 4.0}}}}).steps;
    strand.mask.change(0).on = false;
    CHECK(mean_of(shown(recipe_of({strand}, 96))) == Approx(1));
    strand.mask.change(1).on = false;
    CHECK(mean_of(shown(recipe_of({strand}, 96))) == Approx(1));
    // A mask of its own tones is still one.
    strand.mask = strand_of("m", {{"levels", {}}}).steps;
    CHECK(mean_of(shown(recipe_of({strand}, 96))) < 0.8);
}

TEST_CASE("steps that tune a mask work on what it shows: a form inverted is its outside", "[masks]") {
    const Plane form = shown(masked({ellipse(60)})), outside = shown(masked({ellipse(60), {"invert", {}}}));
    for (std::size_t i = 0; i < form.count(); ++i) REQUIRE(outside.data()[i] == Approx(1 - form.data()[i]).margin(1e-5));
    // As a picture only its colour is: black, which shows nothing.
    CHECK(mean_of(shown(masked({ellipse(60), {"invert", {}}}, {true, false, 100, true}))) == Approx(0).margin(1e-5));
}

TEST_CASE("forms in a mask say how they meet what came before, and a hole is one step", "[masks][forms]") {
    const Plane large = shown(masked({ellipse(80)})), small = shown(masked({ellipse(30)}));
    const Plane ring = shown(masked({ellipse(80), ellipse(30, "taken")})), hole = shown(masked({ellipse(30, "taken")})),
                within = shown(masked({ellipse(80), ellipse(30, "within")})),
                added = shown(masked({ellipse(30), ellipse(80, "added")}));
    for (std::size_t i = 0; i < large.count(); ++i) {
        REQUIRE(ring.data()[i] == Approx(large.data()[i] * (1 - small.data()[i])).margin(1e-5));
        // The first step of a mask meets all of the strand.
        REQUIRE(hole.data()[i] == Approx(1 - small.data()[i]).margin(1e-5));
        REQUIRE(within.data()[i] == Approx(small.data()[i]).margin(1e-5));
        REQUIRE(added.data()[i] == Approx(large.data()[i]).margin(1e-5));
    }
    // The same among a strand's own steps, with its colours.
    const Bundle cut = cloth(recipe_of({strand_of("a", {{"clouds", {}, 1}, ellipse(50, "taken")})}, 96), size);
    CHECK(cut.coverage->at(48, 48) == 0);
    CHECK(cut.coverage->at(2, 2) == 1);
    const Bundle formula = cloth(
        recipe_of(
            {strand_of("a", {{"clouds", {}, 1}, {"formula", {{"expression", word("step(0.5, u)")}, {"meets", word("within")}}}})},
            96),
        size);
    CHECK(formula.coverage->at(10, 10) == 0);
    CHECK(formula.coverage->at(80, 10) == 1);
}

TEST_CASE("a chain goes on from another strand's, and changes with it", "[masks][references]") {
    Strand first = strand_of("first", {ellipse(60)});
    first.edge = strand_of("e", {{"rim", {{"width", 6.0}, {"colour", Colour{1, 0, 0}}}}}).steps;
    first.edge.change(0).id = "e1";
    Strand second = strand_of("second", {ellipse(60)});
    Strand owns = second;
    owns.edge = first.edge;
    const Recipe own = recipe_of({owns}, 96);
    first.on = false;
    second.from_of(ChainKind::edge) = "first";
    Recipe borrowed = recipe_of({first, second}, 96);
    CHECK(same_bytes(cloth(borrowed, size), cloth(own, size)));
    // What changes there changes here.
    borrowed = with_value(borrowed, {"first", "s1", "width"}, Value(40.0));
    CHECK(same_bytes(cloth(borrowed, size), cloth(own, size)));
    const Recipe changed = with_value(borrowed, {"first", "e1", "inset"}, Value(14.0));
    REQUIRE_FALSE(changed == borrowed);
    CHECK_FALSE(same_bytes(cloth(changed, size), cloth(own, size)));
    // Written and read it is the same; gone, what it gave stays.
    CHECK(read(write_recipe(borrowed)) == borrowed);
    const Recipe alone = strand_removed(borrowed, "first");
    CHECK(alone.strand("second")->from_of(ChainKind::edge).empty());
    CHECK(same_bytes(cloth(alone, size), cloth(own, size)));
    // Round in a circle is refused.
    CHECK_FALSE(circle(with_value(borrowed, {"first", "", "edge-from"}, Value(word("second")))).empty());
}

TEST_CASE("what a file leaves out means what it did when the file was written", "[recipe][defaults]") {
    const std::string old = R"({"format": "keen-loom/1", "strands": [{"id": "a", "steps": [
        {"id": "s1", "step": "clouds"}, {"id": "s2", "step": "hollows"},
        {"id": "s3", "step": "hollows", "set": {"spread": 300}}]}]})";
    const Recipe then = read(old);
    const Parameter& spread = *find_step("hollows")->parameter("spread");
    REQUIRE(spread.once.size() == 1);
    CHECK(value_or_default(spread, then.step({"a", "s2", ""})->set) == spread.once.front().value);
    // What is said counts, also where it is the default of today.
    CHECK(value_or_default(spread, then.step({"a", "s3", ""})->set) == spread.fallback);
    CHECK(then.step({"a", "s3", ""})->set.empty());
    std::string today = old;
    today.insert(1, "\"defaults\": 1, ");
    CHECK(read(today).step({"a", "s2", ""})->set.empty());
    // Written today it says so, and is read as it was.
    CHECK(read(write_recipe(then)) == then);
    // Steps of a mask worked on a form's colours then.
    const auto mask = [&](const char* defaults) {
        return read(std::string(R"({"format": "keen-loom/1", )") + defaults +
                    R"("strands": [{"id": "a", "steps": [{"id": "s1", "step": "flat"}],
                        "mask": [{"id": "m1", "step": "shape"}, {"id": "m2", "step": "invert"}]}]})")
            .strand("a")
            ->masking.as_picture;
    };
    CHECK(mask(""));
    CHECK_FALSE(mask("\"defaults\": 1, "));
}

TEST_CASE("every default that was another once is told as a value the parameter can have", "[catalogue][defaults]") {
    int count = 0;
    for (const StepDescription& step : all_steps())
        for (const Parameter& p : step.parameters)
            for (const OnceDefault& once : p.once) {
                CAPTURE(std::string(step.id), std::string(p.id));
                CHECK(once.before >= 1);
                CHECK(once.before <= present_defaults);
                CHECK_FALSE(refuses(p, once.value));
                CHECK(once.value != p.fallback);
                ++count;
            }
    CHECK(count > 20);
}

TEST_CASE("steps without effect are named with their place", "[recipe][idle]") {
    Strand strand =
        strand_of("a", {{"clouds", {}}, {"shape", {}}, {"levels", {{"in-black", 0.9}, {"in-white", 0.1}}}, {"invert", {}}});
    strand.steps.change(3).amount = 0;
    strand.edge = strand_of("e", {{"gaussian", {}}, {"rim", {{"width", 0.0}}}}).steps;
    strand.join.within = true;
    std::vector<std::string> places;
    for (const IdleStep& each : idle_steps(recipe_of({strand}, 96))) {
        places.push_back(each.pointer);
        CHECK(each.message.ends_with('.'));
    }
    CHECK(places == std::vector<std::string>{"/strands/0/steps/0", "/strands/0/steps/2", "/strands/0/steps/3",
                                             "/strands/0/edge/0", "/strands/0/edge/1", "/strands/0/join/within"});
    // A form that is cut out of what stands before it replaces nothing.
    const Strand works = strand_of("a", {{"clouds", {}}, ellipse(30, "taken"), {"levels", {}}});
    CHECK(idle_steps(recipe_of({works}, 96)).empty());
}

TEST_CASE("dots of a join lie and are as many as it says", "[joins][stipple]") {
    Join join;
    join.blend = Blend::stipple, join.amount = 50;
    const auto covered = [&](StippleDots dots) {
        Join own = join;
        own.dots = dots;
        const Recipe recipe = recipe_of({strand_of("a", {{"flat", {{"colour", Colour{0, 0, 0}}}}}),
                                         strand_of("b", {{"flat", {{"colour", Colour{1, 1, 1}}}}}, own)},
                                        96);
        CHECK(read(write_recipe(recipe)) == recipe);
        return cloth(recipe, size).channel(0).clone();
    };
    CHECK(mean_of(covered({})) == Approx(0.5).margin(0.05));
    CHECK(mean_of(covered({StipplePattern::blue, 2.5, 50})) == Approx(0.25).margin(0.05));
    CHECK(mean_difference(covered({StipplePattern::clustered, 8, 100}), covered({StipplePattern::white, 8, 100})) > 0.1);
}
