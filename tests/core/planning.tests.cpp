// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Recipes within recipes are planned once each, and a plan that would have no end is refused.
#include "core/base/guard.h"
#include "core/render/plan.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

Result<std::size_t> planned(const Recipe& recipe, const Job& with) {
    return guarded("planning", [&]() -> Result<std::size_t> {
        return make_plan(recipe, {64, 64}, {Wanted{}}, nullptr, &with).nodes.size();
    });
}

}  // namespace

TEST_CASE("a recipe that is shown many times is planned once, however deep it lies", "[plan]") {
    const auto alike = [](int) { return Values{}; };
    for (int depth : {1, 2, 3, 4}) {
        const auto nodes = planned(nested_recipe(depth, 100, alike), job);
        INFO(depth);
        REQUIRE(nodes);
        // One for each join at most.
        CHECK(*nodes < 200u * static_cast<unsigned>(depth));
    }
    // Shown otherwise it is another.
    const auto twice = planned(nested_recipe(1, 2, [](int k) { return Values{{"scale", k == 0 ? 100.0 : 50.0}}; }), job);
    const auto once = planned(nested_recipe(1, 2, alike), job);
    REQUIRE(twice);
    REQUIRE(once);
    CHECK(*twice > *once);
}

TEST_CASE("a plan without an end is refused in one line, and given up when nobody wants it", "[plan]") {
    const Recipe endless = nested_recipe(4, 100, [](int k) { return Values{{"scale", 20.0 + 5 * k}}; });
    const auto refused = planned(endless, job);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().fault == Fault::memory);
    CHECK_THAT(refused.error().message, Catch::Contains("'Level 3'") && Catch::Contains(std::to_string(most_planned)));
    CHECK(lines_in(refused.error().message) == 0);
    // The same from every door.
    const auto rendering = render(endless, {64, 64}, {Wanted{}}, {}, job);
    REQUIRE_FALSE(rendering);
    CHECK(rendering.error().message == refused.error().message);
    Job given_up;
    given_up.cancel();
    const auto cancelled = planned(endless, given_up);
    REQUIRE_FALSE(cancelled);
    CHECK(cancelled.error().fault == Fault::cancelled);
}

TEST_CASE("as many strands as a file can hold, each on the one before it or on all of them, are planned", "[plan]") {
    for (const bool beneath : {false, true}) {
        std::vector<Strand> all{strand_of("s0", {{"clouds", {}}})};
        for (int k = 1; k < 4096; ++k)
            all.push_back(beneath ? strand_of("s" + std::to_string(k), {{"beneath", {}}})
                                  : strand_of("s" + std::to_string(k), {{"borrow", {{"strand", "s" + std::to_string(k - 1)}}}}));
        const auto nodes = planned(recipe_of(std::move(all), 64), job);
        INFO((beneath ? "beneath" : "borrow") << (nodes ? "" : nodes.error().message));
        REQUIRE(nodes);
        CHECK(*nodes < 4 * 4096);
    }
}
