// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gates and picks where they stand in recipes: in masks, over what lies beneath, in circles, in bands; and tallies.
#include <algorithm>

#include "core/image/tally.h"
#include "core/recipe/references.h"
#include "core/render/render.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Clouds, and white over them where the mask says.
Recipe masked(std::vector<StepOrder> mask) {
    Strand over = strand_of("over", {{"flat", {{"colour", Colour{1, 1, 1}}}}});
    const Strand steps = strand_of("mask", mask);
    over.mask = steps.steps;
    return recipe_of({strand_of("ground", {{"clouds", {{"size-x", 40.0}, {"size-y", 40.0}}, 3}}), over}, 128);
}

}  // namespace

TEST_CASE("a gate in a mask shows its strand where what lies beneath has those tones", "[masks][gate]") {
    const Size size{128, 128};
    const Recipe plain = masked({});
    const Bundle ground = cloth(recipe_of({*plain.strand("ground")}, 128), size);
    const Values set{{"from", 0.6}, {"to", 1.0}, {"soft-from", 0.0}};
    const Bundle out = cloth(masked({{"gate", set}}), size);
    for (std::size_t i = 0; i < size.pixels(); ++i) {
        const float tone = ground.channel(0).data()[i];
        REQUIRE(out.channel(0).data()[i] == Approx(tone >= 0.6f ? 1.0f : tone).margin(1e-5));
    }
    // A second gate narrows the first; a third takes the rest away.
    const Bundle band =
        cloth(masked({{"gate", set}, {"gate", {{"from", 0.0}, {"to", 0.7}, {"soft-to", 0.0}, {"meets", std::string("within")}}}}),
              size);
    for (std::size_t i = 0; i < size.pixels(); ++i) {
        const float tone = ground.channel(0).data()[i];
        REQUIRE(band.channel(0).data()[i] == Approx(tone >= 0.6f && tone <= 0.7f ? 1.0f : tone).margin(1e-5));
    }
    const Bundle none =
        cloth(masked({{"gate", set}, {"gate", {{"from", 0.0}, {"to", 1.0}, {"meets", std::string("taken")}}}}), size);
    CHECK(greatest_difference(none.channel(0), ground.channel(0)) < 1e-5);
}

TEST_CASE("a pick in a mask is the same whole and in bands, and wraps", "[masks][pick]") {
    const Recipe recipe = masked({{"pick", {{"x", 3.0}, {"y", 97.0}, {"tolerance", 0.2}}}});
    RenderOptions options;
    options.way = RenderWay::bands;
    const auto bands = render_cloth(recipe, {256, 256}, options, job);
    REQUIRE(bands);
    CHECK(same_bytes(*bands, cloth(recipe, {256, 256})));
    double white = 0;
    for (std::size_t i = 0; i < bands->size().pixels(); ++i) white += bands->channel(0).data()[i] > 0.999f;
    CHECK(white > 50);
}

TEST_CASE("what looks beneath needs the strands to the left, what looks at itself does not", "[masks][references]") {
    const auto with = [](const char* look) {
        Recipe recipe = masked({{"gate", {{"look", std::string(look)}}}});
        // The ground borrows what stands over it.
        Strand ground = *recipe.strand("ground");
        ground.steps.change(0).kind = "borrow";
        ground.steps.change(0).set = {{"strand", std::string("over")}};
        recipe.strands[0] = std::make_shared<const Strand>(ground);
        return circle(recipe);
    };
    CHECK_FALSE(with("beneath").empty());
    CHECK(with("own").empty());
}

TEST_CASE("joins that look further are the same whole and in bands", "[joins][bands]") {
    for (const Blend blend : {Blend::stipple, Blend::height_aware}) {
        Join join;
        join.blend = blend, join.amount = 60;
        const Recipe recipe = recipe_of({strand_of("a", {{"cells", {{"show", std::string("dome")}}, 2}, {"gradientmap", {}}}),
                                         strand_of("b", {{"cells", {{"show", std::string("dome")}, {"size", 18.0}}, 9}}, join)},
                                        128);
        RenderOptions options;
        options.way = RenderWay::bands;
        for (int threads : {1, 3}) {
            options.threads = threads;
            const auto bands = render_cloth(recipe, {200, 200}, options, job);
            REQUIRE(bands);
            INFO(blend_id(blend) << " " << threads);
            CHECK(same_bytes(*bands, cloth(recipe, {200, 200})));
        }
    }
}

TEST_CASE("a tally is what sorting says, weighted by coverage, at any number of threads", "[tally]") {
    const Plane tone = random_plane({211, 190}, 5, -0.2f, 1.3f);
    std::vector<float> sorted(tone.data(), tone.data() + tone.count());
    std::sort(sorted.begin(), sorted.end());
    const ToneSpan extent = tone_span_of(tone, nullptr, job);
    CHECK(extent.least == sorted.front());
    CHECK(extent.greatest == sorted.back());
    const double low = double(extent.least), high = double(extent.greatest);
    const Tally tally = Tally::of(tone, nullptr, low, high, 4096, job);
    CHECK(tally.total() == double(tone.count()));
    for (double share : {0.01, 0.2, 0.5, 0.9}) {
        const auto at = static_cast<std::size_t>((1 - share) * double(sorted.size()));
        CHECK(tally.tone_above(share) == Approx(double(sorted[at])).margin(2 * (high - low) / 4096));
    }
    // Half of it, covered by half, counts for a quarter of the rest.
    Plane cover({211, 190}, 1.0f);
    for (std::size_t i = 0; i < cover.count(); ++i)
        if (tone.data()[i] < 0.5f) cover.data()[i] = 0.25f;
    const Tally weighted = Tally::of(tone, share(std::move(cover)), low, high, 4096, job);
    const auto below = static_cast<double>(std::lower_bound(sorted.begin(), sorted.end(), 0.5f) - sorted.begin());
    CHECK(weighted.total() == Approx(0.25 * below + (double(sorted.size()) - below)));
    const std::vector<double> shares = tally.shares_below();
    CHECK(std::is_sorted(shares.begin(), shares.end()));
    CHECK(shares.back() > 0.999);
    CHECK(Tally(0, 1, 8).shares_below().empty());
    Tally one(0, 1, 2), three(0, 1, 2);
    with_threads(1, [&] { one = Tally::of(tone, nullptr, 0, 1, 100, job); });
    with_threads(3, [&] { three = Tally::of(tone, nullptr, 0, 1, 100, job); });
    CHECK(one.shares_below() == three.shares_below());
}
