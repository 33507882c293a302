// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What every step says of itself is true, over many settings; and the checks find a step that breaks its word.
#include <cmath>
#include <mutex>
#include <set>

#include "core/catalogue/describe.h"
#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Every step with many settings at each scale; colour with coverage on noise, grey without on patches.
template <class Check>
void over_all_steps(int draws, Check&& check) {
    for (const StepDescription& step : steps_tried())
        for (const TrialScale& scale : trial_scales) {
            // Most settings where a pixel is a design pixel; elsewhere it is lengths that may be wrong.
            const int all = bounds_watched ? draws / 2 : draws, fewer = scale.size == scale.tile ? all : (all + 1) / 2;
            for (const Values& values : settings_of(step, fewer, scale.tile))
                for (const bool rich : {true, false}) {
                    const StepTrial trial{.step = step,
                                          .values = values,
                                          .size = scale.size,
                                          .tile = scale.tile,
                                          .channels = rich ? 3 : 1,
                                          .covered = rich,
                                          .filling = rich ? Filling::noise : Filling::patches};
                    const std::string fault = check(trial);
                    if (!fault.empty()) FAIL_CHECK(words_of(trial) << ": " << fault);
                }
        }
}

}  // namespace

TEST_CASE("a disturbed pixel is felt no farther than each step's footprint says", "[promises][footprint][over-steps]") {
    int by_bands = 0;
    for (const StepDescription& step : steps_tried()) {
        REQUIRE(step.footprint);
        by_bands += step.footprint({}, {{512, 512}, {512, 512}}).by_bands();
    }
    CHECK((by_bands >= 28 || steps_tried().size() == 1));
    over_all_steps(8, footprint_fault);
}

TEST_CASE("bands have the bytes of the whole, whatever their height", "[promises][footprint][over-steps]") {
    over_all_steps(8, bands_fault);
}

TEST_CASE("no result depends on the order in which ranges of rows are made", "[promises][threads][over-steps]") {
    for (const StepDescription& step : steps_tried())
        for (const Values& values : settings_of(step, 2)) {
            // Many ranges: of rows, and of whatever else a step shares out.
            const StepTrial trial{.step = step, .values = values, .size = {48, 336}, .tile = {48, 336}};
            const std::string fault = order_fault(trial);
            if (!fault.empty()) FAIL_CHECK(words_of(trial) << ": " << fault);
        }
}

TEST_CASE("whatever a picture holds, every step comes to an end", "[promises][wild][over-steps]") {
    for (const StepDescription& step : steps_tried())
        for (const TrialScale& scale : trial_scales)
            for (const Filling filling : {Filling::wild, Filling::wild_others})
                for (std::uint32_t seed = 0; const Values& values : settings_of(step, 2, scale.tile)) {
                    const StepTrial trial{.step = step,
                                          .values = values,
                                          .seed = ++seed,
                                          .size = scale.size,
                                          .tile = scale.tile,
                                          .channels = seed % 2 ? 3 : 1,
                                          .covered = seed % 4 < 2,
                                          .filling = filling};
                    INFO(words_of(trial));
                    const std::string fault = wild_fault(trial);
                    if (!fault.empty()) FAIL_CHECK(fault);
                }
}

TEST_CASE("places beyond what can be told are read within the picture", "[promises][wild]") {
    // A formula of the catalogue and a bend of the catalogue, both within their ranges.
    for (const char* from : {"tone", "gradient"})
        for (const Size size : {Size{64, 64}, {250, 130}, {1000, 1000}}) {
            const Recipe recipe = recipe_of({strand_of("far", {{"formula", {{"expression", std::string("999999*u")}}}}),
                                             strand_of("bent", {{"clouds", {}},
                                                                {"displace",
                                                                 {{"source", std::string("strand")},
                                                                  {"strand", std::string("far")},
                                                                  {"from", std::string(from)},
                                                                  {"x", 4096.0}}}})},
                                            1000);
            CHECK(cloth(recipe, size).size() == size);
        }
}

TEST_CASE("channels and coverage are those each step announces, over many settings", "[promises][shape][over-steps]") {
    over_all_steps(6, shape_fault);
}

TEST_CASE("named planes are handed on, and those of objects are never mixed", "[promises][forwarding][over-steps]") {
    over_all_steps(4, forwarding_fault);
}

TEST_CASE("no step has more planes alive than it announces", "[promises][memory][over-steps]") {
    for (const StepDescription& step : steps_tried())
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

TEST_CASE("settings are drawn on all sides of nothing, and at both ends", "[promises]") {
    const StepDescription& step = *find_step("displace");
    const Parameter &x = *step.parameter("x"), &y = *step.parameter("y");
    std::set<std::pair<bool, bool>> quadrants;
    bool least = false, most = false;
    for (const Values& values : settings_of(step, 16)) {
        if (!values.contains("x") || !values.contains("y")) continue;
        const double across = as<double>(values.at("x")), down = as<double>(values.at("y"));
        if (across != 0 && down != 0) quadrants.insert({across < 0, down < 0});
        least = least || across == x.slider_min || down == y.slider_min;
        most = most || across == x.slider_max || down == y.slider_max;
    }
    CHECK(quadrants.size() == 4);
    CHECK(least);
    CHECK(most);
}

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

    // A length that is announced in design pixels and read in those of the picture shows where the two differ.
    const StepDescription forgets_scale = broken(
        "forgets-scale",
        [](const None&, const StepContext& context) {
            Bundle out = taken_on({}, context);
            const int far = static_cast<int>(std::lround(2 * context.scale_y()));
            for (PlaneRef& plane : out.colour) {
                const Plane& from = *context.input->colour[static_cast<std::size_t>(&plane - out.colour.data())];
                Plane moved = context.plane();
                context.for_rows([&](int first, int last) {
                    for (int y = first; y < last; ++y) {
                        const int above = wrap(y - far, from.height());
                        std::copy_n(from.row(from.holds(above) ? above : y), from.width(), moved.row(y));
                    }
                });
                plane = share(std::move(moved));
            }
            return out;
        },
        [](const None&, const Scales&) { return Footprint::near(2, 2); });
    CHECK(footprint_fault({.step = forgets_scale}).empty());
    CHECK_FALSE(footprint_fault({.step = forgets_scale, .size = {96, 80}, .tile = {48, 40}}).empty());
    CHECK_FALSE(bands_fault({.step = forgets_scale, .size = {96, 80}, .tile = {48, 40}}).empty());
    // A sum in the order in which ranges happen to end.
    const StepDescription sums = broken(
        "sums",
        [](const None&, const StepContext& context) {
            std::mutex mutex;
            float sum = 0;
            for_rows(*context.job, context.size.height, [&](int first, int last) {
                const std::lock_guard lock(mutex);
                for (int y = first; y < last; ++y)
                    for (int x = 0; x < context.size.width; ++x) sum += context.input->channel(0).row(y)[x];
            });
            Bundle out = *context.input;
            for (PlaneRef& plane : out.colour) plane = share(Plane(context.size, sum));
            return out;
        },
        [](const None&, const Scales&) { return Footprint::whole(); });
    CHECK_FALSE(order_fault({.step = sums, .size = {56, 400}, .tile = {56, 400}}).empty());
    CHECK(order_fault(good).empty());

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
