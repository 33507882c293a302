// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>
#include <vector>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/noise/clouds.h"
#include "core/noise/grains.h"
#include "core/image/resample.h"

namespace loom {

namespace fray_step {
namespace {

struct Settings {
    double reach = 10;
    double smoothness = 30;
    double narrow = 0;
    double direction = 0;
};

/// Two independent fields of mean 0 and deviation 1: hashed grains of a design pixel, or clouds where they are to be smooth.
class Scatter {
public:
    Scatter(const Settings& s, const StepContext& context) : width_(context.size.width) {
        for (int k = 0; k < 2; ++k) {
            const std::uint64_t seed = mix64(context.seed, static_cast<std::uint64_t>(k));
            GrainSettings grains;
            grains.across = context.tile.width, grains.down = context.tile.height, grains.seed = seed;
            grains_.emplace_back(grains, context.size);
            CloudSettings clouds;
            const double cell = 2 + s.smoothness / 100 * s.reach * 3;
            clouds.across = context.tile.width / cell, clouds.down = context.tile.height / cell, clouds.octaves = 2,
            clouds.seed = seed;
            clouds_.emplace_back(clouds, context.size, context.job);
        }
        share_ = static_cast<float>(std::min(1.0, s.smoothness / 100 * 2));
    }
    void row(int y, int which, std::vector<float>& out) const {
        const auto at = static_cast<std::size_t>(which);
        std::vector<float> rough(static_cast<std::size_t>(width_));
        out.resize(static_cast<std::size_t>(clouds_[at].padded_width()));
        clouds_[at].row(y, out.data());
        grains_[at].row(y, 0, width_, rough.data());
        for (std::size_t x = 0; x < rough.size(); ++x) out[x] = share_ * out[x] + (1 - share_) * rough[x];
    }

private:
    int width_;
    float share_;
    std::vector<GrainField> grains_;
    std::vector<CloudField> clouds_;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Scatter scatter(s, context);
    const double turn = s.direction * 3.14159265358979323846 / 180, c = std::cos(turn), n = std::sin(turn);
    const double keep = 1 - s.narrow / 100;
    return resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            std::vector<float> a, b;
            scatter.row(y, 0, a), scatter.row(y, 1, b);
            for (int x = 0; x < context.size.width; ++x) {
                // Along the direction in full, across it as far as it is not narrowed.
                const double along = 0.5 * static_cast<double>(a[static_cast<std::size_t>(x)]) * s.reach;
                const double across = 0.5 * static_cast<double>(b[static_cast<std::size_t>(x)]) * s.reach * keep;
                px[x] = static_cast<float>(x + (along * c + across * n) * context.scale_x());
                py[x] = static_cast<float>(y + (across * c - along * n) * context.scale_y());
            }
        },
        *context.job);
}

}  // namespace
}  // namespace fray_step

StepDescription describe_fray() {
    using namespace fray_step;
    StepDescription base;
    base.id = "fray", base.title = "Fray", base.family = Family::roughen;
    base.scratch_planes = 0.5;
    base.summary = "Ragged edges: every place takes the picture of a near random place.";
    base.words = "torn ragged rough edges worn tattered rust eroded";
    base.seeded = true;
    base.headline = {"reach"};
    return Describe<Settings>(std::move(base))
        .number("reach", "Reach", &Settings::reach, {0, 1024, Unit::px, 80, Scale::root}, "About how far away a place may look.")
        .number("smoothness", "Smoothness", &Settings::smoothness, {0, 100, Unit::percent},
                "From single stray pixels to ragged tongues.")
        .number("narrow", "Narrowness", &Settings::narrow, {0, 100, Unit::percent}, "How much it keeps to one direction.")
        .number("direction", "Direction", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "That direction; 0 is right, 90 is up.")
        .needs_whole()
        .direction("Direction", "direction")
        .run(run);
}

}  // namespace loom
