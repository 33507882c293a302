// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/catalogue/describe.h"
#include "core/structures/least_moves.h"
#include "core/structures/ways.h"

namespace loom {

namespace handles_step {
namespace {

struct Settings {
    Moves moves;
    Stiffness stiffness = Stiffness::rigid;
    double reach = 300;
    Edge edge = Edge::wrap;
};

bool nothing_to_do(const Settings& s) { return s.moves.empty(); }

/// How far places are read from, design px, on a grid over the tile; smooth but for the points themselves.
struct Ways {
    Size grid;
    Plane x, y;

    Ways(const Settings& s, const StepContext& context) : grid(size_for(context.tile)), x(grid), y(grid) {
        for_rows(*context.job, grid.height, [&](int first, int last) {
            for (int j = first; j < last; ++j)
                for (int i = 0; i < grid.width; ++i) {
                    const auto way =
                        least_move(s.moves, s.stiffness, s.reach, context.tile, (i + 0.5) * context.tile.width / grid.width,
                                   (j + 0.5) * context.tile.height / grid.height);
                    x.row(j)[i] = static_cast<float>(way.x), y.row(j)[i] = static_cast<float>(way.y);
                }
        });
    }
    static Size size_for(Size tile) {
        const auto places = [](int length) { return std::clamp(length / 4, std::min(length, 64), 512); };
        return {places(tile.width), places(tile.height)};
    }
};

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    if (nothing_to_do(s)) return unbent(s.edge, *context.input, context.wanted_rows());
    const auto made = context.once([&] { return Ways(s, context); });
    return bent_by(made->x, made->y, 1, s.edge, context);
}

}  // namespace
}  // namespace handles_step

StepDescription describe_handles() {
    using namespace handles_step;
    StepDescription base;
    base.id = "handles", base.title = "Handles", base.family = Family::bend;
    base.summary = "Points that are dragged to other places, and what lies between them with them.";
    base.words = "warp pull points cage distort drag mesh";
    base.tiles = Tiling::depends, base.tiles_note = "it repeats while what lies beyond the edge wraps";
    base.headline = {"moves"};
    base.scratch_planes = 0.2;
    Describe<Settings> describe(std::move(base));
    describe
        .moves("moves", "Points", &Settings::moves,
               "Click on the cloth to set a point, drag it to where it should come. A point that stays holds what is there.")
        .choice(
            "stiffness", "Between them", &Settings::stiffness,
            {{"rigid", "Stiff"}, {"similar", "May grow"}, {"affine", "May shear"}},
            "Whether the surface between the points only turns (rigid), may grow and shrink too (similar), or shear (affine).")
        .number("reach", "Reach", &Settings::reach, {8, 16384, Unit::px, 1024, Scale::root},
                "What is farther than about this from all points stays where it is.");
    return describe_edge(describe)
        .scratch([](const Settings& s, const Scales&, const PlaneCounts& planes) {
            return s.edge == Edge::wrap ? 0.2 : beyond_scratch(s.edge, planes.in);
        })
        .footprint([](const Settings& s, const Scales& at) {
            if (s.edge != Edge::wrap) return Footprint::whole();
            // From anywhere, but no more of it is made than is wanted.
            return nothing_to_do(s) ? Footprint::pixel() : Footprint::near(at.size.width, at.size.height);
        })
        .run(run);
}

}  // namespace loom
