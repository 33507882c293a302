// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Light from several sources, what shiny things mirror, and what glows; distances and torn forms.
#include <algorithm>
#include <cmath>

#include "core/colour/colour.h"
#include "core/image/tally.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{128, 128};

std::string word(const char* text) { return text; }

/// Soft squares of 32 px.
Bundle soft_check() {
    Plane plane(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            plane.row(y)[x] =
                static_cast<float>(0.5 + 0.5 * std::tanh(4 * std::sin(2 * pi * x / 64.0) * std::sin(2 * pi * y / 64.0)));
    return Bundle::of(std::move(plane));
}
Bundle level(float tone) { return Bundle::of(Plane(size, tone)); }

double least_of(const Plane& plane) { return static_cast<double>(tone_span_of(plane, nullptr, job).least); }
double most_of(const Plane& plane) { return static_cast<double>(tone_span_of(plane, nullptr, job).greatest); }

/// A step's result with these planes.
Bundle with_planes(const char* kind, const Values& set, const Bundle& in, const std::vector<std::string>& planes,
                   std::uint32_t seed = 0) {
    const auto out = apply_step(*find_step(kind), set, seed, in.size(), &in, {}, 0, job, {planes.begin(), planes.end()});
    REQUIRE(out);
    return *out;
}

/// A disc of that radius about the middle.
Bundle disc(double radius) {
    return applied("shape", {{"form", word("ellipse")}, {"width", 2 * radius}, {"height", 2 * radius}}, nullptr, size);
}

}  // namespace

TEST_CASE("relief light leaves no place without light by default, and level ground as it was", "[relief][light]") {
    const Bundle check = soft_check();
    const Bundle lit = applied("relief", {{"depth", 40.0}, {"result", word("light")}}, &check, size);
    // Level ground has the sine of the lamp's elevation and what is added to it.
    const double ground = std::sin(pi / 4) * 1.12;
    CHECK(least_of(lit.channel(0)) > 0.03 * ground);
    const Bundle dark = applied("relief", {{"depth", 40.0}, {"result", word("light")}, {"ambient", 0.0}}, &check, size);
    CHECK(least_of(dark.channel(0)) < 0.001);
    for (const Values& more :
         {Values{}, Values{{"ambient", 80.0}}, Values{{"overhead", 90.0}}, Values{{"wrap", 60.0}, {"elevation", 20.0}}}) {
        const Bundle flat = level(0.37f), same = applied("relief", more, &flat, size);
        CHECK(greatest_difference(same, flat) < 1e-4);
        Values even = more;
        even["result"] = word("even");
        CHECK(greatest_difference(applied("relief", even, &flat, size), level(0.5f)) < 1e-4);
    }
}

TEST_CASE("ambient light and light from above have colours of their own", "[relief][light]") {
    const Bundle check = soft_check();
    const Bundle lit =
        applied("relief", {{"depth", 40.0}, {"ambient", 100.0}, {"ambient-colour", Colour{0, 0, 1}}, {"result", word("light")}},
                &check, size);
    REQUIRE(lit.colour.size() == 3);
    CHECK(least_of(lit.channel(2)) >= std::sin(pi / 4) - 1e-4);
    CHECK(least_of(lit.channel(0)) < 0.05);
    // Light from above falls less on slopes: against the lamp alone the steep places lose the least.
    const Bundle above = applied(
        "relief",
        {{"depth", 40.0}, {"diffuse", 0.0}, {"shine", 0.0}, {"ambient", 0.0}, {"overhead", 100.0}, {"result", word("light")}},
        &check, size);
    CHECK(most_of(above.channel(0)) == Approx(std::sin(pi / 4)).margin(1e-3));
    CHECK(least_of(above.channel(0)) > 0.5 * std::sin(pi / 4));
}

TEST_CASE("soft highlights never reach white where hard ones run over", "[relief][light]") {
    Bundle bright = soft_check();
    const Values set{{"depth", 60.0}, {"diffuse", 400.0}, {"shine", 200.0}};
    Values hard = set, soft = set;
    hard["shoulder"] = 0.0, soft["shoulder"] = 100.0;
    CHECK(most_of(applied("relief", hard, &bright, size).channel(0)) > 1.05);
    // In linear light it stays below white; encoding rounds.
    CHECK(most_of(applied("relief", soft, &bright, size).channel(0)) <= 1.0001);
}

TEST_CASE("a rough strand makes the shine broad and faint", "[relief][light]") {
    const Bundle check = soft_check();
    const auto shine = [&](float rough) {
        const Bundle other = level(rough);
        return applied("relief",
                       {{"depth", 40.0},
                        {"diffuse", 0.0},
                        {"ambient", 0.0},
                        {"shine", 100.0},
                        {"sharpness", 60.0},
                        {"roughness", word("r")},
                        {"result", word("light")}},
                       &check, size, 0, 0, &other);
    };
    const Bundle sharp = shine(0), broad = shine(0.8f);
    CHECK(most_of(sharp.channel(0)) > 3 * most_of(broad.channel(0)));
    CHECK(deviation_of(sharp.channel(0)) > deviation_of(broad.channel(0)));
}

TEST_CASE("tilted objects are lit as they lean, and not along their edges", "[relief][objects]") {
    // Two planes that lie flat at two heights and say that they lean.
    Bundle flakes = level(0.5f);
    Plane height(size), id(size), right(size, 0.2f), down(size, 0.0f);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) height.row(y)[x] = x < 64 ? 0.1f : 0.9f, id.row(y)[x] = x < 64 ? 1.0f : 2.0f;
    flakes.named[std::string(height_plane)] = share(std::move(height));
    flakes.named[std::string(objects::id)] = share(std::move(id));
    flakes.named[std::string(objects::tilt[0])] = share(std::move(right));
    flakes.named[std::string(objects::tilt[1])] = share(std::move(down));
    const Values set{{"height", word("height")}, {"depth", 8.0},           {"direction", 180.0}, {"shine", 0.0},
                     {"ambient", 0.0},           {"result", word("light")}};
    Values off = set;
    off["own-slopes"] = false;
    const Bundle on = applied("relief", set, &flakes, size), without = applied("relief", off, &flakes, size);
    // At the edge it is what a plane of that lean gets: rising to the right by 1.6 a pixel, lit from the left.
    const double rise = 0.2 * 8, wanted = (std::cos(pi / 4) * rise + std::sin(pi / 4)) / std::sqrt(1 + rise * rise);
    CHECK(static_cast<double>(on.channel(0).at(64, 20)) == Approx(wanted).margin(1e-3));
    CHECK(static_cast<double>(without.channel(0).at(32, 20)) == Approx(std::sin(pi / 4)).margin(1e-3));
    CHECK(std::abs(without.channel(0).at(64, 20) - on.channel(0).at(64, 20)) > 0.05f);
}

TEST_CASE("with height from a strand light, hollows and reflections can begin one", "[relief][planning]") {
    for (const char* kind : {"relief", "hollows", "reflections"}) {
        CAPTURE(kind);
        const StepDescription& step = *find_step(kind);
        CHECK(needs_input(step, {}));
        CHECK_FALSE(needs_input(step, step.alone));
        Values set = step.alone;
        set["strand"] = word("ground");
        Strand ground = strand_of("ground", {{"clouds", {{"size-x", 30.0}, {"size-y", 30.0}}, 2}});
        ground.on = false;
        const Recipe recipe = recipe_of({ground, strand_of("light", {{kind, set}})}, 128);
        const Bundle out = cloth(recipe, size);
        CHECK(deviation_of(out.channel(0)) > 0.005);
        RenderOptions options;
        options.way = RenderWay::bands;
        const auto bands = render_cloth(recipe, {256, 256}, options, job);
        REQUIRE(bands);
        CHECK(same_bytes(*bands, cloth(recipe, {256, 256})));
    }
}

TEST_CASE("a studio differs with its seed, lamps stand by themselves, and light may run over", "[reflections]") {
    const Bundle clouds = cloud_picture(size, 12);
    const Values studio{{"surroundings", word("studio")}, {"depth", 5.0}};
    const Bundle one = applied("reflections", studio, &clouds, size, 1), two = applied("reflections", studio, &clouds, size, 2);
    CHECK(mean_difference(one.channel(0), two.channel(0)) > 0.01);
    CHECK(deviation_of(one.channel(0)) > 0.05);
    Values lamps = studio;
    lamps["lamps"] = 6.0, lamps["lamp-width"] = 8.0, lamps["shows"] = word("lamps");
    const Bundle glints = applied("reflections", lamps, &clouds, size, 1);
    // Most of it mirrors no lamp at all, some of it more than white.
    CHECK(least_of(glints.channel(0)) == 0);
    CHECK(most_of(glints.channel(0)) > 1.5);
    Values bright = studio;
    bright["exposure"] = 6.0;
    CHECK(most_of(applied("reflections", bright, &clouds, size, 1).channel(0)) > 1.1);
    bright["clipped"] = true;
    CHECK(most_of(applied("reflections", bright, &clouds, size, 1).channel(0)) <= 1);
    // A stop more is one more of so many between black and white.
    Values more = studio;
    more["exposure"] = 1.0;
    Plane lifted = applied("reflections", more, &clouds, size, 1).channel(0).clone();
    for (std::size_t i = 0; i < lifted.count(); ++i) lifted.data()[i] -= 1.0f / 7;
    CHECK(greatest_difference(lifted, one.channel(0)) < 1e-3);
}

TEST_CASE("a brushed mirror spreads across the brushing and not along it", "[reflections]") {
    // A surface that leans one way only: what it mirrors moves along or across the brushing.
    const auto play = [&](double direction) {
        Plane wave(size);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) wave.row(y)[x] = static_cast<float>(0.5 + 0.5 * std::sin(2 * pi * x / 64.0));
        const Bundle in = Bundle::of(std::move(wave));
        return deviation_of(applied("reflections",
                                    {{"surroundings", word("studio")},
                                     {"depth", 4.0},
                                     {"brushing", word("straight")},
                                     {"brush-direction", direction},
                                     {"spread-across", 60.0},
                                     {"spread-along", 1.0}},
                                    &in, size, 4)
                                .channel(0));
    };
    CHECK(play(0) > 1.5 * play(90));
    // With a strand of lines, each shifts what it mirrors.
    const Bundle flat = level(0.5f), lines = applied("streaks", {{"length", 60.0}, {"width", 1.0}}, nullptr, size, 3);
    const Values set{
        {"surroundings", word("studio")}, {"brushing", word("straight")}, {"lines", word("l")}, {"eye", 60.0}, {"jitter", 20.0}};
    const Bundle combed = applied("reflections", set, &flat, size, 4, 0, &lines),
                 plain = applied("reflections", set, &flat, size, 4);
    CHECK(mean_difference(combed.channel(0), plain.channel(0)) > 0.003);
}

TEST_CASE("an eye near the cloth still sees a tile that closes", "[reflections]") {
    const Bundle flat = level(0.5f);
    const Bundle out = applied(
        "reflections", {{"surroundings", word("studio")}, {"eye", 40.0}, {"centre-x", 30.0}, {"centre-y", 70.0}}, &flat, size, 2);
    CHECK(deviation_of(out.channel(0)) > 0.02);
    double seam = 0, within = 0;
    for (int y = 0; y < size.height; ++y) {
        seam = std::max(seam, std::abs(static_cast<double>(out.channel(0).at(0, y) - out.channel(0).at(127, y))));
        for (int x = 1; x < size.width; ++x)
            within = std::max(within, std::abs(static_cast<double>(out.channel(0).at(x, y) - out.channel(0).at(x - 1, y))));
    }
    CHECK(seam <= within);
}

TEST_CASE("bloom adds the light beyond its threshold and nothing else", "[bloom]") {
    const Bundle dim = level(0.6f);
    CHECK(same_bytes(applied("bloom", {}, &dim, size), dim));
    Bundle spark = level(0.2f);
    Plane tones = spark.channel(0).clone();
    tones.row(64)[64] = 3;
    const Bundle lit = Bundle::of(std::move(tones));
    const Values set{{"radius", 3.0}, {"glow", 100.0}, {"wide-glow", 0.0}, {"shows", word("glow")}, {"softness", 0.0}};
    const Bundle glow = applied("bloom", set, &lit, size);
    // All of the point's light is in its halo, in linear light.
    double sum = 0;
    for (std::size_t i = 0; i < size.pixels(); ++i) sum += static_cast<double>(to_linear(glow.channel(0).data()[i]));
    CHECK(sum == Approx(static_cast<double>(to_linear(3.0f))).epsilon(0.03));
    CHECK(glow.channel(0).at(64, 64) > glow.channel(0).at(70, 64));
    // Rays run the way they are turned.
    const Bundle rays = applied(
        "bloom",
        {{"glow", 0.0}, {"wide-glow", 0.0}, {"rays", 1.0}, {"ray-turn", 0.0}, {"ray-length", 60.0}, {"shows", word("glow")}},
        &lit, size);
    CHECK(rays.channel(0).at(80, 64) > 0.05f);
    CHECK(rays.channel(0).at(64, 80) == 0);
}

TEST_CASE("distances are those to the edge, on either side, in pixels and in shares", "[distance]") {
    const Bundle in = disc(40);
    const Bundle inside = applied("distance", {{"reach", 30.0}}, &in, size),
                 both = applied("distance", {{"reach", 30.0}, {"side", word("both")}}, &in, size),
                 outside = applied("distance", {{"reach", 30.0}, {"side", word("outside")}}, &in, size),
                 share = applied("distance", {{"measure", word("share")}}, &in, size);
    CHECK_FALSE(inside.coverage);
    for (int y = 0; y < size.height; y += 3)
        for (int x = 0; x < size.width; x += 3) {
            const double depth = 40 - std::hypot(x + 0.5 - 64, y + 0.5 - 64);
            CHECK(static_cast<double>(inside.channel(0).at(x, y)) == Approx(std::clamp(depth / 30, 0.0, 1.0)).margin(0.01));
            CHECK(static_cast<double>(both.channel(0).at(x, y)) ==
                  Approx(0.5 + 0.5 * std::clamp(depth / 30, -1.0, 1.0)).margin(0.01));
            CHECK(static_cast<double>(share.channel(0).at(x, y)) == Approx(std::max(0.0, depth / 40)).margin(0.02));
        }
    CHECK(outside.channel(0).at(64, 64) == 0);
    CHECK(outside.channel(0).at(64, 110) > 0.1f);
    // Where a tone is crossed.
    const Bundle check = soft_check(),
                 by_tone = applied("distance", {{"of", word("tone")}, {"reach", 8.0}, {"side", word("both")}}, &check, size);
    CHECK(static_cast<double>(by_tone.channel(0).at(32, 16)) == Approx(0.5).margin(0.1));
    CHECK(by_tone.channel(0).at(16, 16) > 0.9f);
}

TEST_CASE("torn paper shows its core along the edge, more on the side it was pulled from", "[tear]") {
    const Bundle in = applied("shape", {{"width", 90.0}, {"height", 90.0}, {"colour", Colour{0.7f, 0.2f, 0.1f}}}, nullptr, size);
    const Values set{{"reach", 6.0},       {"wander", 4.0},      {"core", 6.0},
                     {"core-spread", 0.0}, {"one-sided", 100.0}, {"direction", 0.0}};
    const Bundle torn = with_planes("tear", set, in, {"core", "face", std::string(height_plane)}, 3);
    REQUIRE(torn.coverage);
    CHECK(mean_of(*torn.coverage) < mean_of(*in.coverage));
    // The middle stays as it was; beyond the form there is nothing.
    CHECK(torn.colour[0]->at(64, 64) == Approx(0.7f).margin(1e-4));
    CHECK(torn.coverage->at(4, 4) == 0);
    const PlaneRef core = torn.plane("core"), face = torn.plane("face"), height = torn.plane(height_plane);
    REQUIRE((core && face && height));
    double left = 0, right = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            (x < 64 ? left : right) += static_cast<double>(core->at(x, y));
            // Face and core make up what is left.
            CHECK(face->at(x, y) + core->at(x, y) == Approx(torn.coverage->at(x, y)).margin(1e-5));
        }
    CHECK(right > 2 * left);
    CHECK(height->at(64, 64) == Approx(1).margin(1e-4));
    const Bundle sheet = level(0.5f);
    CHECK(same_bytes(applied("tear", set, &sheet, size), sheet));
}
