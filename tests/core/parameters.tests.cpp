// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What single parameters promise in their sentences, measured.
#include <cmath>
#include <set>

#include "core/image/gaussian.h"
#include "core/measure/measure.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{192, 192};

Bundle level(float tone = 0.5f) { return Bundle::of(Plane(size, tone)); }

/// How alike a picture is to itself moved by some pixels: 1 is the same.
double alike(const Plane& plane, int dx, int dy) {
    const double mean = mean_of(plane), variance = std::pow(deviation_of(plane), 2);
    double sum = 0;
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x)
            sum += (double(plane.at(x, y)) - mean) * (double(plane.wrapped(x + dx, y + dy)) - mean);
    return sum / (static_cast<double>(plane.size().pixels()) * std::max(variance, 1e-12));
}

double roughness(const Plane& plane) {
    double sum = 0;
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x)
            sum += std::abs(double(plane.wrapped(x + 1, y)) - double(plane.at(x, y))) +
                   std::abs(double(plane.wrapped(x, y + 1)) - double(plane.at(x, y)));
    return sum / (2 * static_cast<double>(plane.size().pixels()));
}

Bundle pressed(Values set, const Bundle& in) { return applied("press", set, &in, size, 3); }

}  // namespace

TEST_CASE("press: repeats are as wide as they are asked to be, deeper is stronger, and tones are spared", "[promises][press]") {
    const Bundle in = level();
    // Duck's threads come again after half a repeat and after a whole one, of each size that fits the tile.
    for (double repeat : {12.0, 24.0, 48.0}) {
        const Bundle out = pressed({{"relief", std::string("duck")}, {"repeat", repeat}, {"depth", repeat / 5}}, in);
        const int whole = static_cast<int>(std::lround(size.width / std::round(size.width / repeat)));
        INFO(repeat << ": " << alike(out.channel(0), whole, 0) << " against " << alike(out.channel(0), whole / 4, 0));
        CHECK(alike(out.channel(0), whole, 0) > alike(out.channel(0), whole / 4, 0) + 0.1);
    }
    for (const char* relief : {"duck", "sacking", "grit", "hide", "laid", "hammered"}) {
        double before = 0;
        INFO(relief);
        for (double depth : {0.0, 1.0, 3.0, 8.0}) {
            const double now = deviation_of(pressed({{"relief", std::string(relief)}, {"depth", depth}}, in).channel(0));
            CHECK(now >= before);
            before = now;
        }
        // At no depth nothing changes; from above hardly anything does.
        CHECK(deviation_of(pressed({{"relief", std::string(relief)}, {"depth", 0.0}}, in).channel(0)) < 1e-5);
        const Values low{{"relief", std::string(relief)}, {"depth", 2.0}, {"elevation", 20.0}},
            high{{"relief", std::string(relief)}, {"depth", 2.0}, {"elevation", 85.0}};
        CHECK(deviation_of(pressed(low, in).channel(0)) > 1.5 * deviation_of(pressed(high, in).channel(0)));
        // Each is a stuff of its own at any seed: the same settings with another seed give another piece.
        const Bundle other = applied("press", {{"relief", std::string(relief)}}, &in, size, 99);
        CHECK(mean_difference(other.channel(0), pressed({{"relief", std::string(relief)}}, in).channel(0)) > 1e-3);
    }
    // Darks and lights are left as they are, the middle is not.
    for (const auto& [spared, tone] : {std::pair{"spare-darks", 0.02f}, std::pair{"spare-lights", 0.98f}}) {
        INFO(spared);
        const Values set{{"relief", std::string("grit")}, {"depth", 6.0}, {spared, 100.0}};
        CHECK(deviation_of(pressed(set, level(tone)).channel(0)) <
              0.15 * deviation_of(pressed({{"relief", std::string("grit")}, {"depth", 6.0}}, level(tone)).channel(0)) + 1e-6);
        CHECK(deviation_of(pressed(set, level(0.5f)).channel(0)) > 0.02);
    }
}

TEST_CASE("press: a picture's relief is laid in whole repeats", "[promises][press]") {
    const Bundle relief = applied("clouds", {{"size-x", 16.0}, {"size-y", 16.0}}, nullptr, {64, 64}, 8), in = level();
    const Bundle out = applied(
        "press", {{"relief", std::string("picture")}, {"file", std::string("assets/x.png")}, {"repeat", 50.0}, {"depth", 6.0}},
        &in, size, 0, 0, &relief);
    // 192 / 50 is nearest to four: 48 pixels each.
    CHECK(alike(out.channel(0), 48, 0) > 0.999);
    CHECK(alike(out.channel(0), 0, 48) > 0.999);
    CHECK(alike(out.channel(0), 24, 0) < 0.8);
}

TEST_CASE("wave: spreads, profiles and headings do what they say", "[promises][wave]") {
    // A picture that is its own place tells where each pixel came from.
    Plane place_x(size), place_y(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) place_x.row(y)[x] = static_cast<float>(x), place_y.row(y)[x] = static_cast<float>(y);
    Bundle places;
    places.colour = {share(std::move(place_x)), share(std::move(place_y)), share(Plane(size, 0.0f))};
    auto pushes = [&](Values set) {
        const Bundle out = applied("wave", set, &places, size, 6);
        Bundle pushed;
        for (int c = 0; c < 2; ++c) {
            Plane off(size);
            for (int y = 0; y < size.height; ++y)
                for (int x = 0; x < size.width; ++x) {
                    const double way = double(out.channel(c).at(x, y)) - (c == 0 ? x : y);
                    // Near the edge the other side is read.
                    off.row(y)[x] = std::abs(way) < 60 ? static_cast<float>(way) : 0.0f;
                }
            pushed.colour.push_back(share(std::move(off)));
        }
        return pushed;
    };
    auto strength = [&](const Bundle& pushed) {
        return std::hypot(deviation_of(*pushed.colour[0]), deviation_of(*pushed.colour[1]));
    };
    const Values calm{{"waves", 4.0},          {"length", 48.0},       {"height", 4.0},
                      {"heading-spread", 0.0}, {"length-spread", 0.0}, {"height-spread", 0.0}};
    Values higher = calm;
    higher["height"] = 8.0;
    CHECK(strength(pushes(higher)) == Approx(2 * strength(pushes(calm))).epsilon(0.2));
    // Along crests that run right, nothing moves up or down; turned by a right angle, nothing moves across.
    Values along = calm;
    along["sway"] = std::string("along");
    CHECK(deviation_of(*pushes(along).colour[1]) < 0.05);
    CHECK(deviation_of(*pushes(along).colour[0]) > 1);
    along["heading"] = 90.0;
    CHECK(deviation_of(*pushes(along).colour[0]) < 0.05);
    CHECK(deviation_of(*pushes(along).colour[1]) > 1);
    // Steps have few values, points and rounds many.
    auto values_of = [&](const char* profile) {
        Values set = calm;
        set["profile"] = std::string(profile), set["sway"] = std::string("along"), set["waves"] = 1.0;
        const Bundle pushed = pushes(set);
        std::set<int> seen;
        for (int y = 0; y < size.height; ++y) seen.insert(static_cast<int>(std::lround(10 * pushed.colour[0]->at(96, y))));
        return seen.size();
    };
    CHECK(values_of("stepped") <= 7);
    CHECK(values_of("round") > 12);
    CHECK(values_of("pointed") > 12);
}

TEST_CASE("dapple: parting, pores, softness and spreads do what they say", "[promises][dapple]") {
    const Bundle in = level(0.6f);
    auto made = [&](Values set) {
        set.try_emplace("size", 14.0);
        return applied("dapple", set, &in, size, 4);
    };
    // More pores leave more of the area dark.
    double before = 1;
    for (double pores : {0.0, 15.0, 35.0, 60.0}) {
        const double mean = mean_of(made({{"pores", pores}, {"parting", 80.0}, {"tone-spread", 0.0}}).channel(0));
        INFO(pores << ": " << mean);
        CHECK(mean < before);
        before = mean;
    }
    // Dabs of one tone without pores leave an even picture alone.
    CHECK(deviation_of(made({{"pores", 0.0}, {"tone-spread", 0.0}}).channel(0)) < 1e-5);
    CHECK(deviation_of(made({{"tone-spread", 80.0}, {"pores", 0.0}}).channel(0)) >
          2 * deviation_of(made({{"tone-spread", 20.0}, {"pores", 0.0}}).channel(0)));
    const Values hard{{"softness", 5.0}, {"pores", 35.0}, {"parting", 90.0}, {"tone-spread", 0.0}},
        soft{{"softness", 100.0}, {"pores", 35.0}, {"parting", 90.0}, {"tone-spread", 0.0}};
    CHECK(roughness(made(hard).channel(0)) > 1.2 * roughness(made(soft).channel(0)));
    // Parted dabs are each of one tone: a slope of light becomes patches.
    Plane slope(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            slope.row(y)[x] = 0.5f + 0.4f * static_cast<float>(std::sin(6.2831853 * x / size.width));
    const Bundle lit = Bundle::of(std::move(slope));
    auto patched = [&](double parting) {
        const Bundle out =
            applied("dapple", {{"size", 14.0}, {"parting", parting}, {"pores", 0.0}, {"tone-spread", 0.0}}, &lit, size, 4);
        return mean_difference(out.channel(0), lit.channel(0));
    };
    CHECK(patched(100) > 1.5 * patched(0));
    for (double dab : {6.0, 20.0}) {
        const Bundle out = made({{"size", dab}});
        CHECK(seam_across(out).ratio < 1.3);
        CHECK(seam_down(out).ratio < 1.3);
    }
}

TEST_CASE("crinkle: pushes one way if asked, glints from the lamp, and is still without both", "[promises][crinkle]") {
    auto stripes = [&](bool across) {
        Plane plane(size);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x)
                plane.row(y)[x] = 0.5f + 0.4f * static_cast<float>(std::sin(6.2831853 * 8 * (across ? x : y) / size.width));
        return Bundle::of(std::move(plane));
    };
    auto moved = [&](bool across, double direction, double one_sided) {
        const Bundle in = stripes(across);
        return mean_difference(
            applied("crinkle",
                    {{"push", 6.0}, {"glint", 0.0}, {"size", 40.0}, {"push-direction", direction}, {"one-sided", one_sided}}, &in,
                    size, 7)
                .channel(0),
            in.channel(0));
    };
    CHECK(moved(true, 0, 100) > 0.03);
    CHECK(moved(false, 0, 100) < 1e-4);
    CHECK(moved(false, 90, 100) > 0.03);
    CHECK(moved(true, 90, 100) < 1e-4);
    CHECK(moved(true, 0, 0) == Approx(moved(true, 90, 0)).margin(1e-6));
    // Light from the other side turns the glint round.
    const Bundle in = level();
    auto lit = [&](double direction) {
        return applied("crinkle", {{"size", 40.0}, {"glint", 80.0}, {"direction", direction}}, &in, size, 7);
    };
    const Bundle one = lit(30), other = lit(210);
    double product = 0;
    for (std::size_t i = 0; i < size.pixels(); ++i)
        product += (double(one.channel(0).data()[i]) - 0.5) * (double(other.channel(0).data()[i]) - 0.5);
    CHECK(product < 0);
    CHECK(deviation_of(one.channel(0)) > 0.03);
    // Smaller facets on large ones make it rougher.
    auto spread = [&](double amount) {
        return roughness(applied("crinkle", {{"size", 60.0}, {"size-spread", amount}, {"glint", 80.0}}, &in, size, 7).channel(0));
    };
    CHECK(spread(100) > 1.3 * spread(0));
}

TEST_CASE("stipple: the same marks at every size, as wide as asked, more of them for more light", "[promises][stipple]") {
    for (const char* pattern : {"white", "blue", "clustered", "strokes"}) {
        auto dotted = [&](float tone, Size of, double dot) {
            const Bundle in = Bundle::of(Plane(of, tone));
            // The tile is what is given, so larger pictures are of larger tiles with dots to match.
            return applied("stipple", {{"pattern", std::string(pattern)}, {"dot", dot}}, &in, of, 3);
        };
        INFO(pattern);
        double before = -1;
        for (float tone : {0.0f, 0.1f, 0.3f, 0.5f, 0.8f, 1.0f}) {
            const double mean = mean_of(dotted(tone, size, 8).channel(0));
            CHECK(mean > before);
            before = mean;
        }
        CHECK(mean_of(dotted(0, size, 8).channel(0)) == 0);
        CHECK(mean_of(dotted(1, size, 8).channel(0)) > 0.995);
        // Twice the tile with dots twice as wide is the same picture, enlarged.
        const Bundle small = dotted(0.4f, size, 8), large = resized(dotted(0.4f, {384, 384}, 16), size);
        CHECK(mean_difference(small.channel(0), large.channel(0)) < 0.03);
        // Wider dots make a calmer edge count.
        CHECK(roughness(dotted(0.4f, size, 6).channel(0)) > 1.5 * roughness(dotted(0.4f, size, 14).channel(0)));
    }
    // Screens turn: along their direction they repeat, half way between they do not.
    const Bundle in = Bundle::of(Plane(size, 0.4f));
    const Bundle upright =
                     applied("stipple", {{"pattern", std::string("clustered")}, {"dot", 8.0}, {"direction", 0.0}}, &in, size),
                 slanted =
                     applied("stipple", {{"pattern", std::string("clustered")}, {"dot", 8.0}, {"direction", 45.0}}, &in, size);
    CHECK(alike(upright.channel(0), 12, 0) > 0.95);
    CHECK(alike(slanted.channel(0), 12, 0) < 0.5);
}

TEST_CASE("huesat near a colour leaves greys and other hues, and fades between", "[promises][huesat]") {
    // The circle of hues at one lightness, with grey above it.
    Plane planes[3] = {Plane(size), Plane(size), Plane(size)};
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const Colour c = from_oklab(from_lch({0.65f, y < 20 ? 0.0f : 0.1f, 6.2831853f * static_cast<float>(x) / 192}));
            planes[0].row(y)[x] = c.red, planes[1].row(y)[x] = c.green, planes[2].row(y)[x] = c.blue;
        }
    const Bundle circle = Bundle::of(std::move(planes[0]), std::move(planes[1]), std::move(planes[2]));
    const Colour like = from_oklab(from_lch({0.65f, 0.1f, 1.0f}));
    const Bundle out =
        applied("huesat", {{"saturation", -100.0}, {"near", true}, {"like", like}, {"within", 30.0}}, &circle, size);
    for (int x = 0; x < 192; x += 4) {
        const double hue = 6.2831853 * x / 192, off = std::abs(std::remainder(hue - 1.0, 6.2831853)) * 180 / 3.14159265;
        const Lch after = to_lch(to_oklab({out.channel(0).at(x, 100), out.channel(1).at(x, 100), out.channel(2).at(x, 100)}));
        INFO(off << ": " << after.chroma);
        if (off > 31) CHECK(after.chroma == Approx(0.1).margin(2e-3));
        if (off < 1) CHECK(after.chroma < 0.01);
        if (off > 13 && off < 17) CHECK(after.chroma == Approx(0.05).margin(0.015));
    }
    CHECK(std::abs(out.channel(0).at(30, 5) - circle.channel(0).at(30, 5)) < 1e-4);
}
