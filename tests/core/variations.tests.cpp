// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Axes of a try sheet, the questions behind them, and colourways made of their answers.
#include <set>

#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "core/recipe/question.h"
#include "core/recipe/ramps.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

Recipe two_strands() {
    Join join;
    join.blend = Blend::multiply;
    return recipe_of({strand_of("a", {{"clouds", {{"size-x", 60.0}}, 4}, {"levels", {{"in-black", 0.2}}}, {"gradientmap", {}}}),
                      strand_of("b", {{"static", {}, 7}}, join)});
}

std::vector<double> numbers(const Axis& axis, const Address& at) {
    std::vector<double> all;
    for (const Variant& each : axis.variants) all.push_back(as<double>(each.set.at(at)));
    return all;
}

}  // namespace

TEST_CASE("a range is cut into values that can be read, between its ends, with the present one among them", "[variations]") {
    const Recipe recipe = two_strands();
    const Address size{"a", "s1", "size-x"}, octaves{"a", "s1", "octaves"}, black{"a", "s2", "in-black"};
    const auto plain = numbers(value_axis(recipe, black, {0, 0.5}, 6, false), black);
    REQUIRE(plain.size() == 6);
    for (std::size_t k = 0; k < 6; ++k) CHECK(plain[k] == Approx(0.1 * double(k)).margin(1e-9));
    const auto spread = numbers(value_axis(recipe, size, {10, 250}, 5, false), size);
    REQUIRE(spread.size() == 5);
    CHECK(spread.front() == 10);
    CHECK(spread.back() == 250);
    // Small values have more room, as on the slider, and none has more than three digits.
    CHECK(spread[1] - spread[0] < spread[4] - spread[3]);
    for (double each : spread) CHECK(each == Approx(std::round(each)));
    const auto with_now = numbers(value_axis(recipe, size, {10, 250}, 5, true), size);
    CHECK(std::count(with_now.begin(), with_now.end(), 60.0) == 1);
    CHECK(std::is_sorted(with_now.begin(), with_now.end()));
    // Counts are whole and not shown twice; ends the wrong way round are turned.
    CHECK(numbers(value_axis(recipe, octaves, {4, 1}, 9, false), octaves) == std::vector<double>{1, 2, 3, 4});
    CHECK(value_axis(recipe, {"a", "s9", "size-x"}, {0, 1}, 5, true).variants.empty());
    CHECK(value_axis(recipe, size, {10, 250}, 1, false).variants.size() == 1);
}

TEST_CASE("closer halves a range around a value and wider doubles it, within what is allowed", "[variations]") {
    const Recipe recipe = two_strands();
    const Address black{"a", "s2", "in-black"};
    const Span near = closer(recipe, black, {0, 1}, 0.2);
    CHECK(near.from == Approx(0).margin(1e-9));
    CHECK(near.to == Approx(0.45).margin(0.01));
    const Span wide = wider(recipe, black, {0.4, 0.6});
    CHECK(wide.from == Approx(0.3).margin(0.01));
    CHECK(wide.to == Approx(0.7).margin(0.01));
    CHECK(wider(recipe, black, {0, 1}) == Span{0, 1});
    const Span usual = usual_span(recipe, {"a", "s1", "size-x"});
    CHECK(usual.from < 60);
    CHECK(usual.to > 60);
}

TEST_CASE("every axis varies what it says, labels differ, and the present state is found", "[variations]") {
    Recipe recipe = two_strands();
    recipe = colourway_of(recipe, "Pale", {"", {{{"a", "s2", "in-black"}, Value(0.0)}}});
    const auto check = [&](const Axis& axis, std::size_t count, int present) {
        INFO(axis.title);
        CHECK(axis.variants.size() == count);
        CHECK(present_variant(recipe, axis) == present);
        std::set<std::string> labels;
        for (const Variant& each : axis.variants) {
            CHECK(labels.insert(each.label).second);
            // What a variant sets is what is there then.
            const Recipe next = varied(recipe, each);
            for (const auto& [at, value] : each.set) CHECK(value_at(next, at) == value);
        }
    };
    check(choice_axis(recipe, {"b", "", "blend"}), blend_names().size(), 3);
    check(choice_axis(recipe, {"a", "s3", "reverse"}), 2, 0);
    check(seed_axis(recipe, {"a", "s1", "seed"}, 6), 6, 0);
    check(seed_axis(recipe, {"", "", "seed"}, 4), 4, 0);
    check(presence_axis(recipe, "a"), 4, 0);
    check(colourway_axis(recipe), 2, 0);
    check(ramp_axis(recipe, {"a", "s3", "stops"}), ramp_library().size() + 1, 0);
    CHECK(varied(recipe, presence_axis(recipe, "a").variants[2]).step({"a", "s2", ""})->on == false);
    CHECK(varied(recipe, seed_axis(recipe, {"", "", "seed"}, 4).variants[3]).seed == recipe.seed + 3);
    // Ramps keep the grain that was there.
    Recipe grainy = with_value(recipe, {"a", "s3", "stops"}, Value(Stops{{0, {0, 0, 0}, 12}, {1, {1, 1, 1}, 4}}));
    CHECK(as<Stops>(ramp_axis(grainy, {"a", "s3", "stops"}).variants.back().set.begin()->second).front().grain == 12);
    for (const NamedRamp& ramp : ramp_library()) {
        INFO(ramp.name);
        CHECK_FALSE(refuses(*find_step("gradientmap")->parameter("stops"), Value(ramp.stops)));
        // From dark to light, as a gradient map reads it.
        for (std::size_t k = 1; k < ramp.stops.size(); ++k)
            CHECK(to_oklab(ramp.stops[k].colour).lightness > to_oklab(ramp.stops[k - 1].colour).lightness);
    }
}

TEST_CASE("a sheet that is empty, or shorter than it was, has no variant to take", "[variations]") {
    SheetAxes axes;
    CHECK(axes.count() == 0);
    CHECK(axes.variant(0).set.empty());
    axes.across.variants = {{"one", {{{"a", "s1", "octaves"}, Value(1.0)}}}};
    CHECK(axes.variant(0).set.size() == 1);
    CHECK(axes.variant(1).set.empty());
}

TEST_CASE("questions fit themselves to the recipe and to what is worked on", "[variations][question]") {
    const Recipe recipe = two_strands();
    Question q;
    q.what = Question::What::two;
    const Question two = suited(recipe, q, {"a", "s1", ""});
    CHECK(two.across.strand == "a");
    CHECK(two.across.step == "s1");
    CHECK(two.down.step == "s1");
    CHECK(two.across != two.down);
    CHECK(axes_of(recipe, two).count() > 4);
    q.what = Question::What::blend;
    CHECK(suited(recipe, q, {"a", "s1", ""}).across.strand == "b");
    q.what = Question::What::seed, q.across = {"a", "gone", "seed"};
    CHECK(suited(recipe, q, {"b", "s1", ""}).across == Address{"b", "s1", "seed"});
    CHECK(question_about(recipe, {"b", "", "blend"})->what == Question::What::blend);
    CHECK(question_about(recipe, {"a", "s3", "stops"})->what == Question::What::colours);
    CHECK(question_about(recipe, {"a", "s1", "seed"})->what == Question::What::seed);
    CHECK(question_about(recipe, {"a", "s1", "size-x"})->what == Question::What::one);
    CHECK_FALSE(question_about(recipe, {"a", "", "blend"}));
    CHECK_FALSE(question_about(recipe, {"a", "s9", "size-x"}));
    // Row by row, each cell sets both places.
    Question both;
    both.what = Question::What::two, both.across = {"a", "s2", "in-black"}, both.down = {"a", "s1", "octaves"};
    both.columns = 3, both.rows = 4;
    const double octaves = as<double>(*value_at(recipe, both.down));
    both.down_span = Span{octaves - 1, octaves + 2};
    const SheetAxes axes = axes_of(recipe, both);
    REQUIRE(axes.count() == 12);
    CHECK(axes.variant(4).set.size() == 2);
    CHECK(axes.variant(3).set.at(both.across) == axes.variant(0).set.at(both.across));
    CHECK(axes.variant(3).set.at(both.down) != axes.variant(0).set.at(both.down));
    CHECK(varied(recipe, axes.variant(static_cast<std::size_t>(axes.present(recipe)))) == recipe);
}

TEST_CASE("a try kept as a colourway leaves the recipe as it is, and any colourway can be gone back to",
          "[variations][colourways]") {
    const Recipe recipe = two_strands();
    const Address black{"a", "s2", "in-black"}, blend{"b", "", "blend"};
    Recipe kept = colourway_of(recipe, "Night", {"", {{black, Value(0.6)}}});
    CHECK(value_at(kept, black) == Value(0.2));
    CHECK(value_at(with_colourway(kept, "Night"), black) == Value(0.6));
    kept = colourway_of(kept, "Day", {"", {{black, Value(0.2)}, {blend, Value(std::string("screen"))}}});
    // Night knows the blend too now, or it would keep that of Day.
    const Recipe there = with_colourway(kept, "Day"), back = with_colourway(there, "Night");
    CHECK(value_at(there, blend) == Value(std::string("screen")));
    CHECK(value_at(back, blend) == Value(std::string("multiply")));
    CHECK(value_at(back, black) == Value(0.6));
}
