// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Line integral convolution (Cabral & Leedom 1993): averages along a direction field, followed step by step.
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/steps/all_steps.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace {

enum class From { own, strand };

struct Settings {
    double length = 40;
    From from = From::own;
    std::string strand;
    double across = 90;
    double smoothness = 6;
};

struct Field {
    Plane x, y;  // unit vectors a pixel
};

/// Directions along the lines of equal tone, turned by `turn` degrees less 90; from a smoothed structure tensor, so that
/// opposite slopes do not cancel.
Field field_of(const Plane& tone, double soft_x, double soft_y, double turn, const Job& job) {
    const Size size = tone.size();
    Plane xx(size), xy(size), yy(size);
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const float gx = tone.wrapped(x + 1, y) - tone.wrapped(x - 1, y),
                            gy = tone.wrapped(x, y + 1) - tone.wrapped(x, y - 1);
                xx.row(y)[x] = gx * gx, xy.row(y)[x] = gx * gy, yy.row(y)[x] = gy * gy;
            }
    });
    xx = gaussian_blur(xx, soft_x, soft_y, job), xy = gaussian_blur(xy, soft_x, soft_y, job),
    yy = gaussian_blur(yy, soft_x, soft_y, job);
    Field field{Plane(size), Plane(size)};
    const double more = (turn - 90) * 3.14159265358979323846 / 180;
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                // The direction of the steepest change; the lines run across it.
                const double steep =
                    0.5 * std::atan2(2 * static_cast<double>(xy.row(y)[x]), static_cast<double>(xx.row(y)[x] - yy.row(y)[x]));
                const double along = steep + 1.5707963267948966 - more;
                field.x.row(y)[x] = static_cast<float>(std::cos(along)), field.y.row(y)[x] = static_cast<float>(std::sin(along));
            }
    });
    return field;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return *context.input;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const double soft = std::max(0.7, s.smoothness * scale);
    const Field field = field_of(*tone_of(*source), soft, soft, s.across, *context.job);
    const double half = s.length * scale / 2;
    const int steps = std::max(1, static_cast<int>(std::lround(half)));
    const auto stride = static_cast<float>(half / steps);
    return each_plane(*context.input, [&](const Plane& plane) {
        const Size size = plane.size();
        Plane out(size);
        for_rows(*context.job, size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y) {
                context.job->check();
                for (int x = 0; x < size.width; ++x) {
                    float sum = plane.row(y)[x], weight = 1;
                    for (float side : {1.0f, -1.0f}) {
                        auto px = static_cast<float>(x), py = static_cast<float>(y);
                        float dx = side * field.x.row(y)[x], dy = side * field.y.row(y)[x];
                        for (int k = 0; k < steps; ++k) {
                            px += stride * dx, py += stride * dy;
                            const int ix = wrap(static_cast<int>(std::lround(px)), size.width),
                                      iy = wrap(static_cast<int>(std::lround(py)), size.height);
                            const float share = 1 - static_cast<float>(k) / static_cast<float>(steps);
                            sum += share * sample_bilinear(plane, px, py), weight += share;
                            // A direction has no sign: the one that goes on is taken.
                            const float nx = field.x.row(iy)[ix], ny = field.y.row(iy)[ix],
                                        sign = nx * dx + ny * dy < 0 ? -1.0f : 1.0f;
                            dx = sign * nx, dy = sign * ny;
                        }
                    }
                    out.row(y)[x] = sum / weight;
                }
            }
        });
        return out;
    });
}

}  // namespace

StepDescription describe_flow() {
    StepDescription base;
    base.id = "flow", base.title = "Flow blur", base.family = Family::soften;
    base.summary = "Blurs along the lines of a picture, or across them.";
    base.scratch_planes = 6;
    base.headline = {"length"};
    const When strand{"from", {"strand"}};
    return Describe<Settings>(std::move(base))
        .number("length", "Length", &Settings::length, {0, 512, Unit::px, 128, Scale::root},
                "How long the lines are that are averaged.")
        .choice("from", "Direction from", &Settings::from, {{"own", "This strand"}, {"strand", "Strand"}},
                "Whose lines are followed.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose lines are followed.", strand)
        .number("turn", "Turn", &Settings::across, {0, 180, Unit::degrees},
                "90 follows the lines of equal tone, 0 and 180 run straight across them.")
        .number("smoothness", "Smoothness", &Settings::smoothness, {0, 256, Unit::px, 48, Scale::root},
                "Over how far directions are evened out.")
        .reach([](const Settings& s) { return s.length; })
        .run(run);
}

}  // namespace loom
