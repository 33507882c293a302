// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What every step says of itself is true, over many settings; and the checks find a step that breaks its word.
#include "core/catalogue/describe.h"
#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

template <class Check>
void over_all_steps(int draws, Check&& check) {
    for (const StepDescription& step : all_steps())
        for (const Values& values : settings_of(step, draws))
            for (const auto& [channels, covered] : {std::pair{3, true}, {1, false}}) {
                const StepTrial trial{.step = step, .values = values, .channels = channels, .covered = covered};
                const std::string fault = check(trial);
                if (!fault.empty()) FAIL_CHECK(words_of(trial) << ": " << fault);
            }
}

}  // namespace

TEST_CASE("a disturbed pixel is felt no farther than each step's footprint says", "[promises][footprint]") {
    int by_bands = 0;
    for (const StepDescription& step : all_steps()) {
        REQUIRE(step.footprint);
        by_bands += step.footprint({}, {{512, 512}, {512, 512}}).by_bands();
    }
    CHECK(by_bands >= 28);
    over_all_steps(10, footprint_fault);
}

TEST_CASE("bands have the bytes of the whole, whatever their height", "[promises][footprint]") {
    over_all_steps(10, bands_fault);
}

TEST_CASE("channels and coverage are those each step announces, over many settings", "[promises][shape]") {
    over_all_steps(6, shape_fault);
}

TEST_CASE("named planes are handed on, and those of objects are never mixed", "[promises][forwarding]") {
    over_all_steps(4, forwarding_fault);
}

TEST_CASE("no step has more planes alive than it announces", "[promises][memory]") {
    for (const StepDescription& step : all_steps())
        for (const Values& values : tried(settings_of(step, 2))) {
            const StepTrial trial{.step = step, .values = values, .size = {512, 384}, .tile = {512, 384}};
            const std::string fault = memory_fault(trial);
            if (!fault.empty()) FAIL_CHECK(words_of(trial) << ": " << fault);
        }
}

namespace {

struct None {};

StepDescription broken(
    std::string_view id, Bundle (*run)(const None&, const StepContext&), Footprint (*foot)(const None&, const Scales&),
    Shape (*shape)(const None&, Shape) = [](const None&, Shape in) { return in; }) {
    StepDescription base;
    base.id = id, base.title = id, base.family = Family::tune;
    return Describe<None>(std::move(base)).shape(shape).footprint(foot).run(run);
}

Footprint pixel(const None&, const Scales&) { return Footprint::pixel(); }

Bundle taken_on(const None&, const StepContext& context) { return part_of(*context.input, context.wanted_rows()); }

/// Reads the pixel above.
Bundle from_above(const None&, const StepContext& context) {
    Bundle out = taken_on({}, context);
    for (std::size_t c = 0; c < out.colour.size(); ++c) {
        Plane moved = context.plane();
        const Plane& from = *context.input->colour[c];
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y) {
                const int above = wrap(y - 1, from.height());
                const float* row = from.row(from.holds(above) ? above : y);
                std::copy_n(row, from.width(), moved.row(y));
            }
        });
        out.colour[c] = share(std::move(moved));
    }
    return out;
}

}  // namespace

TEST_CASE("the checks find steps that break their word", "[promises]") {
    const StepDescription honest = broken("honest", taken_on, pixel);
    const StepTrial good{.step = honest};
    CHECK(footprint_fault(good).empty());
    CHECK(bands_fault(good).empty());
    CHECK(shape_fault(good).empty());
    CHECK(memory_fault(good).empty());
    CHECK(forwarding_fault(good).empty());

    const StepDescription looks_round = broken("looks-round", from_above, pixel);
    CHECK_FALSE(footprint_fault({.step = looks_round}).empty());
    CHECK_FALSE(bands_fault({.step = looks_round}).empty());
    const StepDescription all_rows = broken(
        "all-rows", [](const None&, const StepContext& context) { return *context.input; },
        [](const None&, const Scales&) { return Footprint::near(1, 1); });
    CHECK_FALSE(bands_fault({.step = all_rows}).empty());

    const StepDescription grey = broken(
        "grey",
        [](const None&, const StepContext& context) {
            Bundle out = taken_on({}, context);
            out.colour.resize(1);
            return out;
        },
        pixel);
    CHECK_FALSE(shape_fault({.step = grey}).empty());
    CHECK(shape_fault({.step = grey, .channels = 1}).empty());
    const StepDescription covers = broken(
        "covers",
        [](const None&, const StepContext& context) {
            Bundle out = taken_on({}, context);
            out.coverage = coverage_of(out);
            return out;
        },
        pixel);
    CHECK_FALSE(shape_fault({.step = covers, .covered = false}).empty());

    const StepDescription forgets = broken(
        "forgets",
        [](const None&, const StepContext& context) {
            Bundle out = taken_on({}, context);
            out.named.erase("height");
            return out;
        },
        pixel);
    CHECK_FALSE(forwarding_fault({.step = forgets}).empty());
    const StepDescription mixes = broken(
        "mixes",
        [](const None&, const StepContext& context) {
            Bundle out = taken_on({}, context);
            Plane half = out.named.at("id")->clone();
            for (std::size_t i = 0; i < half.count(); ++i) half.data()[i] *= 0.5f;
            out.named["id"] = share(std::move(half));
            return out;
        },
        pixel);
    CHECK_FALSE(forwarding_fault({.step = mixes}).empty());

    const StepDescription hungry = broken(
        "hungry",
        [](const None&, const StepContext& context) {
            const Plane a(context.size), b(context.size), c(context.size);
            std::vector<Plane> more;
            for (int k = 0; k < 12; ++k) more.emplace_back(context.size, 0.0f);
            return taken_on({}, context);
        },
        pixel);
    CHECK_FALSE(memory_fault({.step = hungry, .size = {512, 384}, .tile = {512, 384}}).empty());
}
