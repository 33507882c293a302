// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Averages along arcs in polar coordinates: each ring is read with a sample a pixel, averaged round by running sums, and
// read back.
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/each_plane.h"
#include "core/image/line_average.h"
#include "core/image/round.h"

namespace loom {

namespace spin_step {
namespace {

struct Settings {
    double sweep = 20;
    double centre_x = 50, centre_y = 50;
    Falloff falloff = Falloff::even;
};

/// Mean over `reach` samples of a closed ring; three passes of a third each come close to a bell.
void ring_mean(const float* ring, int count, double reach, Falloff falloff, float* out) {
    const double half = (reach / (falloff == Falloff::even ? 1.0 : std::sqrt(3.0)) - 1) / 2;
    if (half <= 0) {
        std::copy_n(ring, count, out);
        return;
    }
    closed_mean(ring, count, half, out);
    if (falloff == Falloff::bell)
        for (int pass = 0; pass < 2; ++pass) closed_mean(out, count, half, out);
}

Bundle run(const Settings& s, const StepContext& context) {
    const PolarLines lines(context.size, s.centre_x, s.centre_y);
    return all_planes(context, [&](const std::vector<const Plane*>& planes) {
        return lines.by_rings(planes, *context.job, [&](const float* ring, int count, float* out) {
            ring_mean(ring, count, count * s.sweep / 360, s.falloff, out);
        });
    });
}

}  // namespace
}  // namespace spin_step

StepDescription describe_spin() {
    using namespace spin_step;
    StepDescription base;
    base.id = "spin", base.title = "Spin blur", base.family = Family::soften;
    base.summary = "Blurs round a centre, as turned metal shines.";
    base.words = "rotate radial circular brushed disc turned lathe blur";
    base.tiles = Tiling::breaks, base.tiles_note = "arcs round one centre cannot meet at the edges";
    base.headline = {"sweep"};
    const Range share{-100, 200, Unit::percent, 100};
    return Describe<Settings>(std::move(base))
        .number("sweep", "Sweep", &Settings::sweep, {0, 360, Unit::degrees}, "The whole arc that is averaged.")
        .number("centre-x", "Centre x", &Settings::centre_x, share, "Place of the centre across the tile.")
        .number("centre-y", "Centre y", &Settings::centre_y, share, "Place of the centre down the tile.")
        .point("Centre", "centre-x", "centre-y")
        .choice("falloff", "Falloff", &Settings::falloff, {{"even", "Even"}, {"bell", "Bell"}},
                "How the arc counts: evenly, or most in its middle.")
        .curve(falloff_curve)
        .needs_whole()
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts& planes) {
            return polar_scratch(at.size, s.centre_x, s.centre_y, planes.in);
        })
        .run(run);
}

}  // namespace loom
