// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What objects are given one by one, and what formulas know of them and of several strands.
#include <algorithm>
#include <cmath>
#include <map>

#include "core/structures/object_edges.h"
#include "core/structures/object_middles.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{128, 128};

std::string word(const char* text) { return text; }

Strand off(Strand strand) {
    strand.on = false;
    return strand;
}
/// Flakes apart, switched off, and what is made of them.
Recipe of_flakes(const std::vector<StepOrder>& steps, std::vector<Strand> more = {}) {
    std::vector<Strand> strands{off(strand_of("flakes", {{"cells", {{"size", 16.0}}, 3}}))};
    for (Strand& each : more) strands.push_back(off(std::move(each)));
    strands.push_back(strand_of("made", steps));
    return recipe_of(std::move(strands), 128);
}
Plane tone(const Recipe& recipe) { return tone_of(cloth(recipe, size))->clone(); }
StepOrder formula(const std::string& text, Values more = {}) {
    more["expression"] = text;
    return {"formula", std::move(more), 1};
}
/// Numbers of the objects of of_flakes().
Plane numbers() { return tone(of_flakes({{"borrow", {{"strand", word("flakes")}, {"output", word("object")}}}})); }

}  // namespace

TEST_CASE("every object takes one value, from its middle or on average, whole or not at all", "[byobject][objects]") {
    const std::vector<Strand> form{
        strand_of("form", {{"shape", {{"form", word("ellipse")}, {"width", 70.0}, {"height", 70.0}}}})};
    const Plane ids = numbers();
    Values set{{"objects", word("flakes")},
               {"values", word("form")},
               {"gives", word("mean")},
               {"tone", 0.0},
               {"cut", true},
               {"level", 0.4}};
    const Bundle whole = cloth(of_flakes({{"flat", {{"colour", Colour{1, 1, 1}}}}, {"byobject", set}}, form), size);
    // Independently: the mean of the form over each object.
    const Bundle drawn = cloth(recipe_of({form.front()}, 128), size);
    std::map<int, std::pair<double, double>> sums;
    for (std::size_t i = 0; i < size.pixels(); ++i) {
        auto& [sum, count] = sums[static_cast<int>(ids.data()[i])];
        sum += static_cast<double>(drawn.coverage->data()[i]), ++count;
    }
    const ObjectEdges edges(share(ids.clone()));
    int in = 0, out = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const auto& [sum, count] = sums[static_cast<int>(ids.at(x, y))];
            if (edges.at(x, y).share < 1 || std::abs(sum / count - 0.4) < 0.02) continue;
            const bool shows = sum / count > 0.4;
            REQUIRE(whole.channel(0).at(x, y) == Approx(shows ? 1 : 0).margin(1e-4));
            (shows ? in : out)++;
        }
    CHECK(in > 500);
    CHECK(out > 500);
    // A colour each, that of its middle.
    const std::vector<Strand> ramp{strand_of("ramp", {formula("u, v, 0.5")})};
    const Bundle coloured = cloth(
        of_flakes(
            {{"flat", {}},
             {"byobject", {{"objects", word("flakes")}, {"values", word("ramp")}, {"gives", word("middle")}, {"tone", 0.0}}}},
            ramp),
        size);
    const auto middles = object_middles(ids, job);
    for (int y = 0; y < size.height; y += 3)
        for (int x = 0; x < size.width; x += 3) {
            if (edges.at(x, y).share < 1) continue;
            const ObjectMiddle& middle = middles.at(static_cast<int>(ids.at(x, y)));
            CHECK(static_cast<double>(coloured.channel(0).at(x, y)) == Approx(middle.x / 128).margin(0.012));
        }
}

TEST_CASE("whole pixels are moved as they are, and boards that run round the tile do not meet themselves",
          "[byobject][objects]") {
    // Noise of one pixel, in cells.
    const auto made = [&](bool clean) {
        return tone(
            of_flakes({{"static", {}, 5}, {"byobject", {{"objects", word("flakes")}, {"tone", 0.0}, {"clean", clean}}, 1}}));
    };
    const Plane noise = tone(recipe_of({strand_of("a", {{"static", {}, 5}})}, 128)), clean = made(true), soft = made(false);
    CHECK(deviation_of(clean) == Approx(deviation_of(noise)).epsilon(0.03));
    CHECK(deviation_of(soft) < 0.95 * deviation_of(noise));
    // Two boards as long as the tile: turned or scaled they would end somewhere.
    Bundle boards = Bundle::of(Plane(size, 0.5f));
    Plane id(size);
    for (int y = 0; y < size.height; ++y) std::fill_n(id.row(y), size.width, y < 64 ? 1.0f : 2.0f);
    const auto middles = object_middles(id, job);
    CHECK(middles.at(1).ring_x);
    CHECK_FALSE(middles.at(1).ring_y);
    boards.named[std::string(objects::id)] = share(std::move(id));
    Plane waves(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) waves.row(y)[x] = static_cast<float>(0.5 + 0.5 * std::sin(2 * pi * x / 64.0));
    Bundle grain = Bundle::of(std::move(waves));
    grain.named = boards.named;
    const Bundle run = applied("byobject", {{"scale", 100.0}, {"turn", 90.0}, {"tone", 0.0}}, &grain, size, 4);
    float step = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            if (y != 63 && y != 64 && y != 0 && y != 127)
                step = std::max(step, std::abs(run.channel(0).at(x, y) - run.channel(0).at((x + 1) % 128, y)));
    CHECK(step < 0.12f);
}

TEST_CASE("pieces come from several strands by their weights", "[byobject][objects]") {
    const std::vector<Strand> more{strand_of("white", {{"flat", {{"colour", Colour{1, 1, 1}}}}})};
    const auto share_of = [&](double weight) {
        return mean_of(tone(of_flakes(
            {{"flat", {{"colour", Colour{0, 0, 0}}}},
             {"byobject", {{"objects", word("flakes")}, {"tone", 0.0}, {"strand-2", word("white")}, {"weight-2", weight}}, 7}},
            more)));
    };
    CHECK(share_of(0) == Approx(0).margin(1e-5));
    CHECK(share_of(100) == Approx(0.5).margin(0.2));
    CHECK(share_of(25) < share_of(100));
}

TEST_CASE("what is made from lots has no stairs where objects meet", "[objects]") {
    // A slanted edge between two objects: the share of the first goes evenly over it.
    Plane ids(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) ids.row(y)[x] = x < 40 + y / 4 ? 1.0f : 2.0f;
    const ObjectEdges edges(share(ids.clone()));
    CHECK(edges.at(10, 10).share == 1);
    CHECK(edges.at(10, 10).second == 1);
    CHECK(edges.at(42, 8).share < 1);
    CHECK(edges.at(42, 8).second == (ids.at(42, 8) == 1 ? 2 : 1));
    Plane lots(size);
    for (std::size_t i = 0; i < lots.count(); ++i) lots.data()[i] = ids.data()[i] == 1 ? 0.2f : 0.9f;
    const Plane smooth = edges.smoothed(lots, {0, size.height}, job);
    CHECK(smooth.at(10, 10) == 0.2f);
    const auto steepest = [&](const Plane& plane) {
        float most = 0;
        for (int y = 2; y < 120; ++y)
            for (int x = 20; x < 100; ++x) most = std::max(most, std::abs(plane.at(x, y) - plane.at(x + 1, y)));
        return most;
    };
    CHECK(steepest(smooth) < 0.75f * steepest(lots));
    CHECK(mean_of(smooth) == Approx(mean_of(lots)).margin(1e-3));
}

TEST_CASE("a formula reads four strands by their letters", "[formula]") {
    const std::vector<Strand> more{strand_of("one", {{"flat", {{"colour", Colour{0.2f, 0.2f, 0.2f}}}}}),
                                   strand_of("two", {{"flat", {{"colour", Colour{0.5f, 0.1f, 0.9f}}}}}),
                                   strand_of("three", {{"clouds", {}, 4}})};
    const Values strands{{"strand", word("one")}, {"strand-b", word("two")}, {"strand-d", word("three")}};
    CHECK(mean_of(tone(of_flakes({formula("a.tone + b.blue + c.tone", strands)}, more))) == Approx(1.1).margin(1e-4));
    CHECK(mean_of(tone(of_flakes({formula("tone * 2", strands)}, more))) == Approx(0.4).margin(1e-4));
    // Slopes are those of its height, for each design pixel, whatever the size.
    const Plane slope = tone(of_flakes({formula("0.5 + 10 * d.slope_x", strands)}, more)),
                three = tone(recipe_of({more[2]}, 128));
    for (int y = 0; y < size.height; y += 9)
        for (int x = 0; x < size.width; x += 9)
            CHECK(slope.at(x, y) == Approx(0.5f + 5 * (three.wrapped(x + 1, y) - three.wrapped(x - 1, y))).margin(1e-4));
}

TEST_CASE("a formula knows each object's middle, size and as many lots as are wanted", "[formula][objects]") {
    const Values of{{"strand", word("flakes")}};
    const Plane ids = numbers();
    const auto extents = object_extents(ids, job);
    const Plane across = tone(of_flakes({formula("object_x / 128", of)})),
                wide = tone(of_flakes({formula("object_w / 128", of)}));
    for (int y = 0; y < size.height; y += 5)
        for (int x = 0; x < size.width; x += 5) {
            const ObjectExtent& extent = extents.at(static_cast<int>(ids.at(x, y)));
            CHECK(static_cast<double>(across.at(x, y)) == Approx((extent.x + 0.5) / 128).margin(1e-4));
            CHECK(static_cast<double>(wide.at(x, y)) == Approx(extent.width / 128).margin(1e-4));
        }
    const Plane first = tone(of_flakes({formula("lots(object, 1)", of)})),
                ninth = tone(of_flakes({formula("lots(object, 9)", of)}));
    CHECK(deviation_of(first) > 0.2);
    CHECK(mean_of(first) == Approx(0.5).margin(0.12));
    CHECK(mean_difference(first, ninth) > 0.2);
    // Noise that each object has for itself: within one it is noise, from one to the next another.
    const Plane one = tone(of_flakes({formula("noise(u, v, 4)", of)})),
                each = tone(of_flakes({formula("noise(u, v, 4, object)", of)}));
    CHECK(mean_difference(one, each) > 0.05);
    CHECK(deviation_of(each) == Approx(deviation_of(one)).epsilon(0.35));
}

TEST_CASE("lines of a formula name parts of it, and angles come from two numbers", "[formula]") {
    CHECK(mean_of(tone(of_flakes({formula("twice = 2 * part;\n four = twice * 2;\nfour / 8",
                                          {{"inputs", Inputs{{"part", 0.5, 0, 1, ""}}}})}))) == Approx(0.25).margin(1e-5));
    const Plane angle = tone(of_flakes({formula("0.5 + atan2(0.5 - v, u - 0.5) / (2 * pi)")}));
    for (int y = 0; y < size.height; y += 7)
        for (int x = 0; x < size.width; x += 7)
            CHECK(static_cast<double>(angle.at(x, y)) ==
                  Approx(0.5 + std::atan2(0.5 - (y + 0.5) / 128, (x + 0.5) / 128 - 0.5) / (2 * pi)).margin(2e-4));
}
