// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/each_plane.h"
#include "core/image/line_average.h"

namespace loom {

namespace directional_step {
namespace {

struct Settings {
    double length = 160;
    double direction = 0;
    Falloff falloff = Falloff::even;
};

/// Across and down in pixels.
std::pair<double, double> line_of(const Settings& s, double scale_x, double scale_y) {
    const double angle = s.direction * 3.14159265358979323846 / 180;
    return {s.length * std::cos(angle) * scale_x, -s.length * std::sin(angle) * scale_y};
}

Bundle run(const Settings& s, const StepContext& context) {
    const auto line = line_of(s, context.scale_x(), context.scale_y());
    return each_plane(context, [&](const Plane& plane) {
        return line_average(plane, line.first, line.second, s.falloff, context.wanted_rows(), *context.job);
    });
}

}  // namespace
}  // namespace directional_step

StepDescription describe_directional() {
    using namespace directional_step;
    StepDescription base;
    base.id = "directional", base.title = "Directional blur", base.family = Family::soften;
    base.summary = "Averages along a line; wraps at the tile edge.";
    base.words = "motion blur streak stretch smear wood grain brushed";
    base.headline = {"length", "direction"};
    return Describe<Settings>(std::move(base))
        .number("length", "Length", &Settings::length, {0, 8192, Unit::px, 1024, Scale::root},
                "Whole length of the line that is averaged.")
        .number("direction", "Direction", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Direction of the line; 0 is across, 90 is up.")
        .choice("falloff", "Falloff", &Settings::falloff, {{"even", "Even"}, {"bell", "Bell"}},
                "Whether all places along the line count alike or fade towards its ends.")
        .curve(falloff_curve)
        .footprint([](const Settings& s, const Scales& at) {
            const auto [dx, dy] = line_of(s, at.x(), at.y());
            return line_footprint(dx, dy, s.falloff, at.size);
        })
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts&) {
            const auto [dx, dy] = line_of(s, at.x(), at.y());
            return static_cast<double>(line_scratch(dx, dy));
        })
        .direction("Direction", "direction")
        .run(run);
}

}  // namespace loom
