// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where things are thrown, against looking at every pair, and what is kept of them.
#include <cmath>
#include <set>

#include "core/base/hash.h"
#include "core/structures/stroke.h"
#include "core/structures/throws.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

double apart(const Throw& a, const Throw& b, Size tile) {
    return std::hypot(std::remainder(double(a.x) - double(b.x), tile.width),
                      std::remainder(double(a.y) - double(b.y), tile.height));
}

}  // namespace

TEST_CASE("things that are to keep apart do, whatever their sizes, across the tile's edges too", "[throws]") {
    for (const Size tile : {Size{512, 512}, Size{300, 700}, Size{90, 64}})
        for (double spread : {0.0, 0.4, 1.0})
            for (const auto overlap : {Overlap::spaced, Overlap::packed}) {
                const auto laid = thrown({600, 9, spread, overlap, tile, 5});
                INFO(tile.width << " " << spread << " " << static_cast<int>(overlap) << ": " << laid.size());
                CHECK(laid.size() > 3);
                int close = 0;
                const double share = overlap == Overlap::packed ? 0.86 : 1.0, gap = overlap == Overlap::packed ? 1.0 : 0.5;
                for (std::size_t a = 0; a < laid.size(); ++a)
                    for (std::size_t b = a + 1; b < laid.size(); ++b)
                        close += apart(laid[a], laid[b], tile) < share * double(laid[a].radius + laid[b].radius) + gap - 1e-3;
                CHECK(close == 0);
                std::set<std::uint32_t> lots;
                for (const Throw& one : laid) {
                    lots.insert(one.lot);
                    CHECK(one.x >= 0);
                    CHECK(one.x < float(tile.width));
                    CHECK(one.radius > 0);
                }
                CHECK(lots.size() == laid.size());
                // The same throws again.
                const auto again = thrown({600, 9, spread, overlap, tile, 5});
                REQUIRE(again.size() == laid.size());
                CHECK(again.back().x == laid.back().x);
            }
}

TEST_CASE("packing leaves little room: what is thrown at random afterwards seldom fits", "[throws]") {
    const Size tile{400, 400};
    const auto laid = thrown({4000, 8, 0.3, Overlap::packed, tile, 9});
    int fits = 0;
    constexpr int tries = 2000;
    for (int k = 0; k < tries; ++k) {
        const Throw one{400 * unit_float(mix64(1, static_cast<std::uint64_t>(k))),
                        400 * unit_float(mix64(2, static_cast<std::uint64_t>(k))), 8, 0};
        bool free = true;
        for (const Throw& other : laid) free = free && apart(one, other, tile) >= 0.86 * double(one.radius + other.radius);
        fits += free;
    }
    INFO(fits << " of " << tries);
    CHECK(fits < tries / 50);
    // Free throws fall evenly: as many in each quarter.
    int quarter = 0;
    const auto freely = thrown({4000, 8, 0.3, Overlap::free, tile, 9});
    for (const Throw& one : freely) quarter += one.x < 200 && one.y < 200;
    CHECK(freely.size() == 4000);
    CHECK(std::abs(quarter - 1000) < 110);
}

TEST_CASE("of strokes the last are kept, as many as cover what is asked", "[strokes]") {
    std::vector<LaidStrokes> parts(2);
    for (int k = 0; k < 10; ++k) {
        LaidStroke look;
        look.half_width = 2;
        parts[static_cast<std::size_t>(k / 5)].add(look, {{0, float(k)}, {10, float(k)}, {20, float(k)}});
    }
    LaidStrokes all = LaidStrokes::joined(parts);
    REQUIRE(all.size() == 10);
    CHECK(all.area() == Approx(10 * 4 * 20));
    for (std::size_t k = 0; k < 10; ++k) CHECK(all[k].id == k + 1);
    all.keep_last(200);
    REQUIRE(all.size() == 3);
    CHECK(all[0].id == 8);
    CHECK(all.parts_of(all[0])->y == 7);
    all.keep_last(1e9);
    CHECK(all.size() == 3);
    all.keep_last(0);
    CHECK(all.size() == 0);
}

TEST_CASE("stains lie over one another without an edge, stacked too", "[scatter][throws]") {
    for (const char* overlap : {"stacked", "free"}) {
        const Bundle stains = applied("scatter",
                                      {{"motif", std::string("stain")},
                                       {"stain", std::string("soft")},
                                       {"overlap", std::string(overlap)},
                                       {"count", 60.0},
                                       {"size", 120.0},
                                       {"stretch", 50.0},
                                       {"tilt", 30.0}},
                                      nullptr, {400, 400}, 2);
        double steepest = 0;
        for (int y = 0; y < 400; ++y)
            for (int x = 0; x < 400; ++x)
                steepest = std::max<double>(steepest, std::abs(stains.channel(0).wrapped(x + 1, y) - stains.channel(0).at(x, y)));
        INFO(overlap);
        CHECK(steepest > 0.004);
        CHECK(steepest < 0.06);
    }
}
