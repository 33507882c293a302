// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Tone and colour, against formulas written out here.
#include <algorithm>
#include <cmath>

#include "core/colour/colour.h"
#include "core/image/gaussian.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size wide{64, 48};
float first(const Bundle& bundle, int x = 0, int y = 0) { return bundle.channel(0).at(x, y); }
Bundle grey(float tone) { return Bundle::of(Plane(wide, tone)); }
const Size oblong{72, 56};

const Size square{64, 64};

}  // namespace

TEST_CASE("levels follow their formula and clamp", "[steps][levels]") {
    for (double middle : {0.5, 1.0, 2.2})
        for (float tone : {-0.5f, 0.0f, 0.1f, 0.25f, 0.5f, 0.7f, 0.9f, 1.4f}) {
            const Bundle in = grey(tone);
            const Values set{{"in-black", 0.2}, {"in-white", 0.8}, {"middle", middle}, {"out-black", 0.1}, {"out-white", 0.7}};
            const double t = std::pow(std::clamp((tone - 0.2) / 0.6, 0.0, 1.0), 1 / middle);
            CHECK(first(applied("levels", set, &in, wide)) == Approx(0.1 + 0.6 * t).margin(1e-5));
        }
    const Bundle in = grey(0.5f);
    const Bundle red = applied("levels", {{"channel", std::string("red")}, {"in-white", 0.5}}, &in, wide);
    CHECK(red.channel(0).at(1, 1) == 1);
    CHECK(red.channel(1).at(1, 1) == 0.5f);
    CHECK_FALSE(find_step("levels")->notice({{"in-black", 0.9}, {"in-white", 0.2}}).empty());
    CHECK(find_step("levels")->notice({}).empty());
}

TEST_CASE("hue, saturation and lightness work in OKLCh", "[steps][huesat]") {
    Bundle in = Bundle::of(Plane(wide, 0.6f), Plane(wide, 0.4f), Plane(wide, 0.3f));
    const Lch before = to_lch(to_oklab({0.6f, 0.4f, 0.3f}));
    auto after = [&](const Values& set) {
        const Bundle out = applied("huesat", set, &in, wide);
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

TEST_CASE("colour is taken away by lightness, by luma or by the mean", "[steps][desaturate]") {
    for (const Colour& colour : {Colour{0.6f, 0.4f, 0.3f}, Colour{0.05f, 0.1f, 0.9f}, Colour{1, 1, 0}, Colour{0, 0, 0}}) {
        const Bundle in = Bundle::of(Plane(wide, colour.red), Plane(wide, colour.green), Plane(wide, colour.blue));
        const auto grey_by = [&](const char* by) {
            const Bundle out = applied("desaturate", {{"by", std::string(by)}}, &in, wide);
            CHECK(greatest_difference(*out.colour[0], *out.colour[2]) == 0);
            return first(out, 3, 3);
        };
        const float light = grey_by("lightness");
        CHECK(to_oklab({light, light, light}).lightness == Approx(to_oklab(colour).lightness).margin(1e-4));
        CHECK(to_oklab({light, light, light}).a == Approx(0).margin(1e-4));
        CHECK(grey_by("luma") == Approx(0.2126 * colour.red + 0.7152 * colour.green + 0.0722 * colour.blue).margin(1e-6));
        CHECK(grey_by("mean") == Approx((colour.red + colour.green + colour.blue) / 3.0).margin(1e-6));
    }
    // What is grey already stays exactly.
    const Bundle tones = Bundle::of(random_plane(wide, 4));
    CHECK(greatest_difference(applied("desaturate", {}, &tones, wide), tones) == 0);
}

TEST_CASE("exposure doubles the light, contrast leaves the pivot alone", "[steps][contrast]") {
    const Bundle in = grey(0.5f);
    const float lit = first(applied("contrast", {{"exposure", 1.0}, {"soft", false}}, &in, wide));
    CHECK(to_linear(lit) == Approx(2 * to_linear(0.5f)).margin(1e-4));
    CHECK(first(applied("contrast", {{"contrast", 70.0}}, &in, wide)) == Approx(0.5).margin(1e-5));
    CHECK(first(applied("contrast", {{"contrast", -100.0}, {"pivot", 0.3}, {"soft", false}}, &in, wide)) ==
          Approx(0.3).margin(1e-5));
    const Bundle bright = grey(0.95f);
    const float soft = first(applied("contrast", {{"brightness", 40.0}}, &bright, wide));
    CHECK(soft < 1);
    CHECK(soft > 0.95f);
}

TEST_CASE("a threshold by share makes that much of the area white", "[treatments][threshold]") {
    const Bundle in = cloud_picture({256, 256}, 24);
    for (double share : {5.0, 30.0, 80.0})
        CHECK(mean_of(applied("threshold", {{"by", std::string("share")}, {"share", share}, {"softness", 1.0}}, &in, {256, 256})
                          .channel(0)) == Approx(share / 100).margin(0.01));
    const Bundle bands = applied("posterise", {{"count", 4.0}, {"softness", 0.0}}, &in, {256, 256});
    for (std::size_t i = 0; i < bands.size().pixels(); ++i) {
        const double value = bands.channel(0).data()[i] * 3;
        REQUIRE(std::abs(value - std::round(value)) < 1e-4);
    }
}

TEST_CASE("evening out takes slow light away and leaves texture", "[treatments][evenout]") {
    const Size of{256, 256};
    const Bundle texture = applied("clouds", {{"size-x", 16.0}, {"size-y", 16.0}}, nullptr, of, 4);
    Plane lit(of);
    for (int y = 0; y < 256; ++y)
        for (int x = 0; x < 256; ++x)
            lit.row(y)[x] = texture.channel(0).at(x, y) + 0.2f * static_cast<float>(std::sin(6.283185307 * x / 256));
    const Bundle in = Bundle::of(std::move(lit)), out = applied("evenout", {{"strength", 100.0}}, &in, of);
    auto slow = [](const Bundle& b) { return deviation_of(gaussian_blur(b.channel(0), 32, 32, Job())); };
    CHECK(slow(out) < 0.35 * slow(in));
    CHECK(mean_of(out.channel(0)) == Approx(mean_of(in.channel(0))).margin(1e-3));
    CHECK(mean_difference(out.channel(0), texture.channel(0)) < 0.05);
}

TEST_CASE("tops and hollows are a height less its own blur", "[treatments][hollows]") {
    const Bundle in = cloud_picture(square, 16);
    const Plane soft = gaussian_blur(in.channel(0), 4, 4, Job());
    const Bundle out = applied("hollows", {{"radius", 4.0}, {"spread", 50.0}, {"bias", 10.0}}, &in, square);
    for (std::size_t i = 0; i < square.pixels(); ++i)
        REQUIRE(out.channel(0).data()[i] ==
                Approx(std::clamp(0.55 + in.channel(0).data()[i] - soft.data()[i], 0.0, 1.0)).margin(1e-5));
}

TEST_CASE("a vignette darkens corners and leaves the middle", "[treatments][vignette]") {
    const Bundle in = Bundle::of(Plane(square, 0.8f));
    const Bundle out = applied("vignette", {}, &in, square);
    CHECK(out.channel(0).at(32, 32) == 0.8f);
    CHECK(out.channel(0).at(0, 0) == Approx(0.8 * 0.4).margin(0.01));
    CHECK(out.channel(0).at(63, 63) == Approx(out.channel(0).at(0, 0)).margin(1e-5));
    const Bundle red = applied("vignette", {{"colour", Value(Colour{1, 0, 0})}}, &in, square);
    CHECK(red.channel(0).at(0, 0) > red.channel(1).at(0, 0));
    CHECK_FALSE(find_step("vignette")->tiles_note.empty());
}
