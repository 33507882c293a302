// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/measure.h"

#include <cmath>

#include "core/recipe/container.h"
#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {
Bundle clouds(std::uint32_t seed = 1) {
    return applied("clouds", {{"size-x", 40.0}, {"size-y", 40.0}}, nullptr, {128, 128}, seed);
}

/// The left part of a larger picture: what an artist gets by cropping, which does not repeat.
Bundle cropped(const Bundle& in, Size size) {
    Bundle out;
    for (const PlaneRef& plane : in.colour) {
        Plane part(size);
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) part.row(y)[x] = plane->at(x, y);
        out.colour.push_back(share(std::move(part)));
    }
    return out;
}
}  // namespace

TEST_CASE("a seam is found, and told apart from none", "[measure]") {
    const Measures whole = measure(clouds(), job);
    CHECK(whole.across.ratio < 1.1);
    CHECK(whole.down.ratio < 1.1);
    const Measures part = measure(cropped(clouds(), {100, 128}), job);
    CHECK(part.across.ratio > 3);
    CHECK(part.across.rank == 1);
    CHECK(part.down.ratio < 1.3);
    const Measures low = measure(cropped(clouds(), {128, 100}), job);
    CHECK(low.down.ratio > 3);
    CHECK(low.across.ratio < 1.3);
}

TEST_CASE("the seam's worst place is where it is worst", "[measure]") {
    Plane plane({64, 64}, 0.5f);
    for (int y = 0; y < 64; ++y)
        for (int x = 0; x < 64; ++x)
            plane.row(y)[x] = 0.5f + 0.05f * static_cast<float>(std::sin(x * 0.0981747704) + std::sin(y * 0.0981747704));
    for (int y = 40; y < 48; ++y) plane.row(y)[63] = 1;
    const Seam seam = seam_across(Bundle::of(std::move(plane)));
    CHECK(seam.worst_place > 0.6);
    CHECK(seam.worst_place < 0.76);
}

TEST_CASE("an even plane has no seam and no standout", "[measure]") {
    const Measures m = measure(Bundle::of(Plane({64, 64}, 0.4f)), job);
    CHECK(m.across.ratio == 0);
    CHECK(m.down.ratio == 0);
    CHECK(m.standout.score < 1);
    CHECK(m.evenness == Approx(1));
    CHECK(m.histogram.mean == Approx(0.4));
    CHECK(m.histogram.share[102] == Approx(1));
}

TEST_CASE("a blob stands out where it is", "[measure]") {
    Bundle in = applied("clouds", {{"size-x", 12.0}, {"size-y", 12.0}, {"contrast", 30.0}}, nullptr, {128, 128}, 2);
    Plane plane = in.colour[0]->clone();
    const double before = measure(in, job).standout.score;
    for (int y = 80; y < 100; ++y)
        for (int x = 20; x < 40; ++x) plane.row(y)[x] = 1;
    const Measures m = measure(Bundle::of(std::move(plane)), job);
    CHECK(m.standout.score > 2 * before);
    CHECK(m.standout.score > standout_high);
    CHECK(m.standout.x == Approx(30.0 / 128).margin(0.06));
    CHECK(m.standout.y == Approx(90.0 / 128).margin(0.06));
}

TEST_CASE("uneven light lowers evenness", "[measure]") {
    Plane plane({96, 96});
    for (int y = 0; y < 96; ++y)
        for (int x = 0; x < 96; ++x) plane.row(y)[x] = 0.5f + 0.4f * static_cast<float>(std::sin(y * 2 * 3.14159265 / 96));
    CHECK(measure(Bundle::of(std::move(plane)), job).evenness < 0.75);
}

TEST_CASE("the histogram counts all pixels and what is clipped", "[measure]") {
    Plane plane({10, 10}, 0.5f);
    for (int x = 0; x < 10; ++x) plane.row(0)[x] = -0.2f, plane.row(1)[x] = 1.3f, plane.row(2)[x] = 1.0f;
    const Histogram h = histogram_of(Bundle::of(std::move(plane)));
    CHECK(h.black == Approx(0.1));
    CHECK(h.white == Approx(0.2));
    double sum = 0;
    for (double share : h.share) sum += share;
    CHECK(sum == Approx(1));
}

TEST_CASE("the samples repeat without a seam at several seeds", "[measure][samples]") {
    for (const char* name : {"carriage-oak", "rail-steel", "glove-suede"}) {
        const auto file = read_loom(sample(name));
        REQUIRE(file);
        for (std::uint32_t seed : {file->recipe.seed, 101u, 102u}) {
            const Bundle picture = cloth(with_seed(file->recipe, seed), {512, 512});
            INFO(name << " seed " << seed);
            CHECK(seam_across(picture).ratio < seam_visible);
            CHECK(seam_down(picture).ratio < seam_visible);
        }
    }
    const auto oak = read_loom(sample("carriage-oak"));
    const Bundle picture = cloth(oak->recipe, {1024, 1024});
    CHECK(seam_across(picture).ratio <= seam_good);
    CHECK(seam_down(picture).ratio <= seam_good);
}
