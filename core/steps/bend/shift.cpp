// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/resample.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace shift_step {
namespace {

struct Settings {
    double x = 0, y = 0;
    double across = 0, down = 0;
    bool half = false;
};

Plane rolled(const Plane& plane, int dx, int dy, const StepContext& context) {
    Plane out = context.plane();
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* from = plane.row(wrap(y - dy, plane.height()));
            const int split = wrap(dx, plane.width());
            std::copy_n(from, plane.width() - split, out.row(y) + split);
            std::copy_n(from + (plane.width() - split), split, out.row(y));
        }
    });
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    const double half = s.half ? 50 : 0;
    const double dx = s.x * context.scale_x() + (s.across + half) / 100 * context.size.width;
    const double dy = s.y * context.scale_y() + (s.down + half) / 100 * context.size.height;
    // Whole pixels are moved without touching their values.
    const double whole_x = std::round(dx), whole_y = std::round(dy);
    if (std::abs(dx - whole_x) < 1e-6 && std::abs(dy - whole_y) < 1e-6)
        return each_plane_and_object(context, [&](const Plane& plane) {
            return rolled(plane, static_cast<int>(whole_x), static_cast<int>(whole_y), context);
        });
    const double left = std::fmod(dx, context.size.width), up = std::fmod(dy, context.size.height);
    return resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            for (int x = 0; x < context.size.width; ++x) {
                px[x] = static_cast<float>(x - left);
                py[x] = static_cast<float>(y - up);
            }
        },
        *context.job);
}

}  // namespace
}  // namespace shift_step

StepDescription describe_shift() {
    using namespace shift_step;
    StepDescription base;
    base.id = "shift", base.title = "Shift", base.family = Family::bend;
    base.summary = "Moves the picture; what leaves on one side comes in on the other.";
    base.words = "move offset translate slide seam half tile";
    base.headline = {"x", "y"};
    const Range px{-16384, 16384, Unit::px, 512}, share{-100, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("x", "Right", &Settings::x, px, "How far to the right.")
        .number("y", "Down", &Settings::y, px, "How far down.")
        .pair("By pixels", "x", "y")
        .number("across", "Right by share", &Settings::across, share,
                "How far to the right, as a share of the tile; added to the pixels.")
        .number("down", "Down by share", &Settings::down, share, "How far down, as a share of the tile; added to the pixels.")
        .pair("By share", "across", "down")
        .toggle("half", "Half a tile", &Settings::half,
                "Moves by half a tile both ways besides, so that the edges meet in the middle.")
        .needs_whole()
        .run(run);
}

}  // namespace loom
