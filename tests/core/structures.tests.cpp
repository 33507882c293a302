// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Structures: bonds against their counts, objects that are the same at every size, and what makes each what it is.
#include <cmath>
#include <set>

#include "core/base/quick_math.h"
#include "core/image/direction.h"
#include "core/measure/measure.h"
#include "core/structures/bonds.h"
#include "core/structures/timber.h"
#include "core/structures/throws.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{128, 128};

Bundle made(const char* kind, const Values& values, Size of = size, std::uint32_t seed = 3, int tile = 128) {
    const Recipe recipe = recipe_of({strand_of("a", {{kind, values, seed}})}, tile);
    return cloth(recipe, of);
}

/// A step by itself, with all the planes it can make.
Bundle all_planes_of(const char* kind, const Values& values, Size of, std::uint32_t seed, Size tile,
                     const Bundle* input = nullptr, const std::map<std::string, const Bundle*, std::less<>>& others = {}) {
    StepContext context;
    context.size = of, context.tile = tile, context.seed = seed, context.job = &job, context.input = input,
    context.others = others;
    return find_step(kind)->run(values, context);
}

std::set<int> ids_of(const Plane& plane) {
    std::set<int> ids;
    for (std::size_t i = 0; i < plane.size().pixels(); ++i) ids.insert(static_cast<int>(plane.data()[i]));
    return ids;
}

}  // namespace

TEST_CASE("bonds cover the tile once, with the counts that close", "[structures][courses]") {
    const struct {
        Bond bond;
        int columns, rows;
        std::size_t units;
    } bonds[] = {{Bond::running, 4, 11, 4 * 12},  {Bond::stack, 3, 5, 3 * 5},           {Bond::thirds, 4, 7, 4 * 6},
                 {Bond::basket, 3, 5, 4 * 6 * 2}, {Bond::herringbone, 4, 8, 8 * 8 / 2}, {Bond::planks, 5, 2, 5 * 2}};
    for (const auto& b : bonds) {
        INFO(static_cast<int>(b.bond));
        const auto units = lay_bond({b.bond, b.columns, b.rows, 7});
        CHECK(units.size() == b.units);
        double area = 0;
        for (const BondUnit& unit : units) area += unit.width * unit.height;
        CHECK(area == Approx(1).margin(1e-9));
        // Every place lies in one unit.
        for (int k = 0; k < 400; ++k) {
            const double x = std::fmod(0.7548776662 * k + 0.013, 1), y = std::fmod(0.5698402910 * k + 0.017, 1);
            int inside = 0;
            for (const BondUnit& unit : units)
                for (double dx : {0.0, 1.0})
                    for (double dy : {0.0, 1.0})
                        inside +=
                            x + dx >= unit.x && x + dx < unit.x + unit.width && y + dy >= unit.y && y + dy < unit.y + unit.height;
            CHECK(inside == 1);
        }
        const char* words[] = {"running", "stack", "thirds", "basket", "herringbone", "planks"};
        const Bundle wall = all_planes_of("courses",
                                          {{"bond", std::string(words[static_cast<int>(b.bond)])},
                                           {"columns", double(b.columns)},
                                           {"rows", double(b.rows)},
                                           {"joint", 4.0}},
                                          {384, 384}, 2, {384, 384});
        auto ids = ids_of(*wall.plane(objects::id));
        ids.erase(0);
        CHECK(ids.size() == b.units);
    }
}

TEST_CASE("object planes are constant inside an object and differ between neighbours, the same at every size",
          "[structures][objects]") {
    const std::pair<const char*, Values> kinds[] = {
        {"courses", {{"joint", 4.0}}},
        {"scatter", {{"count", 60.0}, {"size", 20.0}, {"overlap", std::string("spaced")}}},
        {"dashes", {{"count", 60.0}, {"length", 30.0}, {"width", 6.0}}},
        {"weave", {{"warp", 12.0}, {"weft", 12.0}}},
        {"cells", {{"size", 24.0}}}};
    for (const auto& [kind, values] : kinds) {
        INFO(kind);
        const Bundle small = all_planes_of(kind, values, {192, 192}, 5, {192, 192});
        const PlaneRef id = small.plane(objects::id);
        REQUIRE(id);
        std::map<int, float> lots;
        std::set<float> different;
        for (std::size_t i = 0; i < id->size().pixels(); ++i) {
            const int object = static_cast<int>(id->data()[i]);
            REQUIRE(static_cast<float>(object) == id->data()[i]);
            const float lot = small.plane(objects::random[0])->data()[i];
            if (object == 0) continue;
            const auto [found, fresh] = lots.emplace(object, lot);
            REQUIRE(found->second == lot);
            if (fresh) different.insert(lot);
            REQUIRE(small.plane(objects::u)->data()[i] >= 0);
            REQUIRE(small.plane(objects::v)->data()[i] <= 1);
        }
        CHECK(different.size() == lots.size());
        CHECK(lots.size() > 10);
    }
    // The same objects at twice the size: what lies under a pixel of the small picture lies under it in the large one.
    for (const char* kind : {"courses", "scatter", "weave"}) {
        INFO(kind);
        const Values values = std::string(kind) == "scatter" ? Values{{"count", 40.0}, {"size", 28.0}}
                              : std::string(kind) == "weave" ? Values{{"warp", 20.0}, {"weft", 20.0}}
                                                             : Values{};
        auto ids = [&](int side) { return all_planes_of(kind, values, {side, side}, 9, {256, 256}).plane(objects::id); };
        const PlaneRef small = ids(256), large = ids(768);
        int alike = 0;
        for (int y = 0; y < 256; ++y)
            for (int x = 0; x < 256; ++x) alike += small->at(x, y) == large->at(3 * x + 1, 3 * y + 1);
        CHECK(alike > 0.93 * 256 * 256);
    }
}

TEST_CASE("things that keep apart do, and stacked ones show the highest", "[structures][scatter]") {
    for (Overlap overlap : {Overlap::spaced, Overlap::packed}) {
        const auto throws = thrown({400, 10, 0.3, overlap, {512, 512}, 3});
        CHECK(throws.size() > 100);
        for (std::size_t a = 0; a < throws.size(); ++a)
            for (std::size_t b = 0; b < a; ++b) {
                const float dx = std::remainder(throws[a].x - throws[b].x, 512.0f),
                            dy = std::remainder(throws[a].y - throws[b].y, 512.0f);
                REQUIRE(std::hypot(dx, dy) >= 0.86f * (throws[a].radius + throws[b].radius));
            }
    }
    // Sizes of a packing come in classes; of a spread of nothing there are only those.
    std::set<float> radii;
    for (const Throw& one : thrown({300, 10, 0, Overlap::packed, {512, 512}, 4})) radii.insert(one.radius);
    CHECK(radii.size() == 4);
    // Where two flat things overlap, the picture is that of the higher: heights never lie below either alone.
    const Bundle two = all_planes_of("scatter", {{"motif", std::string("disc")}, {"count", 200.0}, {"size", 40.0}, {"tilt", 0.0}},
                                     size, 5, size);
    const Bundle fewer = all_planes_of(
        "scatter", {{"motif", std::string("disc")}, {"count", 100.0}, {"size", 40.0}, {"tilt", 0.0}}, size, 5, size);
    int below = 0;
    for (std::size_t i = 0; i < size.pixels(); ++i)
        below += two.plane("height")->data()[i] < fewer.plane("height")->data()[i] - 0.02f;
    CHECK(below < static_cast<int>(size.pixels()) / 100);
}

TEST_CASE("timber's phase gains a whole number over the tile and flows round its knots", "[structures][rings]") {
    for (Cut cut : {Cut::flat, Cut::quarter, Cut::end}) {
        TimberSettings settings;
        settings.cut = cut, settings.bands = 20, settings.seed = 5;
        const Timber timber(Job(), settings);
        std::vector<float> u(64), fibre(64), phase(64), fibre_below(64), phase_below(64);
        for (std::size_t k = 0; k < 64; ++k) u[k] = static_cast<float>(k) / 64 + 0.003f;
        for (float v : {0.002f, 0.31f, 0.77f}) {
            timber.row(v, u.data(), 64, fibre.data(), phase.data());
            timber.row(v + 1, u.data(), 64, fibre_below.data(), phase_below.data());
            for (std::size_t k = 0; k < 64; ++k) {
                CHECK(fibre_below[k] == Approx(fibre[k]).margin(1e-3));
                CHECK(phase_below[k] - phase[k] == Approx(timber.gain_down()).margin(0.02));
            }
        }
    }
    // Fibres make room for a knot: beside it they lie farther from its middle than they would without.
    TimberSettings plain;
    plain.knots = 0, plain.sway = 0, plain.seed = 2;
    TimberSettings knotted = plain;
    knotted.knots = 1, knotted.knot_size = 0.03, knotted.knot_spread = 0;
    const Timber timber(Job(), knotted);
    const Knot knot = timber.knots().front();
    const float beside = knot.u + 0.03f;
    float at_knot = 0, far_off = 0;
    timber.row(knot.v, &beside, 1, &at_knot, nullptr);
    timber.row(knot.v + 0.4f, &beside, 1, &far_off, nullptr);
    CHECK(at_knot < beside - 0.005f);
    CHECK(far_off == Approx(beside).margin(1e-3));
    // Even the largest leaves no kink half a tile away, where its next copy takes over.
    knotted.knot_size = 0.25;
    const Timber large(Job(), knotted);
    const Knot wide = large.knots().front();
    for (float side : {0.05f, 0.2f, 0.45f}) {
        const float u = wide.u + side;
        float above = 0, below = 0, above_phase = 0, below_phase = 0;
        large.row(wide.v + 0.499f, &u, 1, &above, &above_phase), large.row(wide.v + 0.501f, &u, 1, &below, &below_phase);
        CHECK(above == Approx(below).margin(2e-3));
        CHECK(above_phase == Approx(below_phase).margin(0.2));
    }
}

TEST_CASE("veins fork but never stop, streaks keep to their field, facets to their limit", "[structures]") {
    // A vein ends nowhere: strong pixels have strong neighbours on two sides, up to crossings.
    const Bundle veins = made("veins",
                              {{"size", 60.0},
                               {"halo", 0.0},
                               {"second", 0.0},
                               {"hairlines", 0.0},
                               {"braids", 1.0},
                               {"width", 6.0},
                               {"width-spread", 0.0}},
                              {256, 256}, 4, 256);
    CHECK(mean_of(veins.channel(0)) > 0.01);
    CHECK(mean_of(veins.channel(0)) < 0.3);
    // Two classes have fewer borders than eight.
    auto amount = [&](double classes) {
        double sum = 0;
        for (std::uint32_t seed = 0; seed < 6; ++seed)
            sum +=
                mean_of(made("veins", {{"size", 40.0}, {"classes", classes}, {"halo", 0.0}, {"second", 0.0}, {"hairlines", 0.0}},
                             size, seed)
                            .channel(0));
        return sum;
    };
    CHECK(amount(2) != Approx(amount(8)).epsilon(0.02));
    // Across the fibres tones change far more than along them.
    for (double direction : {0.0, 90.0}) {
        const Bundle streaks = made("streaks", {{"length", 60.0}, {"direction", direction}}, size);
        const Plane& p = streaks.channel(0);
        const double along = mean_difference(rolled(p, 1, 0), p), across = mean_difference(rolled(p, 0, 1), p);
        CHECK((direction == 0 ? across / along : along / across) > 4);
    }
    // And so they do along the lines of another strand.
    Plane ramp(size);
    for (int y = 0; y < 128; ++y)
        for (int x = 0; x < 128; ++x) ramp.row(y)[x] = 0.5f + 0.5f * std::sin(6.2831853f * static_cast<float>(x) / 32);
    const Bundle lines = Bundle::of(std::move(ramp));
    const Bundle led = applied("streaks", {{"field", std::string("strand")}, {"strand", std::string("s")}, {"length", 40.0}},
                               nullptr, size, 1, 0, &lines);
    CHECK(mean_difference(rolled(led.channel(0), 1, 0), led.channel(0)) >
          2 * mean_difference(rolled(led.channel(0), 0, 1), led.channel(0)));
    // A lower slope limit leaves flatter facets.
    auto steepest = [&](double limit) {
        const Bundle sheet =
            made("facets", {{"count", 40.0}, {"levels", 1.0}, {"bend", 0.0}, {"sharpness", 100.0}, {"slope-limit", limit}}, size);
        return greatest_difference(rolled(sheet.channel(0), 1, 0), sheet.channel(0));
    };
    CHECK(steepest(0) < 0.75 * steepest(100));
}

TEST_CASE("dashes lie where their density says, along their direction", "[structures][dashes]") {
    Plane half(size, 0.0f);
    for (int y = 0; y < 128; ++y)
        for (int x = 0; x < 64; ++x) half.row(y)[x] = 1;
    const Bundle density = Bundle::of(std::move(half));
    const Bundle drawn = applied("dashes",
                                 {{"count", 400.0},
                                  {"length", 8.0},
                                  {"width", 2.0},
                                  {"density", std::string("d")},
                                  {"combine", std::string("lighter")},
                                  {"direction", 0.0}},
                                 nullptr, size, 2, 0, &density);
    double left = 0, right = 0;
    for (int y = 0; y < 128; ++y)
        for (int x = 8; x < 120; ++x)
            (x < 56 ? left : x > 72 ? right : left *= 1) += x < 56 || x > 72 ? static_cast<double>(drawn.channel(0).at(x, y)) : 0;
    CHECK(left > 20 * (right + 1));
    const Bundle fixed = made("dashes",
                              {{"count", 300.0},
                               {"length", 30.0},
                               {"width", 2.0},
                               {"curl", 0.0},
                               {"direction", 0.0},
                               {"direction-spread", 0.0},
                               {"combine", std::string("darker")}},
                              size);
    CHECK(mean_difference(rolled(fixed.channel(0), 1, 0), fixed.channel(0)) <
          0.5 * mean_difference(rolled(fixed.channel(0), 0, 1), fixed.channel(0)));
}

TEST_CASE("every object shows its own piece, whole across the tile's edge", "[structures][byobject]") {
    const Bundle bricks = all_planes_of(
        "courses",
        {{"columns", 2.0}, {"rows", 4.0}, {"joint", 4.0}, {"turn", 0.0}, {"offset", 0.0}, {"wear", 0.0}, {"chips", 0.0}}, size, 1,
        size);
    const Bundle clouds = applied("clouds", {{"size-x", 40.0}, {"size-y", 40.0}, {"octaves", 2.0}}, nullptr, size, 6);
    const Bundle same = all_planes_of("byobject", {{"offset", 0.0}, {"flip", 0.0}, {"tone", 0.0}}, size, 1, size, &clouds,
                                      {{"objects", &bricks}});
    CHECK(greatest_difference(same.channel(0), clouds.channel(0)) < 1e-4);
    const Bundle own = all_planes_of("byobject", {{"flip", 0.0}, {"tone", 0.0}}, size, 1, size, &clouds, {{"objects", &bricks}});
    CHECK(mean_difference(own.channel(0), clouds.channel(0)) > 0.05);
    CHECK(own.plane(objects::id) != nullptr);
    // Inside an object nothing jumps, even where it lies over the edge.
    const Plane& id = *bricks.plane(objects::id);
    float inside = 0, plain = 0;
    for (int y = 0; y < 128; ++y)
        for (int x = 0; x < 128; ++x) {
            plain = std::max(plain, std::abs(clouds.channel(0).wrapped(x + 1, y) - clouds.channel(0).at(x, y)));
            if (id.at(x, y) > 0 && id.at(x, y) == id.wrapped(x + 1, y))
                inside = std::max(inside, std::abs(own.channel(0).wrapped(x + 1, y) - own.channel(0).at(x, y)));
        }
    CHECK(inside < 1.3f * plain);
}

TEST_CASE("a board as long as the tile keeps one piece from end to end", "[structures][byobject]") {
    const Bundle boards = all_planes_of("courses",
                                        {{"bond", std::string("planks")},
                                         {"columns", 3.0},
                                         {"rows", 1.0},
                                         {"joint", 4.0},
                                         {"offset", 0.0},
                                         {"turn", 0.0},
                                         {"wear", 0.0},
                                         {"chips", 0.0}},
                                        size, 9, size);
    // Stripes across: within a board they go on as they began, as nothing is cut but at its joint.
    const Bundle clouds = applied("clouds", {{"size-x", 64.0}, {"size-y", 64.0}, {"octaves", 1.0}}, nullptr, size, 2);
    const Bundle own = all_planes_of("byobject", {{"flip", 0.0}, {"tone", 0.0}, {"scale", 60.0}}, size, 4, size, &clouds,
                                     {{"objects", &boards}});
    const Plane& id = *boards.plane(objects::id);
    float within = 0, plain = 0;
    for (int y = 0; y < 128; ++y)
        for (int x = 0; x < 128; ++x) {
            plain = std::max(plain, std::abs(clouds.channel(0).wrapped(x, y + 1) - clouds.channel(0).at(x, y)));
            if (id.at(x, y) > 0 && id.at(x, y) == id.wrapped(x, y + 1))
                within = std::max(within, std::abs(own.channel(0).wrapped(x, y + 1) - own.channel(0).at(x, y)));
        }
    CHECK(within < 2.2f * plain);
    CHECK(mean_difference(own.channel(0), clouds.channel(0)) > 0.02);
}

TEST_CASE("quick functions are those of the mathematics library", "[structures][quick]") {
    for (float x = -60; x < 60; x += 0.173f) CHECK(quick_exp(x) == Approx(std::exp(x)).epsilon(4e-6));
    for (float x = -1; x <= 1; x += 0.0101f) CHECK(quick_asin(x) == Approx(std::asin(x)).margin(1e-4));
    for (float x = -0.5f; x <= 0.5f; x += 0.0103f)
        CHECK(quick_cosine(x) == Approx(std::cos(6.283185307 * double(x))).margin(4e-7));
    for (float x : {-2.0f, -1.5f, -0.2f, 0.0f, 0.7f, 3.0f}) CHECK(quick_floor(x) == std::floor(x));
}
