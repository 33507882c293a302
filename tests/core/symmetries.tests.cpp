// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Symmetries that hold for whole groups of steps: where the picture lies, which way round it is, how light it is, and what is
// mixed with it must not matter more than the step says.
#include <cmath>
#include <set>

#include "core/recipe/edits.h"
#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{96, 64};

Bundle soft_picture(int channels = 1) {
    Bundle grey = applied("clouds", {{"size-x", 24.0}, {"size-y", 24.0}, {"contrast", 130.0}}, nullptr, size, 3);
    if (channels == 1) return grey;
    const Bundle other = applied("clouds", {{"size-x", 16.0}, {"size-y", 16.0}}, nullptr, size, 4);
    Bundle colour;
    colour.colour = {grey.colour[0], other.colour[0], grey.colour[0]};
    return colour;
}

/// Left and right changed round.
Bundle mirrored(const Bundle& in) {
    Bundle out;
    for (const PlaneRef& plane : in.colour) {
        Plane turned(plane->size());
        for (int y = 0; y < plane->height(); ++y)
            for (int x = 0; x < plane->width(); ++x) turned.row(y)[x] = plane->at(plane->width() - 1 - x, y);
        out.colour.push_back(share(std::move(turned)));
    }
    return out;
}

/// Columns and rows changed round.
Bundle turned_over(const Bundle& in) {
    Bundle out;
    for (const PlaneRef& plane : in.colour) {
        Plane turned(Size{plane->height(), plane->width()});
        for (int y = 0; y < plane->height(); ++y)
            for (int x = 0; x < plane->width(); ++x) turned.row(x)[y] = plane->at(x, y);
        out.colour.push_back(share(std::move(turned)));
    }
    return out;
}

Bundle changed(const Bundle& in, float times, float plus) {
    Bundle out;
    for (const PlaneRef& plane : in.colour) {
        Plane made = plane->clone();
        for (std::size_t i = 0; i < made.size().pixels(); ++i) made.data()[i] = times * made.data()[i] + plus;
        out.colour.push_back(share(std::move(made)));
    }
    return out;
}

/// Steps whose result depends on the picture alone, not on where it lies on the tile.
const std::set<std::string_view> placeless{"gaussian", "directional", "median",    "smooth", "flow",     "daub",
                                           "edges",    "posterise",   "threshold", "morph",  "displace", "shift",
                                           "relief",   "reflections", "hollows",   "levels", "huesat",   "gradientmap",
                                           "contrast", "invert",      "evenout"};

}  // namespace

TEST_CASE("what depends on the picture alone goes with it, wherever it lies on the tile", "[properties]") {
    const Bundle in = soft_picture(3);
    std::set<std::string_view> seen;
    for (const StepDescription& step : all_steps()) {
        if (!placeless.contains(step.id)) continue;
        seen.insert(step.id);
        const Bundle out = applied(std::string(step.id), {}, &in, size);
        // By whole pixels, across both edges.
        for (const auto& [dx, dy] : {std::pair{17, 0}, {0, 23}, {-31, 40}}) {
            const Bundle there = rolled(in, dx, dy);
            const Bundle after = applied(std::string(step.id), {}, &there, size);
            INFO(step.id << " moved by " << dx << ", " << dy);
            CHECK(mean_difference(after.channel(0), rolled(out, dx, dy).channel(0)) < 2e-4);
        }
    }
    CHECK(seen == placeless);
}

TEST_CASE("averages are linear: more contrast in is more contrast out", "[properties]") {
    const Bundle in = soft_picture();
    for (const char* id : {"gaussian", "directional", "spin", "zoom", "shift", "polar", "place", "swirl", "swell", "ripple",
                           "wave", "wander", "evenout"}) {
        const Bundle out = applied(id, {}, &in, size, 5), twice = changed(in, 0.4f, 0.25f);
        INFO(id);
        CHECK(greatest_difference(applied(id, {}, &twice, size, 5), changed(out, 0.4f, 0.25f)) < 2e-4);
    }
    // Ranks keep their order under anything that rises.
    for (const char* id : {"median", "morph"}) {
        const Bundle out = applied(id, {}, &in, size), twice = changed(in, 0.4f, 0.25f);
        INFO(id);
        CHECK(greatest_difference(applied(id, {}, &twice, size), changed(out, 0.4f, 0.25f)) < 5e-3);
    }
    // An even picture has nothing to average, find or bend.
    const Bundle flat = Bundle::of(Plane(size, 0.37f));
    for (const char* id : {"gaussian", "directional", "spin",     "zoom",    "median",     "smooth", "flow",  "daub",
                           "fray",     "morph",       "displace", "wander",  "wave",       "ripple", "swirl", "swell",
                           "polar",    "shift",       "place",    "evenout", "closeseams", "hollows"}) {
        INFO(id);
        const Bundle out = applied(id, {}, &flat, size, 2);
        CHECK(deviation_of(out.channel(0)) < 1e-5);
        if (std::string(id) != "hollows") CHECK(mean_of(out.channel(0)) == Approx(0.37).margin(1e-4));
    }
}

TEST_CASE("what has no direction treats a mirrored picture alike, and rows as columns", "[properties]") {
    const Bundle in = soft_picture(), mirror = mirrored(in), turned = turned_over(in);
    for (const char* id : {"gaussian", "median", "smooth", "edges", "posterise", "threshold", "morph", "hollows", "levels",
                           "contrast", "invert", "evenout", "spin", "zoom"}) {
        const Bundle out = applied(id, {}, &in, size);
        INFO(id);
        // Rings and rays begin at one side, which is a rounding more there.
        const double most = std::string(id) == "spin" || std::string(id) == "zoom" ? 2.5e-3 : 4e-4;
        CHECK(mean_difference(applied(id, {}, &mirror, size).channel(0), mirrored(out).channel(0)) < most);
        // Shares of the tile are other lengths on a tile that lies the other way.
        if (std::string(id) == "evenout") continue;
        CHECK(mean_difference(applied(id, {}, &turned, {size.height, size.width}).channel(0), turned_over(out).channel(0)) <
              most);
    }
}

TEST_CASE("amount 0 and a switched-off step leave everything as it was, amount 50 is half way", "[properties][over-steps]") {
    for (const StepDescription& step : steps_tried()) {
        if (step.family == Family::make) continue;
        Recipe recipe = recipe_of(
            {strand_of(
                "a", {{"clouds", {{"size-x", 24.0}, {"size-y", 24.0}}, 3}, {"gradientmap", {}}, {std::string(step.id), {}, 2}})},
            96);
        const Recipe before = step_removed(recipe, "a", "s3");
        const Bundle plain = cloth(before, {96, 96}), whole = cloth(recipe, {96, 96});
        INFO(step.id);
        CHECK(greatest_difference(cloth(with_value(recipe, {"a", "s3", "amount"}, Value(0.0)), {96, 96}), plain) < 1e-6);
        CHECK(same_bytes(cloth(with_value(recipe, {"a", "s3", "on"}, Value(false)), {96, 96}), plain));
        if (whole.coverage) continue;
        const Bundle half = cloth(with_value(recipe, {"a", "s3", "amount"}, Value(50.0)), {96, 96});
        double worst = 0;
        for (int y = 0; y < 96; y += 5)
            for (int x = 0; x < 96; x += 5)
                worst = std::max(worst, std::abs(double(half.channel(0).at(x, y)) -
                                                 (double(plain.channel(0).at(x, y)) + double(whole.channel(0).at(x, y))) / 2));
        CHECK(worst < 1e-5);
    }
}

TEST_CASE("coverage stays between nothing and all, and colour within it where it began so", "[properties][over-steps]") {
    const Bundle covered = random_bundle(size, 6, true);
    for (const StepDescription& step : steps_tried()) {
        if (step.family == Family::make) continue;
        const Bundle out = applied(std::string(step.id), {}, &covered, size, 4, 0, &covered);
        INFO(step.id);
        if (!out.coverage) continue;
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const float cover = out.coverage->data()[i];
            REQUIRE(cover >= -1e-5f);
            REQUIRE(cover <= 1 + 1e-5f);
        }
    }
}

TEST_CASE("what suits a choice names parameters that are there, with values they take", "[properties][catalogue]") {
    int suits = 0;
    for (const StepDescription& step : all_steps())
        for (const Parameter& p : step.parameters)
            for (const Choice& choice : p.choices) {
                INFO(step.id << " " << p.id << " " << choice.id);
                for (const auto& [id, value] : choice.suits) {
                    const Parameter* suited = step.parameter(id);
                    REQUIRE(suited);
                    CHECK(suited->id == id);
                    CHECK_FALSE(refuses(*suited, value));
                    CHECK(suited != &p);
                    ++suits;
                }
                // The choice that stands by itself suits what stands by itself, or going back would not lead back.
                if (choice.suits.empty() || Value(std::string(choice.id)) != p.fallback) continue;
                Values values;
                set_parameter(step, values, p, p.fallback);
                CHECK(values.empty());
            }
    CHECK(suits > 20);
}

TEST_CASE("enlarged places ask for whole numbers of times, and no step asks for more than four", "[properties][catalogue]") {
    for (const StepDescription& step : all_steps()) {
        if (!step.enlarges) continue;
        for (const Parameter& p : step.parameters)
            for (double end : {p.min, p.max}) {
                if (p.kind != Kind::number) continue;
                const int times = step.enlarges({{std::string(p.id), Value(end)}, {"keep", Value(false)}});
                INFO(step.id << " " << p.id << " " << end);
                CHECK(times >= 1);
                CHECK(times <= 4);
            }
    }
}
