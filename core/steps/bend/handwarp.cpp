// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/structures/hand_warp.h"
#include "core/structures/ways.h"

namespace loom {

namespace handwarp_step {
namespace {

struct Settings {
    Strokes strokes;
    double strength = 100;
    Edge edge = Edge::wrap;
};

bool nothing_to_do(const Settings& s) { return s.strokes.empty() || s.strength == 0; }

/// Planes 0 and 1 of what is carried: how far away places are read, across and down.
Bundle carry(const Settings& s, const StepContext& context, std::size_t first, std::size_t last) {
    HandWarp warp = context.carried
                        ? HandWarp(context.tile, context.seed, *context.carried->colour[0], *context.carried->colour[1])
                        : HandWarp(context.tile, context.seed);
    warp.add(s.strokes, first, last, *context.job);
    Bundle result;
    result.colour = {share(std::move(warp.across)), share(std::move(warp.down))};
    result.colour.push_back(result.colour.front());
    return result;
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    if (nothing_to_do(s)) return unbent(s.edge, *context.input, context.wanted_rows());
    // Where bands are made one after the other it is worked out once.
    const auto made = context.carried ? nullptr : context.once([&] { return carry(s, context, 0, s.strokes.size()); });
    const Bundle& warped = context.carried ? *context.carried : *made;
    return bent_by(*warped.colour[0], *warped.colour[1], s.strength / 100, s.edge, context);
}

}  // namespace
}  // namespace handwarp_step

StepDescription describe_handwarp() {
    using namespace handwarp_step;
    StepDescription base;
    base.id = "handwarp", base.title = "Hand warp", base.family = Family::bend;
    base.summary = "Bends the picture by hand: strokes that push, swell, pinch, turn and churn it, and stay to be changed.";
    base.words = "smudge push finger smear drag by hand knot";
    base.tiles = Tiling::depends, base.tiles_note = "it repeats while what lies beyond the edge wraps";
    base.headline = {"strokes"};
    base.seeded = true;
    Describe<Settings> describe(std::move(base));
    describe
        .strokes(
            "strokes", "Strokes", &Settings::strokes,
            {{"push", "Push"},
             {"swell", "Swell"},
             {"pinch", "Pinch"},
             {"turn", "Turn"},
             {"churn", "Churn"},
             {"restore", "Restore"}},
            "Drawn on the cloth. Push drags the surface along, swell and pinch blow it up or draw it together, turn spins it, "
            "churn stirs it, restore takes back what was bent. A strength below 0 works the other way round.")
        .number("strength", "Strength", &Settings::strength, {-200, 200, Unit::percent}, "How much of all that was bent counts.");
    return describe_edge(describe)
        .draws([](const Settings& s) {
            for (std::size_t k = 0; k < s.strokes.size(); ++k)
                if (s.strokes[k].tool == "churn") return true;
            return false;
        })
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts& planes) {
            return (s.edge == Edge::wrap ? 0.0 : beyond_scratch(s.edge, planes.in)) +
                   4.0 * static_cast<double>(warp_grid(at.tile).pixels()) / static_cast<double>(at.size.pixels());
        })
        .carry(carry, {3, false}, warp_grid)
        .carried_footprint([](const Settings& s, const Bundle& carried, const Scales& at) {
            if (s.edge != Edge::wrap) return Footprint::whole();
            return nothing_to_do(s) ? Footprint::pixel()
                                    : bent_footprint(*carried.colour[0], *carried.colour[1], s.strength / 100, at);
        })
        .footprint([](const Settings& s, const Scales& at) {
            if (s.edge != Edge::wrap) return Footprint::whole();
            // From anywhere, but no more of it is made than is wanted.
            return nothing_to_do(s) ? Footprint::pixel() : Footprint::near(at.size.width, at.size.height);
        })
        .run(run);
}

}  // namespace loom
