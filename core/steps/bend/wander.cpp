// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/catalogue/describe.h"
#include "core/image/resample.h"
#include "core/structures/drift.h"

namespace loom {

namespace wander_step {
namespace {

struct Settings {
    double distance = 24;
    double size = 160;
    double stretch = 100;
    int octaves = 3;
    double across = 100, down = 100;
};

Bundle run(const Settings& s, const StepContext& context) {
    DriftSettings settings;
    settings.distance_px = s.distance;
    settings.size_x_px = s.size, settings.size_y_px = s.size * s.stretch / 100;
    settings.octaves = s.octaves, settings.seed = context.seed;
    const auto drift = context.once([&] { return Drift(settings, context); });
    const float way_x = static_cast<float>(context.size.width * s.across / 100);
    const float way_y = static_cast<float>(context.size.height * s.down / 100);
    return resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            const auto padded = static_cast<std::size_t>(drift->padded_width());
            std::vector<float> du(padded), dv(padded);
            drift->row(y, du.data(), dv.data());
            for (int x = 0; x < context.size.width; ++x) {
                px[x] = static_cast<float>(x) + du[static_cast<std::size_t>(x)] * way_x;
                py[x] = static_cast<float>(y) + dv[static_cast<std::size_t>(x)] * way_y;
            }
        },
        *context.job);
}

}  // namespace
}  // namespace wander_step

StepDescription describe_wander() {
    using namespace wander_step;
    StepDescription base;
    base.id = "wander", base.title = "Wander", base.family = Family::bend;
    base.scratch_planes = 0.7;
    base.summary = "Bends the picture by soft clouds, so that it stops looking computed.";
    base.words = "wobble distort rough ragged uneven organic bend noise";
    base.seeded = true;
    base.headline = {"distance"};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("distance", "Distance", &Settings::distance, {0, 2048, Unit::px, 200, Scale::root},
                "About how far places move at most.")
        .number("size", "Size", &Settings::size, {4, 8192, Unit::px, 1024, Scale::root},
                "Size of the bends; rounded so that whole ones fill the tile.")
        .number("stretch", "Size down", &Settings::stretch, {5, 2000, Unit::percent, 400, Scale::root},
                "Height of the bends beside their width.")
        .count("octaves", "Octaves", &Settings::octaves, {1, 8}, "How many sizes of bend are summed.")
        .number("across", "Across", &Settings::across, share, "How much of the movement goes across.")
        .number("down", "Down", &Settings::down, share, "How much of the movement goes down.")
        .pair("Way", "across", "down")
        .footprint([](const Settings& s, const Scales& at) {
            return Footprint::near(at.across(drift_most * s.distance * s.across / 100, resampled_margin),
                                   at.down(drift_most * s.distance * s.down / 100, resampled_margin));
        })
        .run(run);
}

}  // namespace loom
