// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What is laid along the edge of a form: where it lies, that it closes, and that nothing of another colour shows at the rim.
#include <cmath>

#include "core/image/contours.h"
#include "core/image/surface.h"
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{128, 128};

/// A form of one colour, made as people make it.
Bundle form(const Values& more = {}) {
    Values set{{"form", std::string("ellipse")}, {"width", 72.0}, {"height", 72.0}, {"colour", Colour{0.8f, 0.4f, 0.2f}}};
    for (const auto& [id, value] : more) set[id] = value;
    return applied("shape", set, nullptr, size);
}

double at(const PlaneRef& plane, int x, int y) { return static_cast<double>(plane->wrapped(x, y)); }

/// Distance of a pixel's centre from that of the tile.
double radius_at(int x, int y) { return std::hypot(x + 0.5 - 64, y + 0.5 - 64); }

}  // namespace

TEST_CASE("an edge tone reaches as far as it says, and changes no coverage inside", "[edge]") {
    const Bundle in = form();
    const Values set{
        {"size", 12.0}, {"blend", std::string("normal")}, {"strength", 100.0}, {"profile", CurvePoints{{0, 1}, {1, 0}}}};
    const Bundle inside = applied("edgetone", set, &in, size);
    CHECK(same_bytes(*inside.coverage, *in.coverage));
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double depth = 36 - radius_at(x, y);
            if (depth < 1) continue;
            const double wanted = 0.8 * std::clamp(depth / 12, 0.0, 1.0);
            CHECK(at(inside.colour[0], x, y) == Approx(wanted).margin(0.02));
        }
    Values out = set;
    out["side"] = std::string("outside"), out["colour"] = Colour{0, 0, 1};
    const Bundle outside = applied("edgetone", out, &in, size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double away = radius_at(x, y) - 36;
            if (away > 1) CHECK(at(outside.coverage, x, y) == Approx(std::clamp(1 - away / 12, 0.0, 1.0)).margin(0.02));
            if (away < -1) CHECK(at(outside.colour[0], x, y) == Approx(0.8).margin(1e-5));
        }
}

TEST_CASE("what goes under a form leaves no rim of another colour", "[edge]") {
    // A light form over its own dark shadow on light ground: no pixel may be lighter or darker than what the two can mix to.
    const Bundle in = form({{"colour", Colour{1, 1, 1}}});
    const Bundle shaded = applied(
        "shadow", {{"reach", 0.0}, {"softness", 0.0}, {"growth", 6.0}, {"strength", 100.0}, {"blend", std::string("normal")}},
        &in, size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double away = radius_at(x, y) - 36;
            // Along the form's own edge everything is covered: form and shadow share each pixel between them.
            if (std::abs(away) < 3) {
                CHECK(at(shaded.coverage, x, y) == Approx(1).margin(1e-5));
                CHECK(at(shaded.colour[0], x, y) == Approx(at(in.coverage, x, y)).margin(1e-5));
            }
            if (away > 7.5) CHECK(at(shaded.coverage, x, y) == 0);
        }
}

TEST_CASE("a shadow falls away from the lamp, and over the tile's edge", "[edge][wraps]") {
    const Bundle in = form({{"x", 100.0}, {"width", 24.0}, {"height", 24.0}});
    const Bundle shaded =
        applied("shadow", {{"lamp", std::string("own")}, {"x", 30.0}, {"y", 0.0}, {"softness", 0.0}}, &in, size);
    CHECK(at(shaded.coverage, 30, 64) > 0.5);
    CHECK(at(shaded.coverage, 98, 64) == 0);
    // On what lies beneath it is mixed as its blend says: half dark red under black at half strength.
    const Bundle red = applied("flat", {{"colour", Colour{0.6f, 0.2f, 0.2f}}}, nullptr, size);
    const Bundle tinted = applied("shadow",
                                  {{"lamp", std::string("own")},
                                   {"x", 30.0},
                                   {"y", 0.0},
                                   {"softness", 0.0},
                                   {"colour", Colour{0.5f, 0.5f, 0.5f}},
                                   {"strength", 100.0}},
                                  &in, size, 0, 0, &red);
    CHECK(at(tinted.colour[0], 30, 64) == Approx(0.3).margin(0.01));
    CHECK(at(tinted.colour[1], 30, 64) == Approx(0.1).margin(0.01));
}

TEST_CASE("dashes close evenly and turn with the form", "[edge]") {
    const Bundle in = form();
    const Values set{{"inset", 6.0}, {"width", 3.0},        {"run", std::string("dashes")}, {"dash", 10.0},
                     {"gap", 6.0},   {"round-ends", false}, {"colour", Colour{0, 0, 0}}};
    const Bundle stitched = applied("rim", set, &in, size);
    // Along the line's middle circle: the length of each dash and each gap.
    const double radius = 36 - 7.5;
    std::vector<double> dashes, gaps;
    bool on = false;
    double run = 0;
    constexpr int steps = 7200;
    for (int k = 0; k <= 2 * steps; ++k) {
        const double angle = 2 * 3.14159265358979 * k / steps;
        const double x = 64 + radius * std::cos(angle) - 0.5, y = 64 + radius * std::sin(angle) - 0.5;
        const bool dark = at(stitched.colour[0], static_cast<int>(std::lround(x)), static_cast<int>(std::lround(y))) < 0.4;
        if (dark != on) {
            (on ? dashes : gaps).push_back(run);
            run = 0, on = dark;
        }
        run += 2 * 3.14159265358979 * radius / steps;
    }
    // What was under way where the walk began is not whole.
    const auto whole = [](std::vector<double> all) { return std::vector<double>(all.begin() + 2, all.end()); };
    const int count = static_cast<int>(std::lround(2 * 3.14159265358979 * radius / 16));
    const double period = 2 * 3.14159265358979 * radius / count;
    REQUIRE(dashes.size() > 10);
    for (double length : whole(dashes)) CHECK(length == Approx(period * 10 / 16).margin(1.6));
    for (double length : whole(gaps)) CHECK(length == Approx(period * 6 / 16).margin(1.6));
    CHECK(dashes.size() >= static_cast<std::size_t>(2 * count - 2));
}

TEST_CASE("a motif is laid along the line, its upper side outward", "[edge]") {
    const Bundle in = form();
    // Red above, blue below.
    Plane red(size, 0.0f), blue(size, 0.0f);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) (y < size.height / 2 ? red : blue).row(y)[x] = 1;
    const Bundle two = Bundle::of(std::move(red), Plane(size, 0.0f), std::move(blue));
    const Bundle laid = applied(
        "rim",
        {{"run", std::string("motif")}, {"motif", std::string("other")}, {"inset", 2.0}, {"width", 12.0}, {"length", 12.0}}, &in,
        size, 0, 0, &two);
    for (double angle : {0.1, 1.2, 2.9, 4.4}) {
        const auto pixel = [&](double radius) {
            return std::pair{static_cast<int>(std::lround(63.5 + radius * std::cos(angle))),
                             static_cast<int>(std::lround(63.5 + radius * std::sin(angle)))};
        };
        const auto [ox, oy] = pixel(36 - 2 - 3);
        const auto [ix, iy] = pixel(36 - 2 - 9);
        CHECK(at(laid.colour[0], ox, oy) > 0.9);
        CHECK(at(laid.colour[2], ix, iy) > 0.9);
    }
}

TEST_CASE("a bevel is light towards the lamp and dark away from it, and raises the height", "[edge][light]") {
    const Bundle in = form({{"colour", Colour{0.5f, 0.5f, 0.5f}}});
    const Values set{{"lamp", std::string("own")}, {"direction", 90.0}, {"width", 10.0}, {"rise", 10.0}, {"rounding", 0.0},
                     {"profile", straight_curve()}};
    const auto made = apply_step(*find_step("bevel"), set, 0, size, &in, {}, 0, job, {std::string(height_plane)});
    REQUIRE(made);
    const Bundle& out = *made;
    CHECK(same_bytes(*out.coverage, *in.coverage));
    CHECK(at(out.colour[0], 64, 64 - 31) > 0.6);
    CHECK(at(out.colour[0], 64, 64 + 31) < 0.4);
    CHECK(at(out.colour[0], 64, 64) == Approx(0.5).margin(1e-4));
    // A slope of one in one, ten design px high.
    const PlaneRef height = out.plane(height_plane);
    REQUIRE(height);
    CHECK(at(height, 64, 64) == Approx(10 / height_range_px).margin(0.01));
    CHECK(at(height, 64, 64 - 31) == Approx(5 / height_range_px).margin(0.02));
    // A torn edge gives a torn bevel: no light where there is no edge.
    const Bundle outer = applied("bevel",
                                 {{"side", std::string("outer")},
                                  {"width", 10.0},
                                  {"rise", 10.0},
                                  {"lamp", std::string("own")},
                                  {"direction", 90.0},
                                  {"light-blend", std::string("normal")},
                                  {"dark-blend", std::string("normal")}},
                                 &in, size);
    CHECK(at(outer.coverage, 64, 64 - 41) > 0.2);
    CHECK(at(outer.coverage, 64, 64 - 50) < 0.01);
    CHECK(at(outer.colour[0], 64, 64) == Approx(0.5).margin(1e-4));
}

TEST_CASE("a line after a shadow follows the form and not the shadow", "[edge][plan]") {
    Strand strand = strand_of(
        "a",
        {{"shape", {{"form", std::string("ellipse")}, {"width", 72.0}, {"height", 72.0}, {"colour", Colour{0.5f, 0.5f, 0.5f}}}}});
    const auto edge = [&](std::vector<StepOrder> orders) {
        Strand with = strand;
        int n = 0;
        for (const StepOrder& order : orders) {
            Step step;
            step.id = "e" + std::to_string(++n), step.kind = order.kind, step.set = order.set;
            with.edge.push_back(std::move(step));
        }
        return cloth(recipe_of({with}), size);
    };
    const StepOrder shadow{"shadow", {{"reach", 0.0}, {"softness", 12.0}, {"growth", 6.0}, {"strength", 100.0}}, 0};
    const StepOrder line{"rim", {{"inset", 4.0}, {"width", 3.0}}, 0};
    const Bundle alone = edge({line}), after = edge({shadow, line});
    double worst = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x)
            if (radius_at(x, y) < 34.5) worst = std::max(worst, std::abs(at(alone.colour[0], x, y) - at(after.colour[0], x, y)));
    CHECK(worst < 1e-4);
    // And leaves the shadow alone.
    CHECK(at(after.colour[0], 64 + 40, 64) < 0.01);
    CHECK(at(after.coverage, 64 + 40, 64) > 0.5);
}

TEST_CASE("a shadow fades on its way, and files from before mean the same", "[edge][json]") {
    const Bundle in = form({{"x", 40.0}, {"width", 24.0}, {"height", 24.0}});
    const Values own{{"lamp", std::string("own")}, {"x", 30.0}, {"y", 0.0}, {"softness", 0.0}, {"strength", 100.0}};
    Values fading = own;
    fading["fade"] = 100.0;
    const Bundle whole = applied("shadow", own, &in, size), faded = applied("shadow", fading, &in, size);
    CHECK(at(whole.coverage, 54, 64) == Approx(at(whole.coverage, 76, 64)).margin(1e-4));
    CHECK(at(faded.coverage, 54, 64) > 0.9);
    CHECK(at(faded.coverage, 76, 64) < 0.6);
    CHECK(at(faded.coverage, 54, 64) - at(faded.coverage, 76, 64) > 0.3);
    const auto read = [](const char* step, const char* set) {
        const Reading reading =
            read_recipe(std::string(R"({"format": "keen-loom/1", "defaults": 1, "strands": [{"id": "a", "steps": [)") +
                        R"({"id": "s1", "step": "shape"}, {"id": "s2", "step": ")" + step + R"(", "set": )" + set + "}]}]}");
        CHECK(reading.findings.empty());
        return reading.recipe.strands[0]->steps[1].set;
    };
    CHECK(read("bevel", R"({"size": 10, "depth": 60, "soften": 3})") ==
          Values{{"width", 10.0}, {"rise", 6.0}, {"rounding", 3.0}});
    CHECK(read("bevel", R"({"size": 9})") == Values{{"width", 9.0}, {"rise", 9.0}});
    CHECK(read("bevel", R"({"width": 9})") == Values{{"width", 9.0}});
    const Values shadow = read("shadow", R"({"lamp": "own", "direction": 90, "distance": 20, "size": 5, "spread": 2})");
    CHECK(as<double>(shadow.at("x")) == Approx(0).margin(1e-9));
    CHECK(as<double>(shadow.at("y")) == Approx(-20));
    CHECK(as<double>(shadow.at("softness")) == 5);
    CHECK(as<double>(shadow.at("growth")) == 2);
}

TEST_CASE("contours know how long they are, across the tile's edges", "[edge][contours]") {
    Plane round(size), band(size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double dx = std::remainder(x - 4.0, 128.0), dy = std::remainder(y - 126.0, 128.0);
            round.row(y)[x] = static_cast<float>(30 - std::hypot(dx, dy));
            band.row(y)[x] = static_cast<float>(20 - std::abs(y - 64.0));
        }
    const Contours circle(round, 0, job), stripe(band, 0, job);
    REQUIRE(circle.lengths().size() == 1);
    CHECK(circle.lengths()[0] == Approx(2 * 3.14159265 * 30).epsilon(0.002));
    REQUIRE(stripe.lengths().size() == 2);
    for (double length : stripe.lengths()) CHECK(length == Approx(128).epsilon(1e-4));
    // Along it the way grows steadily, whichever edge it crosses.
    double before = -1;
    int falls = 0;
    for (int k = 0; k < 720; ++k) {
        const double angle = 2 * 3.14159265358979 * k / 720;
        const auto found =
            circle.at(static_cast<float>(4 + 30 * std::cos(angle)), static_cast<float>(126 - 30 * std::sin(angle)));
        REQUIRE(found);
        if (before >= 0 && found->along < before) ++falls;
        before = found->along;
    }
    CHECK((falls == 1 || falls >= 718));
    CHECK_FALSE(circle.at(64, 64));
}

TEST_CASE("what lies beneath lifts through a join: lit by its bumps, its height upon theirs", "[edge][join]") {
    Strand ground = strand_of("ground", {{"clouds", {{"size-x", 32.0}, {"size-y", 32.0}}, 3}});
    ground.routes[Map::height] = {};
    Strand film = strand_of("film", {{"flat", {{"colour", Colour{0.5f, 0.5f, 0.5f}}}}});
    film.routes[Map::height] = {Blend::normal, 20};
    const auto maps = [&](bool lift) {
        film.join.lift = lift;
        RenderOptions options;
        return render(recipe_of({ground, film}), size,
                      {Wanted{}, {Wanted::What::map, "", "", Map::height}, {Wanted::What::map, "", "", Map::normal}}, options,
                      job);
    };
    const auto plain = maps(false), lifted = maps(true);
    REQUIRE(plain);
    REQUIRE(lifted);
    const auto cloth_of = [](const Rendering& r) { return r.results.at(Wanted{}); };
    const auto height_of = [](const Rendering& r) { return r.results.at({Wanted::What::map, "", "", Map::height}); };
    CHECK(deviation_of(*cloth_of(*plain).colour[0]) < 1e-6);
    CHECK(deviation_of(*cloth_of(*lifted).colour[0]) > 0.01);
    CHECK(mean_of(*cloth_of(*lifted).colour[0]) == Approx(0.5).margin(0.03));
    // 0.2 of a half upon the bumps, rather than in their place.
    const Bundle bumps = cloth(recipe_of({ground}), size);
    double worst = 0;
    for (std::size_t i = 0; i < size.pixels(); ++i)
        worst = std::max(worst, std::abs(static_cast<double>(height_of(*lifted).colour[0]->data()[i]) -
                                         static_cast<double>(bumps.colour[0]->data()[i]) - 0.1));
    CHECK(worst < 0.002);
}
