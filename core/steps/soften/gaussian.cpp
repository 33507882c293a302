// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/gaussian.h"

#include <algorithm>

#include "core/catalogue/describe.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace gaussian_step {
namespace {

struct Settings {
    double radius = 8;
    bool apart = false;
    double radius_down = 8;
};

double down_of(const Settings& s) { return s.apart ? s.radius_down : s.radius; }

Bundle run(const Settings& s, const StepContext& context) {
    const double across = s.radius * context.scale_x(), down = down_of(s) * context.scale_y();
    return each_plane(
        context, [&](const Plane& plane) { return gaussian_blur(plane, across, down, context.wanted_rows(), *context.job); });
}

}  // namespace
}  // namespace gaussian_step

StepDescription describe_gaussian() {
    using namespace gaussian_step;
    StepDescription base;
    base.id = "gaussian", base.title = "Gaussian blur", base.family = Family::soften;
    base.summary = "Softens evenly in all directions; wraps at the tile edge.";
    base.words = "soft softer blur smooth defocus out of focus feather";
    base.scratch_planes = 0;
    base.headline = {"radius"};
    const Range radius{0, 4096, Unit::px, 200, Scale::root};
    return Describe<Settings>(std::move(base))
        .number("radius", "Radius", &Settings::radius, radius, "Standard deviation of the blur.")
        .toggle("apart", "Down apart", &Settings::apart, "Gives the blur down the tile a radius of its own.")
        .number("radius-down", "Radius down", &Settings::radius_down, radius, "Standard deviation down the tile.",
                {"apart", {"on"}})
        .footprint([](const Settings& s, const Scales& at) { return gaussian_footprint(s.radius * at.x(), down_of(s) * at.y()); })
        .run(run);
}

}  // namespace loom
