// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What follows from a height, and what strands feed into the maps.
#include <cmath>

#include "core/image/surface.h"
#include "tests/support/convolution.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

constexpr double deep = 32;

Plane sky_over(const Plane& height, double pixels_per_design_px) {
    std::vector<Plane> soft;
    for (double px : occlusion_px)
        soft.push_back(SoftHeight(height.size(), px * pixels_per_design_px).of(height, height.rows(), job));
    std::vector<const Plane*> all;
    for (const Plane& each : soft) all.push_back(&each);
    const double scaled = deep * pixels_per_design_px;
    return occlusion_map(height, all, scaled, pixels_per_design_px, height.rows(), job).channel(0).clone();
}

}  // namespace

TEST_CASE("a level height gives a normal that points straight up and an open sky", "[maps]") {
    const Plane level({16, 16}, 0.3f);
    const Bundle normal = normal_map(level, 32, level.rows(), job);
    CHECK(normal.channel(0).at(3, 3) == Approx(0.5));
    CHECK(normal.channel(1).at(3, 3) == Approx(0.5));
    CHECK(normal.channel(2).at(3, 3) == Approx(1));
    CHECK(sky_over(level, 1).at(3, 3) == Approx(1).margin(1e-3));
}

TEST_CASE("normals lean away from rising ground, the same at every size", "[maps]") {
    // Rises to the right by one design pixel in four, within the middle.
    Plane ramp({64, 64});
    for (int y = 0; y < 64; ++y)
        for (int x = 0; x < 64; ++x) ramp.row(y)[x] = static_cast<float>(x / 4.0 / height_range_px);
    const Bundle normal = normal_map(ramp, 32, ramp.rows(), job);
    const double slope = 0.25, length = std::sqrt(1 + slope * slope);
    CHECK(normal.channel(0).at(30, 30) == Approx(0.5 - 0.5 * slope / length).margin(1e-4));
    CHECK(normal.channel(2).at(30, 30) == Approx(0.5 + 0.5 / length).margin(1e-4));
    const Plane large = resized(ramp, {128, 128});
    const Bundle twice = normal_map(large, 64, large.rows(), job);
    CHECK(twice.channel(0).at(60, 60) == Approx(normal.channel(0).at(30, 30)).margin(1e-3));
}

TEST_CASE("a pit sees less sky than its rim", "[maps]") {
    Plane pit({64, 64}, 0.5f);
    for (int y = 28; y < 36; ++y)
        for (int x = 28; x < 36; ++x) pit.row(y)[x] = 0.2f;
    const Plane sky = sky_over(pit, 1);
    CHECK(sky.at(32, 32) < 0.7);
    CHECK(sky.at(4, 4) > 0.97);
}

TEST_CASE("routes feed the maps they name and nothing else", "[maps]") {
    Strand a = strand_of("a", {{"flat", {{"colour", Colour{1, 1, 1}}}}});
    a.routes[Map::metalness] = {Blend::plus, 60};
    const Recipe r = recipe_of({a});
    std::vector<Wanted> wanted;
    for (const MapInfo& info : map_table) wanted.push_back({Wanted::What::map, "", "", info.map});
    const auto rendering = render(r, {16, 16}, wanted, {}, job);
    REQUIRE(rendering);
    auto middle = [&](Map map) { return rendering->results.at({Wanted::What::map, "", "", map}).channel(0).at(8, 8); };
    CHECK(middle(Map::metalness) == Approx(0.6));
    CHECK(middle(Map::height) == Approx(0.5));
    CHECK(middle(Map::roughness) == Approx(0.5));
    CHECK(middle(Map::colour) == Approx(1));
    CHECK(middle(Map::normal) == Approx(0.5));
    CHECK(middle(Map::occlusion) == Approx(1));
    CHECK(find_map("normal") == Map::normal);
    CHECK_FALSE(find_map("bump"));
}

TEST_CASE("the open sky is that of whole blurs, also where they are made smaller", "[maps]") {
    // Steps and noise, in a tile that no power of two divides.
    Plane height = random_plane({203, 150}, 4, 0.4f, 0.6f);
    for (int y = 50; y < 100; ++y)
        for (int x = 70; x < 130; ++x) height.row(y)[x] += 0.25f;
    for (double scale : {0.5, 1.0, 5.5}) {
        Plane expected(height.size(), 1.0f);
        for (double px : occlusion_px) {
            const double radius = px * scale;
            const Plane soft = direct_gaussian(height, radius, radius);
            for (int y = 0; y < height.height(); ++y)
                for (int x = 0; x < height.width(); ++x)
                    expected.row(y)[x] *= static_cast<float>(
                        std::exp(-deep * scale / std::max(0.5, radius) * std::max(0.0f, soft.at(x, y) - height.at(x, y))));
        }
        INFO("at " << scale << " pixels");
        CHECK(greatest_difference(sky_over(height, scale), expected) < 1.0 / 255);
    }
    const auto side = [](double radius) { return SoftHeight({403, 250}, radius).size; };
    CHECK(side(11) == Size{403, 250});
    CHECK(side(33) == Size{101, 63});
    CHECK(side(88) == Size{50, 31});
}
