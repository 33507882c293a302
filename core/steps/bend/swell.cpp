// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/bend/circle.h"

namespace loom {

namespace swell_step {
namespace {

struct Settings {
    double centre_x = 50, centre_y = 50;
    double radius = 420;
    double strength = 50;
};

Bundle run(const Settings& s, const StepContext& context) {
    // At 100 % the middle is drawn out as the square of the distance; at -100 % as its root.
    const double power = std::exp2(s.strength / 100) - 1;
    return bent_round(context, s.centre_x, s.centre_y, [&](double dx, double dy, double& x, double& y) {
        const double t = std::hypot(dx, dy) / s.radius;
        if (t >= 1 || t <= 0) return;
        // The change fades out towards the rim, where the slope meets the plain picture's.
        const double keep = 1 - t * t, scale = std::pow(t, power * keep);
        x = dx * scale, y = dy * scale;
    });
}

}  // namespace
}  // namespace swell_step

StepDescription describe_swell() {
    using namespace swell_step;
    StepDescription base;
    base.id = "swell", base.title = "Swell and pinch", base.family = Family::bend;
    base.summary = "Blows the picture up round a centre, or draws it together.";
    base.words = "bulge bloat pinch lens bigger smaller magnify inflate shrink";
    base.tiles = Tiling::depends, base.tiles_note = circle_tiles;
    base.headline = {"strength"};
    Describe<Settings> describe(std::move(base));
    return describe_centre(describe, &Settings::centre_x, &Settings::centre_y)
        .number("radius", "Radius", &Settings::radius, {1, 16384, Unit::px, 1024, Scale::root}, "How far it reaches.")
        .radius("Radius", "radius", "centre-x", "centre-y")
        .number("strength", "Strength", &Settings::strength, {-100, 100, Unit::percent}, "Above 0 it swells, below it pinches.")
        .footprint([](const Settings& s, const Scales& at) { return round_footprint(at, s.radius); })
        .run(run);
}

}  // namespace loom
