// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/colour/colour.h"
#include "core/image/sample.h"
#include "core/image/shoulder.h"
#include "core/steps/mask/meets.h"

namespace loom {

namespace pick_step {
namespace {

enum class Like { tone, colour };

struct Settings {
    LookAt look = LookAt::beneath;
    double x = 50, y = 50;
    Like like = Like::tone;
    double tolerance = 0.1, softness = 0.05;
    bool joined = true;
    Meets meets = Meets::alone;
};

/// What is compared, as one plane or three.
std::vector<PlaneRef> compared(const Bundle& picture, Like like, const StepContext& context) {
    if (like == Like::tone || picture.grey()) return {tone_of(picture, *context.job)};
    std::vector<Plane> lab;
    for (int c = 0; c < 3; ++c) lab.emplace_back(context.size);
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const float cover = picture.coverage ? picture.coverage->row(y)[x] : 1.0f;
                const auto channel = [&](int c) { return cover > 0 ? picture.channel(c).row(y)[x] / cover : 0.0f; };
                const Lab here = to_oklab({channel(0), channel(1), channel(2)});
                lab[0].row(y)[x] = here.lightness, lab[1].row(y)[x] = here.a, lab[2].row(y)[x] = here.b;
            }
    });
    std::vector<PlaneRef> planes;
    for (Plane& plane : lab) planes.push_back(share(std::move(plane)));
    return planes;
}

struct Point {
    int x, y;
};

Point point_in(const Settings& s, Size size) {
    return {wrap(static_cast<int>(std::floor(s.x / 100 * size.width)), size.width),
            wrap(static_cast<int>(std::floor(s.y / 100 * size.height)), size.height)};
}

/// The mean of two design pixels around the point, read at the same places at every size.
float around(const Plane& plane, const Settings& s, const StepContext& context) {
    constexpr int reach = 2;
    float sum = 0;
    for (int dy = -reach; dy <= reach; ++dy)
        for (int dx = -reach; dx <= reach; ++dx)
            sum += sample_bilinear(plane, static_cast<float>(s.x / 100 * plane.width() + 0.5 * dx * context.scale_x() - 0.5),
                                   static_cast<float>(s.y / 100 * plane.height() + 0.5 * dy * context.scale_y() - 0.5));
    return sum / ((2 * reach + 1) * (2 * reach + 1));
}

/// What hangs together with the point, over the tile's edges too.
std::vector<bool> joined_with(Point start, const Plane& found, const Job& job) {
    const Size size = found.size();
    const auto index = [&](int x, int y) {
        return static_cast<std::size_t>(wrap(y, size.height)) * static_cast<std::size_t>(size.width) +
               static_cast<std::size_t>(wrap(x, size.width));
    };
    std::vector<bool> reached(size.pixels());
    std::vector<Point> open;
    const auto reach = [&](int x, int y) {
        const std::size_t at = index(x, y);
        if (reached[at] || !(found.data()[at] > 0)) return;
        reached[at] = true;
        open.push_back({wrap(x, size.width), wrap(y, size.height)});
    };
    reach(start.x, start.y);
    for (std::size_t done = 0; !open.empty(); ++done) {
        if (done % 65536 == 0) job.check();
        const Point at = open.back();
        open.pop_back();
        reach(at.x - 1, at.y), reach(at.x + 1, at.y), reach(at.x, at.y - 1), reach(at.x, at.y + 1);
    }
    return reached;
}

/// Leaves only that. Large pictures are gone through in design pixels, so that no hair's breadth at one size joins or parts what
/// it does not at another.
void keep_joined(Plane& found, const Settings& s, const StepContext& context) {
    const Size size = found.size(), tile = context.tile;
    const bool finer = size.width > tile.width && size.height > tile.height;
    const Plane coarse = finer ? resized(found, tile, *context.job) : Plane();
    const Plane& ground = finer ? coarse : found;
    const std::vector<bool> reached = joined_with(point_in(s, ground.size()), ground, *context.job);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const int across = finer ? static_cast<int>((x + 0.5) * tile.width / size.width) : x,
                      down = finer ? static_cast<int>((y + 0.5) * tile.height / size.height) : y;
            const auto at =
                static_cast<std::size_t>(down) * static_cast<std::size_t>(ground.width()) + static_cast<std::size_t>(across);
            if (!reached[at]) found.row(y)[x] = 0;
        }
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    Plane found = context.plane(0);
    const Bundle* picture = looked_at(s.look, context);
    if (!picture) return met(s.meets, std::move(found), context);
    const std::vector<PlaneRef> planes = compared(*picture, s.like, context);
    std::vector<float> like;
    for (const PlaneRef& plane : planes) like.push_back(around(*plane, s, context));
    const auto tolerance = static_cast<float>(s.tolerance), soft = static_cast<float>(s.softness);
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                float away = 0;
                for (std::size_t k = 0; k < planes.size(); ++k) {
                    const float off = planes[k]->row(y)[x] - like[k];
                    away += off * off;
                }
                found.row(y)[x] = shoulder(-tolerance - soft, -tolerance, -std::sqrt(away));
            }
    });
    if (s.joined) keep_joined(found, s, context);
    return met(s.meets, std::move(found), context);
}

}  // namespace
}  // namespace pick_step

StepDescription describe_pick() {
    using namespace pick_step;
    StepDescription base;
    base.id = "pick", base.title = "Pick", base.family = Family::mask;
    base.summary = "Shows the region of like tone or colour around a point, joined or everywhere.";
    base.words = "select colour range key choose hue";
    base.headline = {"tolerance", "joined"};
    base.scratch_planes = 4;
    return Describe<Settings>(std::move(base))
        .choice("look", "Looks at", &Settings::look, look_choices(), look_help)
        .number("x", "Across", &Settings::x, {0, 100, Unit::percent},
                "Place of the point from the left; a click on the cloth sets it.")
        .number("y", "Down", &Settings::y, {0, 100, Unit::percent}, "Place of the point from the top.")
        .pair("Point", "x", "y")
        .point("Point", "x", "y", true)
        .choice("like", "Alike in", &Settings::like, {{"tone", "Tone"}, {"colour", "Colour"}},
                "What is compared: tones, or colours in OKLab.")
        .number("tolerance", "Tolerance", &Settings::tolerance, {0, 1, Unit::tone, 0, Scale::root},
                "How far what shows whole may differ from the point.")
        .number("softness", "Softness", &Settings::softness, {0, 1, Unit::tone, 0, Scale::root},
                "Over how much more it fades away.")
        .toggle("joined", "Joined", &Settings::joined,
                "Shows only what hangs together with the point, over the tile's edges too.")
        .choice("meets", "Meets the mask", &Settings::meets, meets_choices(), meets_help)
        .shape([](const Settings&, Shape in) { return mask_shape(in); })
        .reads_beneath([](const Settings& s) { return s.look == LookAt::beneath; })
        .needs_whole()
        .run(run);
}

}  // namespace loom
