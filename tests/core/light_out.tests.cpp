// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Baked relief taken out into the height map, and put back.
#include "core/recipe/light_out.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

Values relief(double depth) { return {{"depth", depth}, {"shine", 0.0}, {"ambient", 0.0}}; }

Bundle height_map(const Recipe& recipe, Size size) {
    const Wanted high{Wanted::What::map, "", "", Map::height};
    const Job job;
    auto made = render(recipe, size, {high}, {}, job);
    REQUIRE(made);
    return made->results.at(high);
}

}  // namespace

TEST_CASE("light taken out is height, as deep as it was lit, and the colour is that of level ground", "[light-out]") {
    const Size size{128, 128};
    const Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 4}, {"relief", relief(8), 0}})}, 128);
    const Recipe plain = recipe_of({strand_of("a", {{"clouds", {}, 4}})}, 128);
    REQUIRE(has_light_in(recipe));
    CHECK_FALSE(has_light_out(recipe));
    const Recipe out = light_taken_out(recipe);
    CHECK(has_light_out(out));
    CHECK_FALSE(has_light_in(out));
    CHECK(mean_difference(cloth(out, size).channel(0), cloth(plain, size).channel(0)) < 1e-4);
    CHECK(mean_difference(cloth(recipe, size).channel(0), cloth(plain, size).channel(0)) > 0.01);
    // The map reaches `deep` pixels from black to white.
    const Bundle high = height_map(out, size);
    const Bundle tone = cloth(plain, size);
    for (std::size_t i = 0; i < high.channel(0).count(); i += 97)
        CHECK((high.channel(0).data()[i] - 0.5) * out.tile.deep == Approx((tone.channel(0).data()[i] - 0.5) * 8).margin(1e-3));
    CHECK(light_put_back(out) == recipe);
}

TEST_CASE("several reliefs of a strand come out each as deep as it was, and a deep one widens the map", "[light-out]") {
    const Size size{64, 64};
    // Half of white and half of black over each other say how deep each is.
    const Recipe recipe = recipe_of({strand_of("a", {{"flat", {{"colour", Colour{1, 1, 1}}}, 0},
                                                     {"relief", relief(30), 0},
                                                     {"flat", {{"colour", Colour{0, 0, 0}}}, 0},
                                                     {"relief", relief(-10), 0},
                                                     {"relief", relief(24), 0}})},
                                    64);
    const Recipe out = light_taken_out(recipe);
    CHECK(out.tile.deep == 64);
    // White is 30 high; of black upside down 10; black below by 24: (30 + 10) of 64.
    CHECK(height_map(out, size).channel(0).data()[77] == Approx(40.0 / 64).margin(1e-4));
    Recipe back = light_put_back(out);
    back.tile.deep = recipe.tile.deep;
    CHECK(back == recipe);
}

TEST_CASE("a strand that feeds the height map already goes on doing so by its own route", "[light-out]") {
    Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 4}, {"relief", relief(48), 0}})}, 64);
    Strand strand = *recipe.strands[0];
    strand.routes[Map::height].amount = 60;
    recipe.strands[0] = std::make_shared<const Strand>(strand);
    const Recipe out = light_taken_out(recipe);
    // What was fed keeps its depth in a map that reaches deeper.
    CHECK(out.tile.deep == 48);
    CHECK(out.strands[0]->routes.at(Map::height).amount == Approx(60 * recipe.tile.deep / 48));
    // Steps that are off, and those of strands without a relief, stay as they are.
    Recipe off = recipe;
    strand.steps.change(1).on = false;
    off.strands[0] = std::make_shared<const Strand>(strand);
    CHECK_FALSE(has_light_in(off));
    CHECK(light_taken_out(off) == off);
}

TEST_CASE("reliefs at the end of a strand's edge come out too", "[light-out]") {
    Recipe recipe = recipe_of({strand_of("a", {{"clouds", {}, 4}})}, 64);
    Strand strand = *recipe.strands[0];
    strand.edge = {Step{"e1", "relief", true, 100, "", {}, 0, "", relief(8)}};
    recipe.strands[0] = std::make_shared<const Strand>(strand);
    REQUIRE(has_light_in(recipe));
    const Recipe out = light_taken_out(recipe);
    CHECK_FALSE(has_light_in(out));
    CHECK(deviation_of(height_map(out, {64, 64}).channel(0)) > 0.01);
    CHECK(light_put_back(out) == recipe);
}
