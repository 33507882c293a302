// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/image/guided.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace smooth_step {
namespace {

struct Settings {
    double radius = 12;
    double edge = 0.1;
};

Bundle run(const Settings& s, const StepContext& context) {
    return each_plane(context, [&](const Plane& plane) {
        return guided_smooth(plane, s.radius * context.scale_x(), s.radius * context.scale_y(), static_cast<float>(s.edge),
                             *context.job);
    });
}

}  // namespace
}  // namespace smooth_step

StepDescription describe_smooth() {
    using namespace smooth_step;
    StepDescription base;
    base.id = "smooth", base.title = "Edge-keeping smooth", base.family = Family::soften;
    base.summary = "Smooths fine changes of tone and leaves strong edges.";
    base.words = "soft denoise skin bilateral surface calm clean";
    base.scratch_planes = 1;
    base.headline = {"radius", "edge"};
    return Describe<Settings>(std::move(base))
        .number("radius", "Radius", &Settings::radius, {0.5, 1024, Unit::px, 100, Scale::root}, "How far it smooths.")
        .number("edge", "Edge tone", &Settings::edge, {0, 1, Unit::tone, 0, Scale::root},
                "Changes well above this tone are kept.")
        .needs_whole()
        .run(run);
}

}  // namespace loom
