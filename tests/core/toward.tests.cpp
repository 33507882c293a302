// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The search toward a picture finds settings that are known, tells the best as they come, and stops at once.
#include <cmath>

#include "core/measure/toward.h"
#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

Recipe cloudy() {
    Recipe recipe =
        recipe_of({strand_of("a", {{"clouds", {{"size-x", 24.0}, {"size-y", 24.0}}, 4},
                                   {"levels", {}},
                                   {"gradientmap", {{"stops", Stops{{0, {0.2f, 0.1f, 0.05f}, 0}, {1, {0.9f, 0.8f, 0.6f}, 0}}}}},
                                   {"huesat", {}}})},
                  128);
    recipe.dials.push_back({"Turn", 50, {{{"a", "s4", "hue"}, -90, 90}}});
    return recipe;
}

}  // namespace

TEST_CASE("likeness grows with likeness", "[toward]") {
    const Recipe recipe = cloudy();
    const Goal goal = goal_of(cloth(recipe, {96, 96}), 96, job);
    const auto away = [&](const Recipe& other) { return unlikeness(cloth(other, {96, 96}), goal, job); };
    CHECK(away(recipe) < 1e-6);
    // Another piece of the same is near; other tones, other grain and other colours are far, and farther the more they differ.
    CHECK(away(with_seed(recipe, 9)) < 0.08);
    const auto with = [&](const char* step, const char* id, double value) {
        return away(with_value(recipe, {"a", step, id}, Value(value)));
    };
    CHECK(with("s2", "in-black", 0.3) > 0.05);
    CHECK(with("s2", "in-black", 0.5) > with("s2", "in-black", 0.3));
    CHECK(with("s4", "hue", 60.0) > 0.1);
    CHECK(with("s1", "size-x", 4.0) > 0.03);
    CHECK(unlikeness(Bundle::nothing({96, 96}), goal, job) == 1);
}

TEST_CASE("a search finds the dial and the value a picture was made with", "[toward]") {
    const Recipe recipe = cloudy();
    Recipe hidden = with_dial(recipe, "Turn", 72);
    hidden = with_value(hidden, {"a", "s2", "in-black"}, Value(0.35));
    const Goal goal = goal_of(cloth(hidden, {96, 96}), 96, job);
    SearchPlan plan;
    plan.knobs = {{"Turn", {}, 0, 100}, {"", {"a", "s2", "in-black"}, 0, 0.8}};
    plan.tries = 200;
    Cache cache(std::size_t{64} << 20);
    RenderOptions options;
    options.cache = &cache;
    int told = 0, tried = 0;
    double last = 1e9;
    const auto found = search_toward(recipe, plan, goal, options, job, [&](const std::vector<Found>& best, int count) {
        ++told, tried = count;
        // Best first, never worse than before, none like another.
        CHECK(best.front().away <= last + 1e-12);
        last = best.front().away;
        for (std::size_t k = 1; k < best.size(); ++k) CHECK(best[k].away >= best[k - 1].away);
    });
    REQUIRE(found);
    CHECK(told > 5);
    CHECK(tried >= 200);
    CHECK(tried < 205);
    CHECK(found->size() <= 12);
    CHECK(found->size() >= 4);
    CHECK(found->front().values[0] == Approx(72).margin(4));
    CHECK(found->front().values[1] == Approx(0.35).margin(0.06));
    CHECK(found->front().away < 0.03);
    // The same search finds the same, and the recipe turned so is nearly what was hidden.
    const auto again = search_toward(recipe, plan, goal, options, job, [](const auto&, int) {});
    REQUIRE(again);
    CHECK(again->front().values == found->front().values);
    CHECK(unlikeness(cloth(turned(recipe, plan.knobs, found->front().values), {96, 96}), goal, job) ==
          Approx(found->front().away));
}

TEST_CASE("a search stops when it is cancelled, and is refused without anything to change", "[toward][faults]") {
    const Recipe recipe = cloudy();
    const Goal goal = goal_of(cloth(recipe, {64, 64}), 64, job);
    SearchPlan plan;
    CHECK(search_toward(recipe, plan, goal, {}, job, [](const auto&, int) {}).error().fault == Fault::call);
    plan.knobs = {{"Turn", {}, 0, 100}};
    Job stopped;
    int tried = 0;
    const auto result = search_toward(recipe, plan, goal, {}, stopped, [&](const std::vector<Found>&, int count) {
        tried = count;
        if (count >= 5) stopped.cancel();
    });
    REQUIRE_FALSE(result);
    CHECK(result.error().fault == Fault::cancelled);
    CHECK(tried < 20);
}
