// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How far strokes look: which of them are worked in bands, and from how far a warped picture is read.
#include "core/render/gathering.h"
#include "tests/support/step_checks.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("strokes whose pixels depend on themselves alone are worked in bands, also over the tile's edge", "[hand][bands]") {
    for (const char* kind : {"handtone", "paint"}) {
        const StepDescription& step = *find_step(kind);
        const Parameter& p = *step.parameter_of(Kind::strokes);
        StepTrial trial{step};
        Strokes alone, around;
        const Strokes all = example_strokes(p, trial.tile);
        for (std::size_t k = 0; k < all.size(); ++k) {
            const bool looks = all[k].tool == "blur" || all[k].tool == "smudge" || all[k].tool == "soften";
            Strokes& to = looks ? around : alone;
            to = to.appended(all[k]);
        }
        REQUIRE(alone.size() >= 2);
        REQUIRE(around.size() >= 1);
        INFO(kind);
        const Scales at{trial.size, trial.tile};
        trial.values[std::string(p.id)] = Value(alone);
        CHECK(step.footprint(trial.values, at).by_bands());
        CHECK(bands_fault(trial) == "");
        CHECK(footprint_fault(trial) == "");
        trial.values[std::string(p.id)] = Value(all);
        CHECK_FALSE(step.footprint(trial.values, at).by_bands());
        // A muted one counts for nothing.
        Strokes muted = alone;
        for (std::size_t k = 0; k < around.size(); ++k) {
            Stroke stroke = around[k];
            stroke.muted = true;
            muted = muted.appended(stroke);
        }
        trial.values[std::string(p.id)] = Value(muted);
        CHECK(step.footprint(trial.values, at).by_bands());
        CHECK(bands_fault(trial) == "");
    }
}

TEST_CASE("a hand warp reads from no farther than its strokes have pushed", "[hand][handwarp][bands]") {
    const StepDescription& step = *find_step("handwarp");
    StepDescription tight = step;
    tight.footprint = [&step](const Values& values, const Scales& at) {
        const auto& strokes = as<Strokes>(values.at("strokes"));
        StepContext context;
        context.size = at.size, context.tile = at.tile, context.seed = mix64(mix64(0), 3), context.job = &job;
        return step.carried_footprint(values, step.carry(values, context, 0, strokes.size()), at);
    };
    StepTrial trial{tight};
    trial.size = {96, 160}, trial.tile = {192, 320};
    for (const char* tool : {"push", "swell", "pinch", "turn", "churn"})
        for (double strength : {60.0, -140.0}) {
            INFO(tool << " " << strength);
            Stroke stroke;
            stroke.tool = tool, stroke.size = 30, stroke.strength = 70;
            // Over the tile's lower edge.
            for (int n = 0; n < 4; ++n) stroke.points.push_back({8 * (60 + 9 * n), 8 * (302 + 8 * n), 255, 0, 0});
            trial.values = {{"strokes", Value(Strokes().appended(stroke))}, {"strength", Value(strength)}};
            const Footprint found = tight.footprint(trial.values, {trial.size, trial.tile});
            CHECK(found.by_bands());
            CHECK(found.down < trial.size.height / 2);
            CHECK(bands_fault(trial) == "");
            CHECK(footprint_fault(trial) == "");
        }
}

TEST_CASE("what is too large to be drawn on is warped in bands by all of what was bent", "[hand][handwarp][bands]") {
    Stroke stroke;
    stroke.tool = "push", stroke.size = 90, stroke.strength = 40;
    for (int n = 0; n < 5; ++n) stroke.points.push_back({8 * (300 + 4 * n), 8 * (700 + 3 * n), 255, 0, 0});
    const Recipe recipe =
        recipe_of({strand_of("a", {{"gradient", {}}, {"handwarp", {{"strokes", Value(Strokes().appended(stroke))}}}})}, 1024);
    const Size size{4104, 4104};
    RenderOptions options;
    options.way = RenderWay::bands;
    Gathering gathering;
    int bands = 0;
    REQUIRE(render_bands(
        recipe, size, {Wanted{}}, options,
        [&](const Wanted&, const Bundle& band) -> Result<Done> {
            gathering.add(band, job), ++bands;
            return Done{};
        },
        job));
    CHECK(bands > 4);
    const Bundle made = std::move(gathering).whole();
    // At a size that is drawn on it is warped in one piece.
    const Bundle expected = cloth(recipe, {1026, 1026});
    CHECK(greatest_difference(resized(made, expected.size()), expected) < 2.0 / 255);
}
