// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The smallest pictures, as they are made while somebody drags: fewer things stand for many, and what is finer than a pixel is
// left out, but they are as light and as covered as the large picture made small.
#include "core/image/sample.h"
#include "core/structures/supersampled.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

constexpr int tile = 1024, small = 96;

struct Both {
    Bundle small, large;  ///< the large one made small
};
Both made(const std::string& kind, const Values& set) {
    const Recipe recipe = recipe_of({strand_of("a", {{kind, set, 5}})}, tile);
    RenderOptions options;
    const auto at = [&](int side) {
        const Wanted wanted{Wanted::What::step, "a", "s1", Map::height};
        auto result = render(recipe, {side, side}, {wanted}, options, Job{});
        REQUIRE(result);
        return result->results.at(wanted);
    };
    return {at(small), resized(at(tile), {small, small}, Job{})};
}

double covered(const Bundle& bundle) { return bundle.coverage ? mean_of(*bundle.coverage) : 1; }

}  // namespace

TEST_CASE("few things stand for many only where pixels are eight design pixels wide, and cover as much", "[small]") {
    StepContext context;
    context.tile = {tile, tile};
    context.size = {tile, tile};
    CHECK(simplified(context, 9000, 0.1).count == 9000);
    context.size = {small, small};
    for (double part : {0.05, 0.3, 0.9, 1.0, 7.0}) {
        const Fewer fewer = simplified(context, 9000, part);
        INFO(part << ": " << fewer.count << " of area " << fewer.area);
        CHECK(fewer.count * fewer.area == Approx(9000).epsilon(0.001));
        CHECK(fewer.area <= 6);
        CHECK(fewer.area * part <= std::max(1.0, part) + 1e-9);
    }
    // No more, and of the thing's own size, where it is large enough.
    CHECK(simplified(context, 500, 1).count == 500);
    CHECK(simplified(context, 0, 0.1).count == 0);
}

TEST_CASE("strokes and flakes are as dense in the smallest pictures as in the large one", "[small]") {
    // Edges are as wide as a pixel, which adds a little to small things.
    const Values hairs{{"count", 9000.0}, {"length", 58.0}, {"width", 1.9}, {"curl", 26.0}};
    for (const char* combine : tried<const char*>({"over", "shadow", "lighter", "darker"})) {
        Values set = hairs;
        set["combine"] = std::string(combine);
        const Both pair = made("dashes", set);
        INFO("dashes " << combine);
        CHECK(mean_of(*pair.small.colour[0]) == Approx(mean_of(*pair.large.colour[0])).margin(0.07));
        CHECK(covered(pair.small) == Approx(covered(pair.large)).margin(0.07));
    }
    for (const char* overlap : {"free", "stacked"})
        for (double count : tried<double>({2000.0, 12000.0, 52000.0})) {
            const Both pair = made(
                "scatter", {{"count", count}, {"size", 9.4}, {"motif", std::string("flake")}, {"overlap", std::string(overlap)}});
            INFO("scatter " << overlap << " " << count);
            CHECK(mean_of(*pair.small.colour[0]) == Approx(mean_of(*pair.large.colour[0])).margin(0.045));
            CHECK(covered(pair.small) == Approx(covered(pair.large)).margin(0.075));
        }
}

TEST_CASE("facets finer than pixels are left out of small pictures, not of the sheet's height", "[small]") {
    for (double levels : {1.0, 3.0, 6.0}) {
        const Both pair = made("facets", {{"count", 110.0}, {"levels", levels}});
        INFO(levels);
        CHECK(mean_of(*pair.small.colour[0]) == Approx(mean_of(*pair.large.colour[0])).margin(0.02));
        CHECK(deviation_of(*pair.small.colour[0]) == Approx(deviation_of(*pair.large.colour[0])).epsilon(0.15));
        CHECK(mean_difference(*pair.small.colour[0], *pair.large.colour[0]) < 0.03);
    }
}
