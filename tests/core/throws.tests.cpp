// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where things are thrown, against looking at every pair; and the small loops that gradients, ridges and strokes run on, against
// the same written plainly.
#include <cmath>
#include <set>

#include "core/base/hash.h"
#include "core/noise/clouds.h"
#include "core/noise/rectify_kernel.h"
#include "core/structures/stroke.h"
#include "core/structures/throws.h"
#include "core/structures/ramp.h"
#include "core/steps/roughen/stipple_marks.h"
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

TEST_CASE("folding octaves is what it is in plain words, at odd widths", "[noise][kernels]") {
    for (int count : {1, 7, 16, 33, 250}) {
        const auto padded = static_cast<std::size_t>(count) + lattice_padding;
        std::vector<float> band(padded), billows(padded, 0.25f), ridges(padded, 0.5f), ridge(padded, 0.8f);
        for (std::size_t k = 0; k < padded; ++k) band[k] = 2 * unit_float(mix64(k)) - 1;
        add_billows(band.data(), 0.7f, count, billows.data());
        add_ridges(band.data(), 0.7f, count, ridge.data(), ridges.data());
        for (std::size_t k = 0; k < static_cast<std::size_t>(count); ++k) {
            const float signal = 1 - std::min(1.0f, 1.6f * std::abs(band[k])), sharp = signal * signal * 0.8f;
            CHECK(billows[k] == Approx(0.25 + 0.7 * double(std::abs(band[k]))).margin(1e-6));
            CHECK(ridges[k] == Approx(0.5 + 0.7 * double(sharp)).margin(1e-6));
            CHECK(ridge[k] == Approx(std::min(1.0, 2 * double(sharp))).margin(1e-6));
        }
        // Nothing behind the row is touched.
        CHECK(billows[static_cast<std::size_t>(count)] == 0.25f);
    }
}

TEST_CASE("folded clouds enlarged from coarse octaves are the exact ones, near enough", "[noise][clouds]") {
    const Job job;
    for (CloudForm form : {CloudForm::billowed, CloudForm::ridged}) {
        CloudSettings settings;
        settings.form = form, settings.across = 3, settings.down = 4, settings.octaves = 5, settings.seed = 9;
        const Size size{512, 384};
        const CloudField exact(settings, size), quick(settings, size, &job);
        std::vector<float> a(static_cast<std::size_t>(exact.padded_width())), b(a.size());
        double worst = 0, mean = 0, square = 0;
        for (int y = 0; y < size.height; y += 3) {
            exact.row(y, a.data()), quick.row(y, b.data());
            for (std::size_t x = 0; x < 512; ++x) {
                worst = std::max(worst, std::abs(double(a[x]) - double(b[x])));
                mean += double(b[x]) / (512 * 128), square += double(b[x]) * double(b[x]) / (512 * 128);
            }
        }
        INFO(static_cast<int>(form) << ": " << worst << ", mean " << mean << ", deviation " << std::sqrt(square - mean * mean));
        // In deviations; a hundredth of a tone.
        CHECK(worst < 0.05);
        CHECK(worst > 0);
        CHECK(std::abs(mean) < 0.35);
        CHECK(std::sqrt(square - mean * mean) == Approx(1).margin(0.3));
    }
}

TEST_CASE("many places of a ramp are each what one place is", "[gradient][kernels]") {
    const Stops stops{{0.1, {0.9f, 0.1f, 0}, 20}, {0.4, {0.1f, 0.5f, 0.2f}, 0}, {0.4, {0, 0, 1}, 50}, {0.9, {1, 1, 1}, 5}};
    for (const auto interpolation : {Interpolation::srgb, Interpolation::oklab})
        for (bool closed : {false, true})
            for (int count : {1, 3, 64, 67, 201}) {
                const Ramp ramp(stops, interpolation, closed);
                const auto n = static_cast<std::size_t>(count);
                std::vector<float> places(n), red(n), green(n), blue(n), grain(n), without(n);
                for (std::size_t k = 0; k < n; ++k) places[k] = -0.2f + 1.4f * static_cast<float>(k) / static_cast<float>(n);
                ramp.colours(places.data(), count, red.data(), green.data(), blue.data(), grain.data());
                ramp.colours(places.data(), count, without.data(), green.data(), blue.data(), nullptr);
                for (std::size_t k = 0; k < n; ++k) {
                    const Colour one = ramp.colour(places[k]);
                    CHECK(red[k] == Approx(one.red).margin(1e-6));
                    CHECK(green[k] == Approx(one.green).margin(1e-6));
                    CHECK(blue[k] == Approx(one.blue).margin(1e-6));
                    CHECK(grain[k] == Approx(ramp.grain(places[k])).margin(1e-6));
                    CHECK(without[k] == red[k]);
                }
            }
}

TEST_CASE("of strokes the last are kept, as many as cover what is asked", "[strokes]") {
    std::vector<Strokes> parts(2);
    for (int k = 0; k < 10; ++k) {
        Stroke look;
        look.half_width = 2;
        parts[static_cast<std::size_t>(k / 5)].add(look, {{0, float(k)}, {10, float(k)}, {20, float(k)}});
    }
    Strokes all = Strokes::joined(parts);
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

TEST_CASE("stains lie over one another without an edge, stacked too", "[scatter][throws]") {
    for (const char* overlap : {"stacked", "free"}) {
        const Bundle stains = applied("scatter",
                                      {{"motif", std::string("stain")},
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
