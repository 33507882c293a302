// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Guided filter (He, Sun & Tang 2010), each plane its own guide: in every box the picture is a line of itself, steep
// where its variance is above the edge tone's, flat where it is below; the lines of all boxes over a pixel are averaged.
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/box.h"
#include "core/steps/all_steps.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace {

struct Settings {
    double radius = 12;
    double edge = 0.1;
};

Plane smoothed(const Plane& plane, double rx, double ry, float edge, const Job& job) {
    const Size size = plane.size();
    Plane squares(size);
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) squares.row(y)[x] = plane.row(y)[x] * plane.row(y)[x];
    });
    Plane mean = box_mean(plane, rx, ry, job), slope = box_mean(squares, rx, ry, job);
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            float *m = mean.row(y), *a = slope.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float variance = std::max(0.0f, a[x] - m[x] * m[x]);
                a[x] = variance / (variance + edge * edge + 1e-12f);
                m[x] *= 1 - a[x];
            }
        }
    });
    slope = box_mean(slope, rx, ry, job), mean = box_mean(mean, rx, ry, job);
    Plane out(size);
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) out.row(y)[x] = slope.row(y)[x] * plane.row(y)[x] + mean.row(y)[x];
    });
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    return each_plane(*context.input, [&](const Plane& plane) {
        return smoothed(plane, s.radius * context.scale_x(), s.radius * context.scale_y(), static_cast<float>(s.edge),
                        *context.job);
    });
}

}  // namespace

StepDescription describe_smooth() {
    StepDescription base;
    base.id = "smooth", base.title = "Edge-keeping smooth", base.family = Family::soften;
    base.summary = "Smooths fine changes of tone and leaves strong edges.";
    base.scratch_planes = 4;
    base.headline = {"radius", "edge"};
    return Describe<Settings>(std::move(base))
        .number("radius", "Radius", &Settings::radius, {0.5, 1024, Unit::px, 100, Scale::root}, "How far it smooths.")
        .number("edge", "Edge tone", &Settings::edge, {0, 1, Unit::tone, 0, Scale::root},
                "Changes well above this tone are kept.")
        .reach([](const Settings& s) { return 2 * s.radius; })
        .run(run);
}

}  // namespace loom
