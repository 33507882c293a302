// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lit preview: shapes, where a lamp is mirrored, how far a height throws its shadow, what wraps, and the same bytes on any
// number of threads.
#include <cmath>

#include "core/base/job.h"
#include "core/colour/colour.h"
#include "core/maps/lit.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

LitMaterial plain(Size size, float tone, float rough, float metal, const Plane* height = nullptr, double deep = 32) {
    LitMaps maps;
    maps.colour = Bundle::of(Plane(size, tone), Plane(size, tone), Plane(size, tone));
    maps.roughness = share(Plane(size, rough)), maps.metalness = share(Plane(size, metal));
    if (height) maps.height = share(height->clone());
    maps.deep = deep;
    return LitMaterial(maps, Job());
}

/// Linear light of the green of a pixel.
double light_at(const std::vector<std::uint32_t>& pixels, Size size, int x, int y) {
    const std::uint32_t pixel =
        pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(size.width) + static_cast<std::size_t>(x)];
    return static_cast<double>(to_linear(static_cast<float>(pixel >> 8 & 255) / 255));
}

}  // namespace

TEST_CASE("every shape has normals of length one with the tile's way at right angles", "[lit]") {
    for (const LitShapeInfo& info : lit_shape_table) {
        INFO(info.id);
        const LitGeometry shape = lit_geometry(info.shape, {90, 70}, 2, 1.5);
        std::size_t covered = 0;
        for (std::size_t i = 0; i < shape.size.pixels(); ++i) {
            if (shape.cover[i] <= 0) continue;
            ++covered;
            const double length = std::hypot(shape.normal_x[i], shape.normal_y[i], shape.normal_z[i]);
            const double along = std::hypot(shape.along_x[i], shape.along_y[i], shape.along_z[i]);
            const double lean = shape.normal_x[i] * shape.along_x[i] + shape.normal_y[i] * shape.along_y[i] +
                                shape.normal_z[i] * shape.along_z[i];
            if (std::abs(length - 1) > 1e-4 || std::abs(along - 1) > 1e-4 || std::abs(lean) > 1e-4 || shape.shade[i] < 0 ||
                shape.shade[i] > 1)
                FAIL("at " << i << ": " << length << " " << along << " " << lean);
            // What is seen faces whoever looks.
            if (shape.cover[i] == 1) CHECK(shape.normal_z[i] > -0.01f);
        }
        CHECK(covered > shape.size.pixels() / 5);
    }
    // A flat tile shows the tile: as many across as asked for, in its own shape.
    const LitGeometry tile = lit_geometry(LitShape::tile, {100, 100}, 2, 0.5);
    CHECK(tile.u[50 * 100 + 99] - tile.u[50 * 100] == Approx(2 * 0.99).margin(1e-4));
    CHECK(tile.v[99 * 100 + 50] - tile.v[50] == Approx(4 * 0.99).margin(1e-4));
}

TEST_CASE("a glossy ball mirrors the lamp where its normal halves the way between lamp and eye", "[lit]") {
    const Size size{201, 201};
    const LitGeometry ball = lit_geometry(LitShape::ball, size, 1, 1);
    const LitMaterial gloss = plain({16, 16}, 0.0f, 0.25f, 0);
    for (const auto& [direction, elevation] : {std::pair{135.0, 45.0}, {20.0, 30.0}, {-80.0, 60.0}}) {
        INFO(direction << " " << elevation);
        LitLight light{direction, elevation, -3};
        const auto lit = lit_picture(gloss, ball, light, 0, Job());
        light.direction += 180;
        const auto other = lit_picture(gloss, ball, light, 0, Job());
        // What the lamp alone adds is brightest there; the room is the same in both.
        double best = -1, best_x = 0, best_y = 0;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x)
                if (const double more = light_at(lit, size, x, y) - light_at(other, size, x, y); more > best)
                    best = more, best_x = x, best_y = y;
        const double e = elevation * pi / 180, d = direction * pi / 180;
        const double lamp[3] = {std::cos(e) * std::cos(d), std::cos(e) * std::sin(d), std::sin(e) + 1};
        const double length = std::hypot(lamp[0], lamp[1], lamp[2]), radius = 0.9 * 100.5;
        CHECK(best_x == Approx(100.5 + radius * lamp[0] / length - 0.5).margin(7));
        CHECK(best_y == Approx(100.5 - radius * lamp[1] / length - 0.5).margin(7));
    }
}

TEST_CASE("the ball that is seen has no pole and no seam", "[lit]") {
    const Size size{160, 160};
    const LitGeometry ball = lit_geometry(LitShape::ball, size, 2, 1);
    double least = 1e9, most = 0;
    for (int y = 1; y + 1 < size.height; ++y)
        for (int x = 1; x + 1 < size.width; ++x) {
            const auto at = [&](int dx, int dy) {
                return static_cast<std::size_t>(y + dy) * 160 + static_cast<std::size_t>(x + dx);
            };
            const std::size_t i = at(0, 0);
            if (std::hypot(x - 79.5, y - 79.5) > 0.8 * 72) continue;
            // How large a step on the ball, and not on the screen, is in the tile, along both ways.
            for (const auto& [dx, dy] : {std::pair{1, 0}, {0, 1}}) {
                const std::size_t j = at(dx, dy);
                const double there = std::hypot(ball.normal_x[j] - ball.normal_x[i], ball.normal_y[j] - ball.normal_y[i],
                                                ball.normal_z[j] - ball.normal_z[i]);
                const double in_tile = std::hypot(ball.u[j] - ball.u[i], ball.v[j] - ball.v[i]);
                least = std::min(least, in_tile / there), most = std::max(most, in_tile / there);
            }
            // Where u grows lies in the surface.
            CHECK(std::abs(ball.along_x[i] * ball.normal_x[i] + ball.along_y[i] * ball.normal_y[i] +
                           ball.along_z[i] * ball.normal_z[i]) < 1e-3);
        }
    INFO(least << " to " << most);
    CHECK(most < 1.6 * least);
}

TEST_CASE("a wall throws a shadow as long as its height and the lamp say", "[lit]") {
    const Size size{96, 32};
    // A wall 10 px high at the left, and the lamp beyond it.
    Plane height(size, 0.0f);
    for (int y = 0; y < size.height; ++y)
        for (int x = 10; x < 14; ++x) height.row(y)[x] = 1;
    const LitMaterial material = plain(size, 0.7f, 1, 0, &height, 10);
    LitGeometry flat = lit_geometry(LitShape::tile, {size.width, size.width}, 1, 1.0);
    for (double elevation : {30.0, 45.0}) {
        const auto lit = lit_picture(material, flat, {180, elevation}, 0, Job());
        const Size shown{size.width, size.width};
        const double reach = 10 / std::tan(elevation * pi / 180);
        INFO(elevation << " reaches " << reach);
        const double open = light_at(lit, shown, 80, 8);
        // Horizons are looked for at 1, 2, 3, 5, 8, 13 and 21 pixels: well within and well beyond.
        CHECK(light_at(lit, shown, 14 + static_cast<int>(reach * 0.4), 8) < 0.75 * open);
        CHECK(light_at(lit, shown, 14 + static_cast<int>(reach * 1.6) + 2, 8) == Approx(open).epsilon(0.03));
        // With the lamp on the other side that place is open.
        const auto turned = lit_picture(material, flat, {0, elevation}, 0, Job());
        CHECK(light_at(turned, shown, 14 + static_cast<int>(reach * 0.4), 8) > 0.9 * light_at(turned, shown, 80, 8));
    }
}

TEST_CASE("light that is doubled is doubled on film, until the shoulder, which never goes back", "[lit]") {
    const LitGeometry flat = lit_geometry(LitShape::tile, {16, 16}, 1, 1);
    const LitMaterial grey = plain({16, 16}, 0.4f, 0.9f, 0);
    double last = 0;
    for (double stops = -4; stops <= 4; stops += 1) {
        const auto lit = lit_picture(grey, flat, {135, 45, stops}, 0, Job());
        const double now = light_at(lit, {16, 16}, 8, 8);
        CHECK(now >= last);
        if (now < 0.3 && last > 0.02) CHECK(now == Approx(2 * last).epsilon(0.06));
        last = now;
    }
    CHECK(last <= 1);
    CHECK(last > 0.9);
}

TEST_CASE("metal has no body of its own, and gloss sharpens what is mirrored", "[lit]") {
    const LitGeometry ball = lit_geometry(LitShape::ball, {120, 120}, 1, 1);
    const auto spread = [&](float rough, float metal) {
        const auto lit = lit_picture(plain({8, 8}, 0.6f, rough, metal), ball, {135, 45, -1}, 0, Job());
        double least = 1, most = 0;
        for (int y = 30; y < 90; ++y)
            for (int x = 30; x < 90; ++x)
                least = std::min(least, light_at(lit, {120, 120}, x, y)), most = std::max(most, light_at(lit, {120, 120}, x, y));
        return most / std::max(least, 1e-4);
    };
    CHECK(spread(0.2f, 1) > 2 * spread(0.9f, 1));
    CHECK(spread(0.2f, 1) > spread(0.2f, 0));
}

TEST_CASE("the lit picture wraps, bytes do not depend on threads, and transparent cloth shows the ground", "[lit]") {
    const Size size{40, 40};
    LitMaps maps;
    maps.colour = random_bundle(size, 3);
    maps.height = share(random_plane(size, 4));
    maps.roughness = share(random_plane(size, 5)), maps.metalness = share(random_plane(size, 6)),
    maps.occlusion = share(random_plane(size, 7));
    const LitMaterial material(maps, Job());
    LitGeometry flat = lit_geometry(LitShape::tile, {80, 80}, 1, 1);
    std::vector<std::uint32_t> one, other;
    with_threads(1, [&] { one = lit_picture(material, flat, {}, 0, Job()); });
    with_threads(3, [&] { other = lit_picture(material, flat, {}, 0, Job()); });
    CHECK(one == other);
    for (float& u : flat.u) u += 3;
    for (float& v : flat.v) v -= 2;
    const auto elsewhere = lit_picture(material, flat, {}, 0, Job());
    int changed = 0;
    for (std::size_t i = 0; i < one.size(); ++i) changed += std::abs(int(one[i] & 255) - int(elsewhere[i] & 255)) > 1;
    CHECK(changed == 0);
    maps.colour.coverage = share(Plane(size, 0.0f));
    const LitMaterial nothing(maps, Job());
    for (std::uint32_t pixel : lit_picture(nothing, flat, {}, 0.25f, Job())) CHECK((pixel & 255) == 137);
}
