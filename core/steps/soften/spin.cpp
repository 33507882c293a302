// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Averages along arcs in polar coordinates: each ring is read with a sample a pixel, averaged round by running sums, and
// read back.
#include "core/steps/soften/round.h"

#include <cmath>

#include "core/steps/all_steps.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace {

struct Settings {
    double sweep = 20;
    double centre_x = 50, centre_y = 50;
    Falloff falloff = Falloff::even;
};

/// Mean over `reach` samples of a closed ring; three passes of a third each come close to a bell.
void ring_mean(std::vector<float>& ring, double reach, Falloff falloff, std::vector<float>& other) {
    const int passes = falloff == Falloff::even ? 1 : 3, count = static_cast<int>(ring.size());
    for (int pass = 0; pass < passes; ++pass) {
        const double half = std::min((count - 1) / 2.0, (reach / (falloff == Falloff::even ? 1.0 : std::sqrt(3.0)) - 1) / 2);
        if (half <= 0) return;
        other.resize(ring.size());
        closed_mean(ring.data(), count, half, other.data());
        ring.swap(other);
    }
}

Bundle run(const Settings& s, const StepContext& context) {
    const Rings rings(context, s.centre_x, s.centre_y);
    return each_plane(*context.input, [&](const Plane& plane) {
        return rings.filtered(plane, *context.job, [&](std::vector<float>& ring, std::vector<float>& other) {
            ring_mean(ring, static_cast<double>(ring.size()) * s.sweep / 360, s.falloff, other);
        });
    });
}

}  // namespace

StepDescription describe_spin() {
    StepDescription base;
    base.id = "spin", base.title = "Spin blur", base.family = Family::soften;
    base.summary = "Blurs round a centre, as turned metal shines.";
    base.tiles = Tiling::breaks, base.tiles_note = "arcs round one centre cannot meet at the edges";
    base.scratch_planes = 3;
    base.headline = {"sweep"};
    const Range share{-100, 200, Unit::percent, 100};
    return Describe<Settings>(std::move(base))
        .number("sweep", "Sweep", &Settings::sweep, {0, 360, Unit::degrees}, "The whole arc that is averaged.")
        .number("centre-x", "Centre x", &Settings::centre_x, share, "Place of the centre across the tile.")
        .number("centre-y", "Centre y", &Settings::centre_y, share, "Place of the centre down the tile.")
        .point("Centre", "centre-x", "centre-y")
        .choice("falloff", "Falloff", &Settings::falloff, {{"even", "Even"}, {"bell", "Bell"}},
                "How the arc counts: evenly, or most in its middle.")
        .run(run);
}

}  // namespace loom
