// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Guided filter (He, Sun & Tang 2010), each plane its own guide: in every box the picture is a line of itself, steep
// where its variance is above the edge tone's, flat where it is below; the lines of all boxes over a pixel are averaged.
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/box.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace {

struct Settings {
    double radius = 12;
    double edge = 0.1;
};

Plane smoothed(const Plane& plane, double rx, double ry, float edge, const Job& job) {
    const Size size = plane.size();
    Plane slope(size), offset(size), out(size);
    box_rows(
        size, rx, ry, 2,
        [&](int k, int y, float* scratch) {
            const float* row = plane.row(y);
            if (k == 0) return row;
            for (int x = 0; x < size.width; ++x) scratch[x] = row[x] * row[x];
            return static_cast<const float*>(scratch);
        },
        [&](int y, float* const* means) {
            const float *mean = means[0], *square = means[1];
            float *a = slope.row(y), *b = offset.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float variance = std::max(0.0f, square[x] - mean[x] * mean[x]);
                a[x] = variance / (variance + edge * edge + 1e-12f);
                b[x] = mean[x] * (1 - a[x]);
            }
        },
        job);
    box_rows(
        size, rx, ry, 2, [&](int k, int y, float*) { return (k == 0 ? slope : offset).row(y); },
        [&](int y, float* const* means) {
            const float* row = plane.row(y);
            float* to = out.row(y);
            for (int x = 0; x < size.width; ++x) to[x] = means[0][x] * row[x] + means[1][x];
        },
        job);
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    return each_plane(context, [&](const Plane& plane) {
        return smoothed(plane, s.radius * context.scale_x(), s.radius * context.scale_y(), static_cast<float>(s.edge),
                        *context.job);
    });
}

}  // namespace

StepDescription describe_smooth() {
    StepDescription base;
    base.id = "smooth", base.title = "Edge-keeping smooth", base.family = Family::soften;
    base.summary = "Smooths fine changes of tone and leaves strong edges.";
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
