// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/each_plane.h"
#include "core/image/rank.h"

namespace loom {

namespace median_step {
namespace {

struct Settings {
    double radius = 4;
    double rank = 50;
};

Bundle run(const Settings& s, const StepContext& context) {
    const double rank = std::clamp(s.rank / 100, 0.0, 1.0);
    const int rx = static_cast<int>(std::lround(s.radius * context.scale_x())),
              ry = static_cast<int>(std::lround(s.radius * context.scale_y()));
    return each_plane(context,
                      [&](const Plane& plane) { return ranked(plane, rx, ry, rank, context.wanted_rows(), *context.job); });
}

}  // namespace
}  // namespace median_step

StepDescription describe_median() {
    using namespace median_step;
    StepDescription base;
    base.id = "median", base.title = "Median", base.family = Family::soften;
    base.summary = "Takes the middle of all tones round about: specks go, edges stay.";
    base.words = "denoise despeckle clean smooth spots remove";
    base.scratch_planes = 0;
    base.headline = {"radius"};
    return Describe<Settings>(std::move(base))
        .number("radius", "Radius", &Settings::radius, {0, 512, Unit::px, 48, Scale::root},
                "How far round about tones are looked at.")
        .number("rank", "Rank", &Settings::rank, {0, 100, Unit::percent},
                "0 % takes the darkest, 50 % the middle, 100 % the lightest tone.")
        .footprint([](const Settings& s, const Scales& at) {
            return ranked_footprint(static_cast<int>(std::lround(s.radius * at.x())),
                                    static_cast<int>(std::lround(s.radius * at.y())), at.size);
        })
        .run(run);
}

}  // namespace loom
