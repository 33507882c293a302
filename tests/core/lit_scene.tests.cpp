// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The corner of the halt: everything at its real width, shadows where straight lines to the lamp say, one material beside
// another.
#include "core/maps/lit_scene.h"

#include <cmath>

#include "core/base/job.h"
#include "core/maps/lit.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

LitMaterial plain(float tone) {
    LitMaps maps;
    const Size size{4, 4};
    maps.colour = Bundle::of(Plane(size, tone), Plane(size, tone), Plane(size, tone));
    maps.roughness = share(Plane(size, 0.9f));
    return LitMaterial(maps, Job());
}

bool is(const LitGeometry& scene, std::size_t i, ScenePlace place) {
    return scene.material[i] == static_cast<std::uint8_t>(place);
}

}  // namespace

TEST_CASE("all three places of the corner are seen, and what lies on them is as wide as it is", "[lit][scene]") {
    const Size size{200, 160};
    const LitGeometry scene = scene_geometry(size, 190);
    std::size_t of[3] = {};
    for (std::uint8_t place : scene.material) ++of[place];
    for (std::size_t count : of) CHECK(count > size.pixels() / 20);
    // From pixel to pixel u and v move by as many centimetres as the place does.
    std::size_t looked = 0;
    for (std::size_t i = 0; i + 1 < size.pixels(); ++i) {
        // On the crate each board is cut from elsewhere.
        if ((i + 1) % 200 == 0 || is(scene, i, ScenePlace::crate) || scene.material[i] != scene.material[i + 1] ||
            scene.normal_x[i] != scene.normal_x[i + 1])
            continue;
        const double moved =
            std::hypot(scene.at_x[i + 1] - scene.at_x[i], scene.at_y[i + 1] - scene.at_y[i], scene.at_z[i + 1] - scene.at_z[i]);
        const double laid = std::hypot(scene.u[i + 1] - scene.u[i], scene.v[i + 1] - scene.v[i]);
        if (moved > 6) continue;
        ++looked;
        if (std::abs(moved - laid) > 2e-3) FAIL("pixel " << i << " moves by " << moved << " cm and its cloth by " << laid);
    }
    CHECK(looked > size.pixels() / 2);
}

TEST_CASE("the lamp is seen where nothing stands on the straight line to it", "[lit][scene]") {
    const Size size{160, 140};
    const LitGeometry scene = scene_geometry(size, 190);
    LitLight light;
    light.direction = 150, light.elevation = 35, light.width = 2;
    light = light_in_scene(light);
    const LitRoom room = room_for(light, {});
    const std::vector<float> seen = lamp_in_scene(scene, room, Job());
    std::size_t dark = 0, open = 0;
    for (std::size_t i = 0; i < size.pixels(); ++i) {
        if (!is(scene, i, ScenePlace::floor)) continue;
        dark += seen[i]<0.01f, open += seen[i]> 0.99f;
    }
    CHECK(dark > 100);
    CHECK(open > 1000);
    // A wider lamp has as much of its light behind the crate, but softer edges.
    LitLight wide = light;
    wide.width = 30;
    const std::vector<float> soft = lamp_in_scene(scene, room_for(wide, {}), Job());
    std::size_t between = 0, between_wide = 0;
    for (std::size_t i = 0; i < size.pixels(); ++i) {
        between += seen[i] > 0.02f && seen[i] < 0.98f;
        between_wide += soft[i] > 0.02f && soft[i] < 0.98f;
    }
    CHECK(between_wide > 2 * between);
    // Wherever the lamp is dragged it stays above the floor and before the wall.
    for (double direction = -180; direction < 180; direction += 20)
        for (double elevation : {4.0, 30.0, 90.0}) {
            LitLight dragged;
            dragged.direction = direction, dragged.elevation = elevation;
            const LitLight moved = light_in_scene(dragged);
            const LitLight again = light_in_scene(moved);
            INFO(direction << " " << elevation);
            CHECK(again.elevation == Approx(moved.elevation).margin(0.5));
            CHECK(moved.elevation <= 90);
        }
}

TEST_CASE("each place has its own material, and edges are mixed of both", "[lit][scene]") {
    const Size size{120, 100};
    const LitGeometry scene = scene_geometry(size, 190);
    const LitMaterial dark = plain(0.05f), light = plain(0.9f);
    std::vector<LitSurface> surfaces(std::size(scene_place_table), {&light, {}});
    surfaces[static_cast<std::size_t>(ScenePlace::floor)].material = &dark;
    const Job job;
    const auto picture = lit_picture(surfaces, scene, {}, {}, 0.1f, job);
    double floor = 0, wall = 0;
    std::size_t floors = 0, walls = 0;
    for (std::size_t i = 0; i < size.pixels(); ++i) {
        const double green = picture[i] >> 8 & 255;
        if (is(scene, i, ScenePlace::floor)) floor += green, ++floors;
        if (is(scene, i, ScenePlace::wall)) wall += green, ++walls;
    }
    CHECK(wall / static_cast<double>(walls) > 3 * floor / static_cast<double>(floors));
    REQUIRE(scene.edges.size() > 100);
    std::size_t mixed = 0;
    for (const LitGeometry::Edge& edge : scene.edges) mixed += edge.of[0] != edge.of[3] || edge.of[1] != edge.of[2];
    CHECK(mixed > scene.edges.size() / 4);
}
