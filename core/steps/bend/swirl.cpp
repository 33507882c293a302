// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/bend/circle.h"

namespace loom {

namespace swirl_step {
namespace {

struct Settings {
    double centre_x = 50, centre_y = 50;
    double radius = 420;
    double turn = 140;
};

Bundle run(const Settings& s, const StepContext& context) {
    const double full = s.turn * 3.14159265358979323846 / 180;
    return bent_round(context, s.centre_x, s.centre_y, [&](double dx, double dy, double& x, double& y) {
        const double t = 1 - std::hypot(dx, dy) / s.radius;
        if (t <= 0) return;
        // Smooth at the rim and in the middle.
        const double turn = full * t * t * (3 - 2 * t), c = std::cos(turn), n = std::sin(turn);
        x = c * dx - n * dy, y = n * dx + c * dy;
    });
}

}  // namespace
}  // namespace swirl_step

StepDescription describe_swirl() {
    using namespace swirl_step;
    StepDescription base;
    base.id = "swirl", base.title = "Swirl", base.family = Family::bend;
    base.summary = "Turns the picture round a centre, most in the middle.";
    base.words = "twist twirl rotate spiral whirl turn vortex knot";
    base.tiles = Tiling::depends, base.tiles_note = circle_tiles;
    base.headline = {"turn"};
    Describe<Settings> describe(std::move(base));
    return describe_centre(describe, &Settings::centre_x, &Settings::centre_y)
        .number("radius", "Radius", &Settings::radius, {1, 16384, Unit::px, 1024, Scale::root}, "How far the swirl reaches.")
        .radius("Radius", "radius", "centre-x", "centre-y")
        .number("turn", "Turn", &Settings::turn, {-3600, 3600, Unit::degrees, 720},
                "How far the middle is turned; up is to the left.")
        .footprint([](const Settings& s, const Scales& at) { return round_footprint(at, 2 * s.radius); })
        .run(run);
}

}  // namespace loom
