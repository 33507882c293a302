// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/bend/circle.h"

namespace loom {

namespace ripple_step {
namespace {

struct Settings {
    double centre_x = 50, centre_y = 50;
    double radius = 480;
    double wavelength = 72;
    double height = 10;
    double phase = 0;
};

Bundle run(const Settings& s, const StepContext& context) {
    constexpr double turn = 6.283185307179586;
    return bent_round(context, s.centre_x, s.centre_y, [&](double dx, double dy, double& x, double& y) {
        const double distance = std::hypot(dx, dy), t = 1 - distance / s.radius;
        if (t <= 0 || distance < 1e-6) return;
        // Still in the very middle, and dying out in the outer third.
        const double rim = std::min(1.0, 3 * t), middle = std::min(1.0, distance / (s.wavelength / 4));
        const double way =
            s.height * rim * rim * (3 - 2 * rim) * middle * std::sin(turn * (distance / s.wavelength - s.phase / 360));
        x = dx * (1 + way / distance), y = dy * (1 + way / distance);
    });
}

}  // namespace
}  // namespace ripple_step

StepDescription describe_ripple() {
    using namespace ripple_step;
    StepDescription base;
    base.id = "ripple", base.title = "Ripples", base.family = Family::bend;
    base.summary = "Rings that run out from a centre, as on water.";
    base.words = "water rings drop circles concentric waves";
    base.tiles = Tiling::depends, base.tiles_note = circle_tiles;
    base.headline = {"wavelength", "height"};
    Describe<Settings> describe(std::move(base));
    return describe_centre(describe, &Settings::centre_x, &Settings::centre_y)
        .number("radius", "Radius", &Settings::radius, {1, 16384, Unit::px, 1024, Scale::root}, "How far the rings reach.")
        .radius("Radius", "radius", "centre-x", "centre-y")
        .number("wavelength", "Wavelength", &Settings::wavelength, {2, 4096, Unit::px, 400, Scale::root}, "From ring to ring.")
        .number("height", "Height", &Settings::height, {0, 1024, Unit::px, 100, Scale::root}, "How far places move.")
        .number("phase", "Phase", &Settings::phase, {-360, 360, Unit::degrees, 180}, "Where the rings begin.")
        .footprint([](const Settings& s, const Scales& at) { return round_footprint(at, s.height); })
        .run(run);
}

}  // namespace loom
