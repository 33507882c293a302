// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/colour/palette.h"
#include "core/recipe/ramps.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Three colours on known shares of the area, a little unsteady.
Bundle patches() {
    const Colour colours[] = {{0.15f, 0.1f, 0.08f}, {0.7f, 0.2f, 0.15f}, {0.9f, 0.85f, 0.7f}};
    std::vector<Plane> planes;
    for (int c = 0; c < 3; ++c) planes.push_back(random_plane({100, 40}, std::uint64_t(c) + 1, -0.01f, 0.01f));
    for (int y = 0; y < 40; ++y)
        for (int x = 0; x < 100; ++x) {
            const Colour& own = colours[x < 50 ? 0 : x < 80 ? 1 : 2];
            planes[0].row(y)[x] += own.red, planes[1].row(y)[x] += own.green, planes[2].row(y)[x] += own.blue;
        }
    return Bundle::of(std::move(planes[0]), std::move(planes[1]), std::move(planes[2]));
}

}  // namespace

TEST_CASE("a palette finds the colours there are and how much of the area each has", "[palette]") {
    const auto found = palette_of(patches(), 3, job);
    REQUIRE(found.size() == 3);
    CHECK(found[0].share == Approx(0.5).margin(0.01));
    CHECK(found[1].share == Approx(0.3).margin(0.01));
    CHECK(found[2].share == Approx(0.2).margin(0.01));
    CHECK(found[1].colour.red == Approx(0.7).margin(0.01));
    CHECK(found[1].colour.green == Approx(0.2).margin(0.01));
    // The same each time; no more colours than there are; nothing of nothing.
    const auto again = palette_of(patches(), 3, job);
    for (std::size_t k = 0; k < 3; ++k) CHECK(again[k].colour == found[k].colour);
    CHECK(palette_of(Bundle::of(Plane({20, 20}, 0.4f)), 5, job).size() <= 5);
    CHECK(palette_of(Bundle::nothing({20, 20}), 4, job).empty());
}

TEST_CASE("tones are means of equal shares, and make a ramp that colours an even noise alike", "[palette][ramps]") {
    const auto tones = tones_of(patches(), 5, job);
    REQUIRE(tones.size() == 5);
    double total = 0;
    for (std::size_t k = 0; k < 5; ++k) {
        CHECK(tones[k].share == Approx(0.2).margin(0.01));
        if (k > 0) CHECK(to_oklab(tones[k].colour).lightness >= to_oklab(tones[k - 1].colour).lightness - 1e-3f);
        total += tones[k].share;
    }
    CHECK(total == Approx(1));
    const Stops stops = ramp_of(tones, {{0, {}, 7}, {1, {}, 3}});
    REQUIRE(stops.size() == 5);
    CHECK(stops.front().place == 0);
    CHECK(stops.back().place == 1);
    CHECK(stops[2].place == Approx(0.5).margin(0.01));
    for (const Stop& stop : stops) CHECK(stop.grain == 7);
    // Over noise that has every tone alike the picture's own mean comes out.
    const Bundle noise = Bundle::of(random_plane({200, 200}, 3)),
                 coloured = applied("gradientmap", {{"stops", stops}}, &noise, {200, 200});
    CHECK(mean_of(coloured.channel(0)) == Approx(mean_of(patches().channel(0))).margin(0.03));
    CHECK(turned_round(turned_round(stops)) == stops);
    CHECK(evenly_spaced({{0.2, {}, 0}, {0.3, {}, 0}, {0.9, {}, 0}})[1].place == 0.5);
}
