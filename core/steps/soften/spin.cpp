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

enum class Measure { length, angle };

struct Settings {
    Measure measure = Measure::length;
    double length = 140, sweep = 20;
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
    // Rings have about a sample a pixel.
    const double length = s.length * std::sqrt(context.scale_x() * context.scale_y());
    return all_planes(context, [&](const std::vector<const Plane*>& planes) {
        return lines.by_rings(planes, *context.job, [&](const float* ring, int count, float* out) {
            const double reach = s.measure == Measure::angle ? count * s.sweep / 360 : std::min(1.0 * count, length);
            ring_mean(ring, count, reach, s.falloff, out);
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
        .choice("measure", "Measured as", &Settings::measure, {{"length", "A length"}, {"angle", "An angle"}},
                "Whether arcs are as long everywhere, so that contrast is even from the centre to the rim, or as wide.")
        .once(1, Value(std::string("angle")))
        .number("length", "Length", &Settings::length, {0, 8192, Unit::px, 1024, Scale::root}, "Of the arc that is averaged.",
                {"measure", {"length"}})
        .number("sweep", "Sweep", &Settings::sweep, {0, 360, Unit::degrees}, "The whole arc that is averaged.",
                {"measure", {"angle"}})
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
