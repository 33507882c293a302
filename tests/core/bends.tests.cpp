// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What bending and placing promise of the tile and of what they leave alone.
#include <cmath>

#include "core/image/sample.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size oblong{72, 56};

const Size wide{64, 48};
const Size square{64, 64};

double difference(const Bundle& a, const Bundle& b) { return mean_difference(a.channel(0), b.channel(0)); }

}  // namespace

TEST_CASE("a displacement reads where its map says", "[treatments][displace]") {
    const Bundle in = cloud_picture(oblong, 24), map = random_bundle(oblong, 11);
    const Bundle out = applied("displace",
                               {{"source", std::string("strand")},
                                {"strand", std::string("m")},
                                {"from", std::string("normal")},
                                {"x", 9.0},
                                {"y", -5.0}},
                               &in, oblong, 0, 0, &map);
    for (int y = 0; y < oblong.height; y += 3)
        for (int x = 0; x < oblong.width; x += 3) {
            const float px = static_cast<float>(x + 9 * (2.0 * map.channel(0).at(x, y) - 1)),
                        py = static_cast<float>(y - 5 * (1 - 2.0 * map.channel(1).at(x, y)));
            REQUIRE(out.channel(0).at(x, y) == Approx(CubicPlace(oblong, px, py).read(in.channel(0))).margin(1e-4));
        }
    // A flat map moves nothing.
    const Bundle flat = Bundle::of(Plane(oblong, 0.5f));
    CHECK(greatest_difference(
              in, applied("displace",
                          {{"source", std::string("strand")}, {"strand", std::string("m")}, {"from", std::string("tone")}}, &in,
                          oblong, 0, 0, &flat)) < 1e-5);
}

TEST_CASE("bends round a centre leave what lies outside alone and repeat within half a tile", "[treatments][bend]") {
    const Bundle in = cloud_picture({96, 96}, 24);
    for (const auto& [kind, set] : {std::pair{"swirl", Values{{"radius", 40.0}}}, std::pair{"swell", Values{{"radius", 40.0}}},
                                    std::pair{"ripple", Values{{"radius", 40.0}, {"wavelength", 12.0}, {"height", 3.0}}}}) {
        INFO(kind);
        const Bundle out = applied(kind, set, &in, {96, 96});
        int outside = 0, inside = 0;
        for (int y = 0; y < 96; ++y)
            for (int x = 0; x < 96; ++x) {
                const bool far = std::hypot(x + 0.5 - 48, y + 0.5 - 48) > 41;
                const bool moved = std::abs(out.channel(0).at(x, y) - in.channel(0).at(x, y)) > 1e-4f;
                outside += far && moved;
                inside += !far && moved;
            }
        CHECK(outside == 0);
        CHECK(inside > 2000);
        // Round a centre on the edge it closes all the same.
        Values moved = set;
        moved["centre-x"] = 0.0, moved["centre-y"] = 0.0;
        const Bundle aside = rolled(in, 48, 48);
        const Bundle on_edge = applied(kind, moved, &aside, {96, 96});
        CHECK(greatest_difference(rolled(on_edge, 48, 48), out) < 2e-3);
    }
}

TEST_CASE("unrolling what was rolled up gives it back", "[treatments][polar]") {
    const Size of{256, 256};
    const Bundle in = applied("clouds", {{"size-x", 64.0}, {"size-y", 64.0}, {"octaves", 2.0}}, nullptr, of, 2);
    const Values edge{{"reach", std::string("edge")}, {"beyond", std::string("hold")}, {"average", false}};
    Values straight = edge;
    straight["way"] = std::string("straight");
    const Bundle round = applied("polar", edge, &in, of), back = applied("polar", straight, &round, of);
    double sum = 0;
    for (int y = 128; y < 240; ++y)
        for (int x = 0; x < 256; ++x) sum += std::abs(back.channel(0).at(x, y) - in.channel(0).at(x, y)) / (112.0 * 256);
    CHECK(sum < 0.02);
}

TEST_CASE("fine lines stay whole where they are rolled up, and the corners are filled", "[treatments][polar]") {
    const Size of{128, 128};
    Plane lines(of);
    for (int y = 0; y < of.height; ++y)
        for (int x = 0; x < of.width; ++x) lines.row(y)[x] = y % 2 == 0 ? 0.2f : 0.8f;
    const Bundle in = Bundle::of(std::move(lines));
    // Two lines a pixel are their mean; single points of them are whatever they hit.
    const Values half{{"reach", std::string("edge")}, {"beyond", std::string("hold")}};
    Values points = half;
    points["average"] = false;
    const auto ring = [&](const Bundle& out) {
        double most = 0;
        for (int y = 0; y < of.height; ++y)
            for (int x = 0; x < of.width; ++x) {
                const double far = std::hypot(x + 0.5 - 64, y + 0.5 - 64);
                if (far > 20 && far < 60) most = std::max(most, std::abs(static_cast<double>(out.channel(0).at(x, y)) - 0.5));
            }
        return most;
    };
    CHECK(ring(applied("polar", half, &in, of)) < 0.12);
    CHECK(ring(applied("polar", points, &in, of)) > 0.25);
    // To the farthest corner nothing is drawn out; with a radius nothing lies beyond it.
    const Bundle ramp = applied("formula", {{"expression", std::string("v")}}, nullptr, of);
    const Bundle filled = applied("polar", {}, &ramp, of),
                 cut = applied("polar", {{"reach", std::string("px")}, {"radius", 30.0}}, &ramp, of);
    CHECK_FALSE(filled.coverage);
    CHECK(filled.channel(0).at(1, 1) > filled.channel(0).at(6, 6));
    REQUIRE(cut.coverage);
    CHECK(cut.coverage->at(64, 64) == 1);
    CHECK(cut.coverage->at(64, 100) == 0);
}

TEST_CASE("enlarged with its tiling kept, what comes before is made anew and still closes", "[treatments][place]") {
    const Size of{128, 128};
    const auto placed = [&](double scale, bool anew) {
        return cloth(recipe_of({strand_of("a", {{"clouds", {{"size-x", 32.0}, {"size-y", 32.0}, {"octaves", 1.0}}, 2},
                                                {"place", {{"scale", scale}, {"anew", anew}}}})},
                               128),
                     of);
    };
    const Bundle plain = placed(100, true), large = placed(250, true), snapped = placed(250, false);
    CHECK(same_bytes(plain, snapped));
    const auto slope = [&](const Bundle& of_bundle) {
        double sum = 0;
        for (int y = 0; y < of.height; ++y)
            for (int x = 0; x < of.width; ++x)
                sum += std::abs(static_cast<double>(of_bundle.channel(0).at(x, y) - of_bundle.channel(0).wrapped(x + 1, y)));
        return sum / deviation_of(of_bundle.channel(0));
    };
    CHECK(slope(plain) > 1.8 * slope(large));
    double seam = 0, within = 0;
    for (int y = 0; y < of.height; ++y) {
        seam = std::max(seam, std::abs(static_cast<double>(large.channel(0).at(0, y) - large.channel(0).at(127, y))));
        for (int x = 1; x < of.width; ++x)
            within = std::max(within, std::abs(static_cast<double>(large.channel(0).at(x, y) - large.channel(0).at(x - 1, y))));
    }
    CHECK(seam <= within);
}

TEST_CASE("placing keeps the tile: whole copies, turned ones too", "[treatments][place]") {
    const Bundle in = cloud_picture({96, 96}, 24);
    const Bundle half = applied("place", {{"scale", 50.0}}, &in, {96, 96});
    CHECK(greatest_difference(rolled(half, 48, 0), half) < 1e-4);
    CHECK(greatest_difference(rolled(half, 0, 48), half) < 1e-4);
    CHECK(mean_of(half.channel(0)) == Approx(mean_of(in.channel(0))).margin(1e-3));
    const Bundle turned = applied("place", {{"scale", 100.0}, {"turn", 90.0}}, &in, {96, 96});
    for (int k = 0; k < 96; k += 7) REQUIRE(turned.channel(0).at(k, 20) == Approx(in.channel(0).at(75, k)).margin(1e-4));
    CHECK_THAT(find_step("place")->rounded({{"scale", 70.0}, {"turn", 44.0}}, {1024, 1024}),
               Catch::Contains("70.7 %") && Catch::Contains("45 degrees"));
    const Bundle mirrored = applied("place", {{"scale", 100.0}, {"mirror", std::string("across")}}, &in, {96, 96});
    CHECK(mirrored.channel(0).at(10, 30) == Approx(in.channel(0).at(85, 30)).margin(1e-5));
}

TEST_CASE("shift moves whole pixels exactly and half a tile puts the edges in the middle", "[steps][shift]") {
    const Bundle in = random_bundle(wide, 4);
    CHECK(same_bytes(applied("shift", {{"x", 5.0}, {"y", -7.0}}, &in, wide), rolled(in, 5, -7)));
    CHECK(same_bytes(applied("shift", {{"half", true}}, &in, wide), rolled(in, 32, 24)));
    CHECK(same_bytes(applied("shift", {{"across", 25.0}}, &in, wide), rolled(in, 16, 0)));
    CHECK(same_bytes(applied("shift", {}, &in, wide), in));
}

TEST_CASE("waves and facets move nothing where they have no height", "[treatments][bend]") {
    const Bundle in = cloud_picture(square, 16);
    CHECK(difference(applied("wave", {{"height", 0.0}}, &in, square), in) < 1e-6);
    CHECK(difference(applied("crinkle", {{"push", 0.0}, {"glint", 0.0}}, &in, square), in) < 1e-6);
    CHECK(difference(applied("fray", {{"reach", 0.0}}, &in, square), in) < 1e-6);
    CHECK(difference(applied("displace", {{"x", 0.0}, {"y", 0.0}}, &in, square), in) < 1e-6);
    for (const char* kind : {"wave", "crinkle", "fray"}) {
        INFO(kind);
        const Bundle out = applied(kind, {}, &in, square, 2);
        CHECK(difference(out, in) > 0.01);
        // Tones are moved about, not made: the mean stays.
        if (std::string_view(kind) != "crinkle") CHECK(mean_of(out.channel(0)) == Approx(mean_of(in.channel(0))).margin(0.03));
    }
}
