// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Dots, cells and dapples that stand for tone.
#include <cmath>
#include <set>

#include "core/base/hash.h"
#include "core/image/gaussian.h"
#include "core/structures/stipple_marks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("dots cover what their tone says, whatever the pattern", "[treatments][stipple]") {
    for (const char* pattern : {"white", "blue", "clustered", "strokes"})
        for (float tone : {0.2f, 0.7f}) {
            const Bundle in = Bundle::of(Plane({240, 240}, tone));
            const Bundle dots = applied("stipple", {{"pattern", std::string(pattern)}, {"dot", 5.0}}, &in, {240, 240}, 3);
            INFO(pattern << " " << tone);
            CHECK(mean_of(dots.channel(0)) == Approx(tone).margin(0.02));
            CHECK(deviation_of(dots.channel(0)) > 0.3);
        }
    // Dots are round, at any width: a lone one has as much of itself across as down and along both slants.
    for (double dot : {7.3, 12.0}) {
        const Bundle in = Bundle::of(Plane({256, 256}, 0.02f));
        const Bundle dots =
            applied("stipple", {{"dot", dot}, {"pattern", std::string("clustered")}, {"direction", 30.0}}, &in, {256, 256}, 3);
        double across = 0, down = 0, slant = 0, back = 0;
        const Plane& plane = dots.channel(0);
        for (int y = 0; y < 256; ++y)
            for (int x = 0; x < 256; ++x) {
                const double here = double(plane.at(x, y));
                auto with = [&](int dx, int dy) { return here * double(plane.wrapped(x + dx, y + dy)); };
                across += with(1, 0), down += with(0, 1), slant += with(1, 1), back += with(1, -1);
            }
        INFO(dot);
        CHECK(across == Approx(down).epsilon(0.06));
        CHECK(slant == Approx(back).epsilon(0.06));
        CHECK(slant < across);
    }
    // Blue dots keep apart: a soft look at them is calmer than at white ones.
    auto roughness = [](const char* pattern) {
        const Bundle in = Bundle::of(Plane({240, 240}, 0.5f));
        const Bundle dots = applied("stipple", {{"pattern", std::string(pattern)}, {"dot", 2.0}}, &in, {240, 240}, 3);
        return deviation_of(gaussian_blur(dots.channel(0), 5, 5, Job()));
    };
    CHECK(roughness("blue") < 0.45 * roughness("white"));
    const Bundle covered = random_bundle({120, 120}, 5, true);
    const Bundle cut = applied("stipple", {{"drive", std::string("coverage")}, {"dot", 1.0}, {"pattern", std::string("white")}},
                               &covered, {120, 120}, 1);
    CHECK(mean_of(*cut.coverage) == Approx(mean_of(*covered.coverage)).margin(0.05));
}

TEST_CASE("a mosaic's cells are the means of what they cover", "[treatments][mosaic]") {
    const Bundle in = random_bundle({128, 128}, 9);
    const Bundle out = applied("mosaic", {{"size", 24.0}, {"line", 0.0}}, &in, {128, 128}, 2);
    for (int c = 0; c < 3; ++c) CHECK(mean_of(out.channel(c)) == Approx(mean_of(in.channel(c))).margin(1e-3));
    std::set<float> tones;
    for (std::size_t i = 0; i < out.size().pixels(); ++i) tones.insert(out.channel(0).data()[i]);
    CHECK(tones.size() < 40);
    CHECK(tones.size() > 20);
}

TEST_CASE("dapples keep the mean tone roughly and break smooth tone up", "[treatments][dapple]") {
    const Bundle in = applied("gradient", {}, nullptr, {128, 128});
    for (double parting : {10.0, 90.0}) {
        const Bundle out = applied("dapple", {{"size", 8.0}, {"parting", parting}}, &in, {128, 128}, 3);
        double before = 0, after = 0;
        for (int y = 0; y < 128; ++y)
            for (int x = 0; x < 127; ++x) {
                before += std::abs(in.channel(0).at(x + 1, y) - in.channel(0).at(x, y));
                after += std::abs(out.channel(0).at(x + 1, y) - out.channel(0).at(x, y));
            }
        INFO(parting);
        CHECK(after > 20 * before + 50);
        CHECK(mean_of(out.channel(0)) > 0.4 * mean_of(in.channel(0)));
    }
}

TEST_CASE("marks of a stipple close over the tile and grow from nothing to more than whole", "[stipple]") {
    const Size tile{300, 200};
    for (const auto pattern : {StipplePattern::white, StipplePattern::blue, StipplePattern::clustered, StipplePattern::strokes}) {
        const StippleLayout layout = stipple_layout(pattern, 6, 30, tile, 7);
        INFO(static_cast<int>(pattern) << ": " << layout.marks.size());
        CHECK(layout.marks.size() > 100);
        CHECK(layout.radius == Approx(3).epsilon(0.3));
        CHECK((layout.reach_x != 0) == (pattern == StipplePattern::strokes));
        double ranks = 0;
        for (const StippleMark& mark : layout.marks) ranks += double(mark.rank) / static_cast<double>(layout.marks.size());
        CHECK(ranks == Approx(pattern == StipplePattern::clustered ? 0.0 : 0.5).margin(0.06));
        for (float rank : {0.0f, 0.3f, 0.9f}) {
            float before = 0;
            CHECK(stipple_growth(pattern, 0, rank) == 0);
            for (float cover = 0.02f; cover <= 1; cover += 0.02f) {
                const float now = stipple_growth(pattern, cover, rank);
                CHECK(now >= before - 1e-5f);
                before = now;
            }
            CHECK(before > 1);
        }
    }
    // A screen's points are as many as its matrix says, each once, and no two share a place.
    const StippleLayout screen = stipple_layout(StipplePattern::clustered, 6, 30, tile, 7);
    std::set<std::pair<int, int>> places;
    for (const StippleMark& mark : screen.marks) places.emplace(std::lround(mark.u * 30000), std::lround(mark.v * 20000));
    CHECK(places.size() == screen.marks.size());
}
