// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What single steps compute, against formulas written out here.
#include <cmath>

#include "core/colour/colour.h"
#include "core/structures/ramp.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{64, 48};
const Stops black_white{{0, {0, 0, 0}, 0}, {1, {1, 1, 1}, 0}};

float first(const Bundle& bundle, int x = 0, int y = 0) { return bundle.channel(0).at(x, y); }
Bundle grey(float tone) { return Bundle::of(Plane(size, tone)); }
Bundle gradient(Values set) {
    set["stops"] = black_white;
    set["mix"] = std::string("srgb");
    return applied("gradient", set, nullptr, size);
}

}  // namespace

TEST_CASE("levels follow their formula and clamp", "[steps][levels]") {
    for (double middle : {0.5, 1.0, 2.2})
        for (float tone : {-0.5f, 0.0f, 0.1f, 0.25f, 0.5f, 0.7f, 0.9f, 1.4f}) {
            const Bundle in = grey(tone);
            const Values set{{"in-black", 0.2}, {"in-white", 0.8}, {"middle", middle}, {"out-black", 0.1}, {"out-white", 0.7}};
            const double t = std::pow(std::clamp((tone - 0.2) / 0.6, 0.0, 1.0), 1 / middle);
            CHECK(first(applied("levels", set, &in, size)) == Approx(0.1 + 0.6 * t).margin(1e-5));
        }
    const Bundle in = grey(0.5f);
    const Bundle red = applied("levels", {{"channel", std::string("red")}, {"in-white", 0.5}}, &in, size);
    CHECK(red.channel(0).at(1, 1) == 1);
    CHECK(red.channel(1).at(1, 1) == 0.5f);
    CHECK_FALSE(find_step("levels")->notice({{"in-black", 0.9}, {"in-white", 0.2}}).empty());
    CHECK(find_step("levels")->notice({}).empty());
}

TEST_CASE("gradients lie as their form says", "[steps][gradient]") {
    const Bundle down = gradient({{"repeat", std::string("once")}});
    CHECK(first(down, 5, 0) == Approx(0.5 / 48).margin(1e-4));
    CHECK(first(down, 60, 47) == Approx(47.5 / 48).margin(1e-4));
    const Bundle radial = gradient({{"form", std::string("radial")},
                                    {"from-x", 50.0},
                                    {"from-y", 50.0},
                                    {"to-x", 100.0},
                                    {"to-y", 50.0},
                                    {"repeat", std::string("once")}});
    CHECK(first(radial, 32, 24) == Approx(std::hypot(0.5, 0.5) / 32).margin(1e-4));
    CHECK(first(radial, 63, 24) == Approx(std::hypot(31.5, 0.5) / 32).margin(1e-4));
    // Measured to the nearest copy of the centre, so that it closes.
    CHECK(first(radial, 0, 24) == Approx(first(radial, 63, 24)).margin(1e-4));
    const Bundle square = gradient({{"form", std::string("square")},
                                    {"from-x", 50.0},
                                    {"from-y", 50.0},
                                    {"to-x", 100.0},
                                    {"to-y", 50.0},
                                    {"repeat", std::string("once")}});
    CHECK(first(square, 40, 24) == Approx(8.5 / 32).margin(1e-4));
    CHECK(first(square, 32, 40) == Approx(16.5 / 32).margin(1e-4));
    const Bundle around = gradient({{"form", std::string("angular")},
                                    {"from-x", 50.0},
                                    {"from-y", 50.0},
                                    {"to-x", 100.0},
                                    {"to-y", 50.0},
                                    {"repeat", std::string("loop")}});
    CHECK(first(around, 32, 47) == Approx(0.25).margin(0.02));
    CHECK(first(around, 0, 24) == Approx(0.5).margin(0.02));
}

TEST_CASE("what lies beyond a gradient's ends is held, looped or mirrored", "[steps][gradient]") {
    auto at = [&](const char* repeat, int y) { return first(gradient({{"to-y", 50.0}, {"repeat", std::string(repeat)}}), 3, y); };
    CHECK(at("once", 36) == 1);
    CHECK(at("loop", 36) == Approx(at("loop", 12)).margin(1e-4));
    CHECK(at("mirror", 36) == Approx(11.5 / 24).margin(1e-3));
}

TEST_CASE("an angular gradient warns of its spoke, and closing the loop takes it away", "[steps][gradient]") {
    const Values open{{"form", std::string("angular")}, {"repeat", std::string("loop")}};
    CHECK_THAT(find_step("gradient")->notice(open), Catch::Contains("spoke"));
    Values closed = open;
    closed["close"] = true;
    CHECK(find_step("gradient")->notice(closed).empty());
    const Ramp ramp(black_white, Interpolation::srgb, true);
    CHECK(ramp.colour(0).red == Approx(ramp.colour(1).red).margin(1e-3));
    CHECK(Ramp(black_white, Interpolation::srgb).colour(1).red == 1);
}

TEST_CASE("a stop's grain roughens the ramp there and nowhere else", "[steps][gradient]") {
    const Stops grainy{{0, {0.5f, 0.5f, 0.5f}, 0}, {0.5, {0.5f, 0.5f, 0.5f}, 60}, {1, {0.5f, 0.5f, 0.5f}, 0}};
    const Bundle picture = applied("gradient", {{"stops", grainy}, {"repeat", std::string("once")}}, nullptr, {256, 256}, 3);
    auto spread = [&](int row) {
        double sum = 0;
        for (int x = 0; x < 256; ++x) sum += std::pow(picture.channel(0).at(x, row) - 0.5, 2.0) / 256;
        return std::sqrt(sum);
    };
    CHECK(spread(0) < 0.005);
    CHECK(spread(128) == Approx(0.6 * full_deviation).epsilon(0.2));
    CHECK(spread(64) == Approx(0.3 * full_deviation).epsilon(0.2));
}

TEST_CASE("a new stop changes nothing", "[steps][gradient]") {
    const Stops stops{{0, {0.1f, 0.2f, 0.3f}, 10}, {0.6, {0.9f, 0.4f, 0.2f}, 50}, {1, {1, 1, 1}, 0}};
    for (Interpolation mix : {Interpolation::srgb, Interpolation::oklab})
        for (double place : {0.0, 0.2, 0.45, 0.6, 0.8, 1.0}) {
            Stops more = stops;
            more.push_back(stop_between(stops, place, mix));
            const Ramp before(stops, mix), after(more, mix);
            for (float t = 0; t <= 1; t += 0.05f) {
                CHECK(before.colour(t).green == Approx(after.colour(t).green).margin(2e-3));
                CHECK(before.grain(t) == Approx(after.grain(t)).margin(2e-3));
            }
        }
}

TEST_CASE("hue, saturation and lightness work in OKLCh", "[steps][huesat]") {
    Bundle in = Bundle::of(Plane(size, 0.6f), Plane(size, 0.4f), Plane(size, 0.3f));
    const Lch before = to_lch(to_oklab({0.6f, 0.4f, 0.3f}));
    auto after = [&](const Values& set) {
        const Bundle out = applied("huesat", set, &in, size);
        return to_lch(to_oklab({out.channel(0).at(2, 2), out.channel(1).at(2, 2), out.channel(2).at(2, 2)}));
    };
    CHECK(after({{"hue", 30.0}}).hue == Approx(before.hue + 30 * 3.14159265 / 180).margin(2e-3));
    CHECK(after({{"saturation", -100.0}}).chroma < 1e-3);
    CHECK(after({{"saturation", 50.0}}).chroma == Approx(1.5 * before.chroma).margin(2e-3));
    CHECK(after({{"lightness", -50.0}}).lightness == Approx(0.5 * before.lightness).margin(2e-3));
    // Blues are not what this colour is.
    CHECK(after({{"hue", 90.0}, {"near", true}, {"like", Colour{0.1f, 0.2f, 0.9f}}}).hue == Approx(before.hue).margin(2e-3));
    // What has the very hue that is meant changes whole, and half way out by half.
    CHECK(after({{"hue", 30.0}, {"near", true}, {"like", Colour{0.6f, 0.4f, 0.3f}}, {"within", 10.0}}).hue ==
          Approx(before.hue + 30 * 3.14159265 / 180).margin(3e-3));
    const Colour beside = from_oklab(from_lch({0.6f, 0.1f, before.hue + 0.349066f}));
    CHECK(after({{"hue", 30.0}, {"near", true}, {"like", beside}, {"within", 40.0}}).hue ==
          Approx(before.hue + 15 * 3.14159265 / 180).margin(5e-3));
    const Lch tint = to_lch(to_oklab({0, 0.4f, 0.8f}));
    CHECK(after({{"colourise", true}, {"tint", Colour{0, 0.4f, 0.8f}}}).hue == Approx(tint.hue).margin(5e-3));
}

TEST_CASE("exposure doubles the light, contrast leaves the pivot alone", "[steps][contrast]") {
    const Bundle in = grey(0.5f);
    const float lit = first(applied("contrast", {{"exposure", 1.0}, {"soft", false}}, &in, size));
    CHECK(to_linear(lit) == Approx(2 * to_linear(0.5f)).margin(1e-4));
    CHECK(first(applied("contrast", {{"contrast", 70.0}}, &in, size)) == Approx(0.5).margin(1e-5));
    CHECK(first(applied("contrast", {{"contrast", -100.0}, {"pivot", 0.3}, {"soft", false}}, &in, size)) ==
          Approx(0.3).margin(1e-5));
    const Bundle bright = grey(0.95f);
    const float soft = first(applied("contrast", {{"brightness", 40.0}}, &bright, size));
    CHECK(soft < 1);
    CHECK(soft > 0.95f);
}

TEST_CASE("shift moves whole pixels exactly and half a tile puts the edges in the middle", "[steps][shift]") {
    const Bundle in = random_bundle(size, 4);
    CHECK(same_bytes(applied("shift", {{"x", 5.0}, {"y", -7.0}}, &in, size), rolled(in, 5, -7)));
    CHECK(same_bytes(applied("shift", {{"half", true}}, &in, size), rolled(in, 32, 24)));
    CHECK(same_bytes(applied("shift", {{"across", 25.0}}, &in, size), rolled(in, 16, 0)));
    CHECK(same_bytes(applied("shift", {}, &in, size), in));
}

TEST_CASE("relief light leaves a level surface as it was and lights slopes by their angle", "[steps][relief]") {
    const Bundle level = grey(0.4f);
    CHECK(first(applied("relief", {{"shine", 0.0}}, &level, size), 9, 9) == Approx(0.4).margin(1e-4));
    // A slope of 1 px in 4 rising to the right, lit from the left at 45 degrees.
    Plane ramp(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) ramp.row(y)[x] = static_cast<float>(x) / 64;
    const Bundle in = Bundle::of(std::move(ramp));
    const Values set{
        {"depth", 16.0}, {"direction", 180.0}, {"elevation", 45.0}, {"shine", 0.0}, {"result", std::string("light")}};
    const double slope = 0.25, root = std::sqrt(0.5);
    CHECK(first(applied("relief", set, &in, size), 30, 20) ==
          Approx((slope * root + root) / std::sqrt(1 + slope * slope)).margin(1e-4));
}

TEST_CASE("a shadow falls away from the lamp, and a pit darkens with occlusion", "[steps][relief]") {
    Plane post(size, 0.0f);
    for (int y = 20; y < 28; ++y)
        for (int x = 28; x < 34; ++x) post.row(y)[x] = 1;
    const Bundle in = Bundle::of(std::move(post));
    const Values set{{"depth", 8.0},  {"direction", 180.0}, {"elevation", 30.0}, {"shine", 0.0}, {"result", std::string("light")},
                     {"shadow", 20.0}};
    const Bundle lit = applied("relief", set, &in, size);
    CHECK(first(lit, 40, 24) < 0.1 * first(lit, 20, 24));
    Values open = set;
    open["shadow"] = 0.0;
    open["occlusion"] = 100.0;
    const Bundle sky = applied("relief", open, &in, size);
    CHECK(first(sky, 36, 24) < first(sky, 60, 4));
}
