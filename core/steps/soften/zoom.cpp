// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Averages along rays: on each ray running sums give the mean between two distances.
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/each_plane.h"
#include "core/image/round.h"

namespace loom {

namespace zoom_step {
namespace {

enum class Measure { length, share };

struct Settings {
    Measure measure = Measure::length;
    double length = 80, reach = 20;
    double centre_x = 50, centre_y = 50;
};

/// Where the mean of a place begins and ends; the same on every ray. Samples stand for half a pixel each way.
struct Span {
    int far, near;               // samples that the ends lie in
    double far_part, near_part;  // how much of them counts
    double scale;
};

/// Each place becomes the mean from (1 - reach) to 1 of its distance, or over a length, in samples, towards the centre.
std::vector<Span> spans_of(int count, double reach, double length) {
    std::vector<Span> spans;
    for (int r = 0; r < count; ++r) {
        const double far = r + 0.5, near = std::min(far - 1, (length > 0 ? std::max(0.0, r - length) : r * (1 - reach)) - 0.5);
        const double end = std::clamp(far + 0.5, 0.0, static_cast<double>(count)), begin = std::max(0.0, near + 0.5);
        Span span{};
        span.far = std::min(static_cast<int>(end), count - 1), span.far_part = end - span.far;
        span.near = static_cast<int>(begin), span.near_part = begin - span.near;
        span.scale = 1 / (end - begin);
        spans.push_back(span);
    }
    return spans;
}

void ray_mean(const float* ray, int count, const std::vector<Span>& spans, float* out) {
    thread_local std::vector<double> sums;
    sums.resize(static_cast<std::size_t>(count) + 1);
    sums[0] = 0;
    for (int k = 0; k < count; ++k)
        sums[static_cast<std::size_t>(k) + 1] = sums[static_cast<std::size_t>(k)] + static_cast<double>(ray[k]);
    const double* until = sums.data();
    for (int r = 0; r < count; ++r) {
        const Span& s = spans[static_cast<std::size_t>(r)];
        const double far = until[s.far] + s.far_part * static_cast<double>(ray[s.far]),
                     near = until[s.near] + s.near_part * static_cast<double>(ray[s.near]);
        out[r] = static_cast<float>((far - near) * s.scale);
    }
}

Bundle run(const Settings& s, const StepContext& context) {
    const PolarLines lines(context.size, s.centre_x, s.centre_y);
    const std::vector<Span> spans =
        spans_of(lines.reach(), s.reach / 100,
                 s.measure == Measure::length ? std::max(1e-6, s.length * std::sqrt(context.scale_x() * context.scale_y())) : 0);
    return all_planes(context, [&](const std::vector<const Plane*>& planes) {
        return lines.by_rays(planes, *context.job,
                             [&](const float* ray, int count, float* out) { ray_mean(ray, count, spans, out); });
    });
}

}  // namespace
}  // namespace zoom_step

StepDescription describe_zoom() {
    using namespace zoom_step;
    StepDescription base;
    base.id = "zoom", base.title = "Zoom blur", base.family = Family::soften;
    base.summary = "Blurs along the rays from a centre.";
    base.words = "radial rush burst rays blur";
    base.tiles = Tiling::breaks, base.tiles_note = "rays from one centre cannot meet at the edges";
    base.headline = {"reach"};
    const Range share{-100, 200, Unit::percent, 100};
    return Describe<Settings>(std::move(base))
        .choice("measure", "Measured as", &Settings::measure, {{"length", "A length"}, {"share", "A share"}},
                "Whether every place is drawn out as far, so that contrast is even from the centre to the rim, or by a share of "
                "its distance.")
        .once(1, Value(std::string("share")))
        .number("length", "Length", &Settings::length, {0, 8192, Unit::px, 512, Scale::root}, "How far places look inwards.",
                {"measure", {"length"}})
        .number("reach", "Reach", &Settings::reach, {0, 100, Unit::percent},
                "How much of its distance from the centre each place looks inwards.", {"measure", {"share"}})
        .number("centre-x", "Centre x", &Settings::centre_x, share, "Place of the centre across the tile.")
        .number("centre-y", "Centre y", &Settings::centre_y, share, "Place of the centre down the tile.")
        .point("Centre", "centre-x", "centre-y")
        .needs_whole()
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts& planes) {
            return polar_scratch(at.size, s.centre_x, s.centre_y, planes.in);
        })
        .run(run);
}

}  // namespace loom
