// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/resample.h"

namespace loom {

namespace polar_step {
namespace {

enum class Way { round, straight };

struct Settings {
    Way way = Way::round;
    double centre_x = 50, centre_y = 50;
    double turn = 0;
};

constexpr double turn_of_all = 6.283185307179586;

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const double cx = s.centre_x / 100 * size.width, cy = s.centre_y / 100 * size.height;
    // The rim touches the nearer edges of a tile with the centre in its middle.
    const double radius = std::min(size.width, size.height) / 2.0;
    return resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            for (int x = 0; x < size.width; ++x) {
                if (s.way == Way::round) {
                    const double dx = x + 0.5 - cx, dy = cy - y - 0.5;
                    double share = std::atan2(dy, dx) / turn_of_all - s.turn / 360;
                    share -= std::floor(share);
                    px[x] = static_cast<float>(share * size.width - 0.5);
                    py[x] = static_cast<float>(std::min(1.0, std::hypot(dx, dy) / radius) * (size.height - 1));
                } else {
                    const double turn = turn_of_all * ((x + 0.5) / size.width + s.turn / 360),
                                 distance = radius * (y + 0.5) / size.height;
                    px[x] = static_cast<float>(cx + distance * std::cos(turn) - 0.5);
                    py[x] = static_cast<float>(cy - distance * std::sin(turn) - 0.5);
                }
            }
        },
        *context.job);
}

}  // namespace
}  // namespace polar_step

StepDescription describe_polar() {
    using namespace polar_step;
    StepDescription base;
    base.id = "polar", base.title = "Polar", base.family = Family::bend;
    base.summary = "Rolls the picture up round a centre, or unrolls it.";
    base.words = "round circular wrap disc rays fisheye concentric";
    base.tiles = Tiling::breaks, base.tiles_note = "what is straight at one edge is a ring or a ray at the other";
    base.headline = {"way"};
    const Range share{-100, 200, Unit::percent, 100};
    return Describe<Settings>(std::move(base))
        .choice("way", "Way", &Settings::way, {{"round", "Straight to round"}, {"straight", "Round to straight"}},
                "Whether the top becomes the centre and the sides meet, or a disc is laid out flat.")
        .visual()
        .number("centre-x", "Centre x", &Settings::centre_x, share, "Place of the centre across the tile.")
        .number("centre-y", "Centre y", &Settings::centre_y, share, "Place of the centre down the tile.")
        .pair("Centre", "centre-x", "centre-y")
        .point("Centre", "centre-x", "centre-y")
        .number("turn", "Turn", &Settings::turn, {-360, 360, Unit::degrees, 180}, "Where the left side lies on the round.")
        .needs_whole()
        .run(run);
}

}  // namespace loom
