// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lit map: the pixels of the lit view, the same at every size and anywhere on the tile, and what each number of the lamp and
// of the finish does to it.
#include <algorithm>
#include <cmath>

#include "core/maps/lit.h"
#include "core/recipe/json.h"
#include "core/recipe/places.h"
#include "core/render/lighting.h"
#include "core/render/render.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Wanted lit{Wanted::What::map, "", "", Map::lit};

/// Pebbles with all that a light falls on.
Recipe pebbles() {
    Strand a = strand_of("a", {{"cells", {{"size", 24.0}}, 3}});
    a.routes[Map::height] = {Blend::normal, 100};
    a.routes[Map::roughness] = {Blend::normal, 60};
    Recipe recipe = recipe_of({a}, 128);
    recipe.tile.deep = 8;
    return recipe;
}

Bundle lit_of(const Recipe& recipe, Size size, RenderWay way = RenderWay::whole) {
    RenderOptions options;
    options.way = way;
    auto made = render(recipe, size, {lit}, options, job);
    REQUIRE(made);
    return made->results.at(lit);
}

struct Tones {
    double red = 0, green = 0, blue = 0, spread = 0, brightest = 0;
};
Tones tones_of(const Bundle& picture) {
    Tones t;
    double squares = 0;
    const auto count = static_cast<double>(picture.size().pixels());
    for (std::size_t i = 0; i < picture.size().pixels(); ++i) {
        t.red += picture.channel(0).data()[i] / count, t.green += picture.channel(1).data()[i] / count;
        t.blue += picture.channel(2).data()[i] / count;
        const double tone = picture.channel(1).data()[i];
        squares += tone * tone / count, t.brightest = std::max(t.brightest, tone);
    }
    t.spread = std::sqrt(std::max(0.0, squares - t.green * t.green));
    return t;
}

Tones lit_with(Recipe recipe, std::initializer_list<std::pair<const char*, Value>> set) {
    for (const auto& [at, value] : set) recipe = with_value(std::move(recipe), *Address::parse(at), value);
    return tones_of(lit_of(recipe, {128, 128}));
}

double mean_difference(const Bundle& a, const Bundle& b) {
    double sum = 0;
    for (int c = 0; c < 3; ++c)
        for (std::size_t i = 0; i < a.size().pixels(); ++i)
            sum += std::abs(static_cast<double>(a.channel(c).data()[i]) - static_cast<double>(b.channel(c).data()[i]));
    return sum / (3.0 * static_cast<double>(a.size().pixels()));
}

}  // namespace

TEST_CASE("the lit map has the pixels of the lit view's flat tile", "[lit]") {
    Recipe recipe = pebbles();
    recipe.finish = {30, 40, 20, 50}, recipe.lamp.room = RoomKind::signal;
    const Size size{128, 128};
    const auto rendered = render(recipe, size, wanted_for_light(), {}, job);
    REQUIRE(rendered);
    const LitMaterial material(maps_for_light(recipe, size, rendered->results), job);
    const auto view = lit_picture(material, lit_geometry(LitShape::tile, size, 1, 1), light_of(recipe.lamp), 0.1f, job,
                                  finish_of(recipe.finish));
    const Bundle map = lit_of(recipe, size);
    int farthest = 0;
    for (std::size_t i = 0; i < size.pixels(); ++i)
        for (int c = 0; c < 3; ++c) {
            const int there = static_cast<int>(view[i] >> (16 - 8 * c) & 255),
                      here = static_cast<int>(map.channel(c).data()[i] * 255 + 0.5f);
            farthest = std::max(farthest, std::abs(there - here));
        }
    CHECK(farthest <= 1);
}

TEST_CASE("the lit map wraps, is the same in bands and at every size", "[lit][bands]") {
    Recipe recipe = pebbles();
    recipe.finish.spread = 60;
    const Bundle whole = lit_of(recipe, {256, 256}), bands = lit_of(recipe, {256, 256}, RenderWay::bands);
    CHECK(mean_difference(whole, bands) == 0);
    // Across the edges it changes no more than inside.
    double inside = 0, across = 0;
    for (int y = 0; y < 256; ++y) {
        const float* row = whole.channel(1).row(y);
        across += std::abs(static_cast<double>(row[0]) - static_cast<double>(row[255])) / 256;
        for (int x = 1; x < 256; ++x)
            inside += std::abs(static_cast<double>(row[x]) - static_cast<double>(row[x - 1])) / (256 * 255);
    }
    CHECK(across < 1.5 * inside);
    const Bundle large = lit_of(recipe, {512, 512});
    Bundle reduced;
    for (int c = 0; c < 3; ++c) reduced.colour.push_back(share(resized(large.channel(c), {256, 256}, job)));
    CHECK(mean_difference(whole, reduced) < 8.0 / 255);
}

TEST_CASE("every number of the lamp and the finish does what it says", "[lit]") {
    const Recipe recipe = pebbles();
    const Tones plain = lit_with(recipe, {});
    const Tones warm = lit_with(recipe, {{"lamp.warmth", 100.0}}), cold = lit_with(recipe, {{"lamp.warmth", -100.0}});
    CHECK(warm.red - warm.blue > plain.red - plain.blue);
    CHECK(cold.red - cold.blue < -0.01);
    CHECK(lit_with(recipe, {{"lamp.strength", 200.0}}).green > plain.green + 0.05);
    CHECK(lit_with(recipe, {{"lamp.fill", 0.0}}).green < plain.green - 0.05);
    CHECK(lit_with(recipe, {{"lamp.exposure", -1.0}}).green < plain.green - 0.1);
    // What is varnished has highlights that it did not have; what is soft within has less contrast.
    const auto glint = [&](double coat) {
        return lit_with(recipe, {{"finish.coat", coat}, {"lamp.elevation", 70.0}, {"lamp.exposure", -2.5}}).brightest;
    };
    CHECK(glint(100) > glint(0) + 0.05);
    CHECK(lit_with(recipe, {{"finish.spread", 100.0}}).spread < 0.85 * plain.spread);
    CHECK(lit_with(recipe, {{"finish.sheen", 100.0}}).green > plain.green + 0.01);
    for (const RoomInfo& info : room_table) {
        INFO(info.id);
        const Tones room = lit_with(recipe, {{"lamp.room", std::string(info.id)}, {"finish.coat", 100.0}}),
                    turned =
                        lit_with(recipe, {{"lamp.room", std::string(info.id)}, {"finish.coat", 100.0}, {"lamp.turn", 120.0}});
        CHECK(std::abs(room.spread - turned.spread) + std::abs(room.red - turned.red) > 1e-4);
        CHECK(room.green > 0.1);
        CHECK(room.green < 0.95);
    }
    // A wide lamp throws a soft shadow.
    Strand wall = strand_of("wall", {{"stripes", {{"form", std::string("bar")}}}});
    wall.routes[Map::height] = {Blend::normal, 100};
    Recipe walls = recipe_of({wall, strand_of("paint", {{"flat", {}}})}, 128);
    walls.lamp.direction = 90;
    const auto steepest = [&](double width) {
        walls.lamp.width = width;
        const Bundle made = lit_of(walls, {128, 128});
        double most = 0;
        for (int y = 1; y < 128; ++y)
            for (int x = 1; x < 128; ++x) {
                const double here = made.channel(1).at(x, y);
                most += std::pow(here - static_cast<double>(made.channel(1).at(x - 1, y)), 2) +
                        std::pow(here - static_cast<double>(made.channel(1).at(x, y - 1)), 2);
            }
        return most;
    };
    CHECK(steepest(45) < steepest(1));
}

TEST_CASE("a transparent cloth is lit where it is, and keeps its coverage", "[lit]") {
    Strand a = strand_of("a", {{"dashes", {{"combine", std::string("over")}, {"count", 20.0}}}});
    const Recipe recipe = recipe_of({a}, 64);
    const Bundle map = lit_of(recipe, {64, 64}), cloth = *render_cloth(recipe, {64, 64}, {}, job);
    REQUIRE(map.coverage);
    CHECK(*std::min_element(map.coverage->data(), map.coverage->data() + map.size().pixels()) == 0);
    for (std::size_t i = 0; i < map.size().pixels(); ++i) {
        if (std::abs(map.coverage->data()[i] - cloth.coverage->data()[i]) > 1e-6f) FAIL("coverage at " << i);
        if (map.channel(0).data()[i] > map.coverage->data()[i] + 1e-6f) FAIL("brighter than it covers at " << i);
    }
}

TEST_CASE("the lamp, the finish and the picture of a recipe come back from its file", "[lit][json]") {
    Recipe recipe = pebbles();
    recipe.lamp = {20, 60, -40, 12.5, 150, RoomKind::store, -35, 80, 0.5};
    recipe.finish = {10, 20, 30, 40}, recipe.shown_lit = true;
    const Reading back = read_recipe(write_recipe(recipe));
    CHECK(back.findings.empty());
    CHECK(back.recipe == recipe);
    // What is as ever is not written.
    CHECK(write_recipe(pebbles()).find("finish") == std::string::npos);
    CHECK(write_recipe(pebbles()).find("\"lamp\"") == std::string::npos);
}
