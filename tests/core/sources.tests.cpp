// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What all sources have to keep: scale, the same picture on every machine, objects handed on; and the simple ones.
#include <hwy/targets.h>

#include <cmath>
#include <set>

#include "core/noise/clouds.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Defaults and one setting for every choice of a Make step.
std::vector<Values> settings_of(const StepDescription& step) {
    std::vector<Values> all{{}};
    for (const Parameter& p : step.parameters)
        for (const Choice& choice : p.choices) all.push_back({{std::string(p.id), Value(std::string(choice.id))}});
    return tried(std::move(all));
}

std::vector<const StepDescription*> sources() {
    std::vector<const StepDescription*> result;
    for (const StepDescription& step : all_steps())
        if (step.family == Family::make && step.id != "beneath" && !step.parameter_of(Kind::picture) &&
            !step.parameter_of(Kind::recipe) && step.id != "borrow")
            result.push_back(&step);
    return result;
}

std::string words(const StepDescription& step, const Values& values) {
    std::string text(step.id);
    for (const auto& [id, value] : values) text.append(" ").append(id).append("=").append(show_value(*step.parameter(id), value));
    return text;
}

}  // namespace

TEST_CASE("4096 pixels shrunk to 1024 are the picture at 1024, for every source", "[sources][scale]") {
    for (const StepDescription* step : tried(sources())) {
        const Recipe recipe = recipe_of({strand_of("a", {{std::string(step->id), {}, 2}})}, 1024);
        const Bundle small = cloth(recipe, {1024, 1024}), large = cloth(recipe, {4096, 4096});
        INFO(step->id);
        for (std::size_t c = 0; c < small.colour.size(); ++c)
            // Cloth is all edges: eleven pixels a thread, from one over the next without a seam of its own.
            CHECK(mean_difference(*small.colour[c], resized(*large.colour[c], {1024, 1024})) <
                  (step->id == "weave" ? 3.5 : 2.0) / 255);
    }
}

TEST_CASE("sources at 512 are what larger pictures of them are, shrunk, at several seeds", "[sources][scale]") {
    const Size small{512, 512};
    for (const StepDescription* step : tried(sources())) {
        std::vector<Values> kinds{{}};
        if (step->id == "rings") kinds.push_back({{"cut", std::string("end")}});
        if (step->id == "courses") kinds.push_back({{"bond", std::string("planks")}});
        for (const Values& values : kinds)
            for (std::uint32_t seed : {3u, 8u, 21u}) {
                const Recipe recipe = recipe_of({strand_of("a", {{std::string(step->id), values, seed}})}, 1024);
                const Bundle at_512 = cloth(recipe, small);
                INFO(words(*step, values) << ", seed " << seed);
                for (int times : {2, 4}) {
                    const Bundle large = cloth(recipe, {512 * times, 512 * times});
                    double apart = 0;
                    for (int c = 0; c < 3; ++c) apart += mean_difference(at_512.channel(c), resized(large.channel(c), small)) / 3;
                    CHECK(apart < 3.0 / 255);
                }
            }
    }
}

TEST_CASE("every source gives the same 16-bit picture whatever vectors the machine has", "[sources][targets]") {
    const Size size{160, 120};
    for (const StepDescription* step : sources())
        for (const Values& values : settings_of(*step)) {
            const Bundle best = applied(std::string(step->id), values, nullptr, size, 6);
            for (std::uint32_t without : {HWY_AVX3 | HWY_AVX3_DL, HWY_AVX3 | HWY_AVX3_DL | HWY_AVX2}) {
                hwy::DisableTargets(without);
                hwy::GetChosenTarget().DeInit();
                const Bundle other = applied(std::string(step->id), values, nullptr, size, 6);
                hwy::DisableTargets(0);
                hwy::GetChosenTarget().DeInit();
                INFO(words(*step, values) << " without " << without);
                // What reads noise at places that come from noise carries a rounding on; half an 8-bit step at most.
                const bool bent = step->id == "rings" || step->id == "weave" || step->id == "veins" || step->id == "facets" ||
                                  step->id == "cells" || step->id == "courses" || step->id == "streaks";
                CHECK(greatest_difference(best, other) <= (bent ? 0.5 / 255 : 1.01 / 65535));
            }
        }
}

TEST_CASE("no direction of the lattice shows in clouds, for any basis and form", "[sources][clouds]") {
    for (Basis basis : tried(std::vector{Basis::gradient, Basis::value, Basis::simplex}))
        for (CloudForm form : tried(std::vector{CloudForm::smooth, CloudForm::billowed, CloudForm::ridged, CloudForm::folded})) {
            // The mean power over many seeds, by direction, at the scale of the third octave.
            constexpr int directions = 12, seeds = 24;
            double strongest = 0, mean = 0;
            for (int k = 0; k < directions; ++k) {
                const double turn = 3.14159265358979 * k / directions;
                const int fx = static_cast<int>(std::lround(14 * std::cos(turn))),
                          fy = static_cast<int>(std::lround(14 * std::sin(turn)));
                double power = 0;
                for (int seed = 0; seed < seeds; ++seed) {
                    CloudSettings settings;
                    settings.basis = basis, settings.form = form, settings.across = settings.down = 4, settings.octaves = 5;
                    settings.seed = static_cast<std::uint64_t>(seed);
                    const CloudField field(settings, {128, 128});
                    std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
                    double c = 0, s = 0;
                    for (int y = 0; y < 128; ++y) {
                        field.row(y, row.data());
                        for (int x = 0; x < 128; ++x) {
                            const double phase = 6.283185307179586 * (fx * x + fy * y) / 128.0;
                            c += static_cast<double>(row[static_cast<std::size_t>(x)]) * std::cos(phase);
                            s += static_cast<double>(row[static_cast<std::size_t>(x)]) * std::sin(phase);
                        }
                    }
                    power += c * c + s * s;
                }
                strongest = std::max(strongest, power), mean += power / directions;
            }
            const double worst = strongest / mean;
            INFO(static_cast<int>(basis) << " " << static_cast<int>(form) << ": " << worst);
            // 24 draws of an exponential deviate scatter by a fifth; a lattice that shows gives several times the mean.
            CHECK(worst < 2.2);
        }
}

TEST_CASE("clouds enlarged from coarse grids are the exact sum to a hundredth of their deviation", "[sources][clouds]") {
    for (const auto& [across, down, octaves] : {std::tuple{3.0, 5.0, 6}, std::tuple{8.0, 8.0, 7}}) {
        CloudSettings settings;
        settings.across = across, settings.down = down, settings.octaves = octaves, settings.seed = 9;
        const Size size{512, 384};
        const CloudField exact(settings, size), quick(settings, size, &job);
        std::vector<float> a(static_cast<std::size_t>(exact.padded_width())), b(a.size());
        double worst = 0;
        for (int y = 0; y < size.height; y += 3) {
            exact.row(y, a.data());
            quick.row(y, b.data());
            for (int x = 0; x < size.width; ++x)
                worst = std::max(worst,
                                 static_cast<double>(std::abs(a[static_cast<std::size_t>(x)] - b[static_cast<std::size_t>(x)])));
        }
        INFO(across << " x " << down << ": " << worst);
        CHECK(worst < 1e-2);
        CHECK(worst > 0);
    }
}

TEST_CASE("stripes are as many as the counts say, and close at any angle", "[sources][stripes]") {
    auto crossings = [](const Bundle& picture, bool across) {
        int count = 0;
        const Size size = picture.size();
        const int length = across ? size.width : size.height;
        for (int k = 0; k < length; ++k) {
            const int next = (k + 1) % length;
            const float a = across ? picture.channel(0).at(k, 3) : picture.channel(0).at(3, k);
            const float b = across ? picture.channel(0).at(next, 3) : picture.channel(0).at(3, next);
            count += (a < 0.5f) != (b < 0.5f);
        }
        return count / 2;
    };
    for (const char* form : {"sine", "triangle", "bar"})
        for (const auto& [x, y] : {std::pair{7.0, 0.0}, std::pair{0.0, 5.0}, std::pair{4.0, 3.0}}) {
            const Bundle picture =
                applied("stripes", {{"form", std::string(form)}, {"by", std::string("counts")}, {"count-x", x}, {"count-y", y}},
                        nullptr, {200, 140});
            INFO(form << " " << x << " " << y);
            CHECK(crossings(picture, true) == static_cast<int>(x));
            CHECK(crossings(picture, false) == static_cast<int>(y));
        }
    // The light share is the share of light.
    for (const char* form : {"bar", "dots"})
        for (double duty : {20.0, 50.0}) {
            const Bundle picture =
                applied("stripes", {{"form", std::string(form)}, {"duty", duty}, {"size", 40.0}}, nullptr, {320, 320});
            CHECK(mean_of(picture.channel(0)) == Approx(duty / 100).margin(0.01));
        }
    const StepDescription& step = *find_step("stripes");
    CHECK(step.rounded({{"size", 64.0}}, {1024, 1024}).empty());
    CHECK_THAT(step.rounded({{"size", 100.0}, {"angle", 30.0}}, {1024, 1024}), Catch::Contains("degrees"));
    CHECK_THAT(find_step("clouds")->rounded({{"size-x", 300.0}}, {1024, 1024}), Catch::Contains("341.3 x 256 px"));
    CHECK(find_step("clouds")->rounded({}, {1024, 1024}).empty());
}

TEST_CASE("objects go with the picture through filters, bends, masks and joins", "[sources][objects]") {
    const Values stones{{"size", 24.0}};
    auto who = [&](std::vector<StepOrder> more, const char* output = "object") {
        std::vector<StepOrder> chain{{"cells", stones, 3}};
        chain.insert(chain.end(), more.begin(), more.end());
        return cloth(
            recipe_of({strand_of("stones", chain),
                       strand_of("who", {{"borrow", {{"strand", std::string("stones")}, {"output", std::string(output)}}}})}),
            {128, 128});
    };
    const Bundle plain = who({});
    // A blur and a change of tone leave objects alone.
    CHECK(same_bytes(plain, who({{"gaussian", {{"radius-x", 6.0}}}, {"levels", {{"middle", 2.0}}}})));
    // What moves the picture moves them, and never mixes two numbers.
    CHECK(same_bytes(rolled(plain, 10, 4), who({{"shift", {{"x", 10.0}, {"y", 4.0}}}})));
    const Bundle bent = who({{"wander", {{"distance", 20.0}, {"size", 64.0}}, 5}});
    CHECK(greatest_difference(plain, bent) > 0);
    std::set<float> known;
    for (std::size_t i = 0; i < plain.size().pixels(); ++i) known.insert(plain.colour[0]->data()[i]);
    for (std::size_t i = 0; i < bent.size().pixels(); ++i) REQUIRE(known.contains(bent.colour[0]->data()[i]));
    CHECK(deviation_of(who({}, "lot-2").channel(0)) > 0.2);
    CHECK(deviation_of(who({}, "object-u").channel(0)) > 0.2);
    // Joined: the upper strand's where it covers, the lower one's elsewhere.
    Recipe joined =
        recipe_of({strand_of("low", {{"cells", stones, 3}}), strand_of("high", {{"cells", {{"size", 60.0}}, 8}}),
                   strand_of("both", {{"beneath", {}}}),
                   strand_of("who", {{"borrow", {{"strand", std::string("both")}, {"output", std::string("object")}}}})});
    Strand high = *joined.strands[1];
    Step half;
    half.id = "m1", half.kind = "formula", half.set = {{"expression", std::string("u < 0.5")}};
    high.mask.push_back(half);
    joined.strands[1] = std::make_shared<const Strand>(high);
    const Bundle both = cloth(joined, {128, 128});
    const Bundle upper =
        cloth(recipe_of({strand_of("high", {{"cells", {{"size", 60.0}}, 8}}),
                         strand_of("who", {{"borrow", {{"strand", std::string("high")}, {"output", std::string("object")}}}})}),
              {128, 128});
    for (int y = 0; y < 128; y += 5) {
        REQUIRE(both.channel(0).at(20, y) == upper.channel(0).at(20, y));
        REQUIRE(both.channel(0).at(100, y) == plain.channel(0).at(100, y));
    }
}
