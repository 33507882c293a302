// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Anisotropic Kuwahara filter (Kyprianidis, Kang & Doellner 2009): round each pixel lies an ellipse along the edge; the
// means of its eight sectors are averaged, calm sectors counting most. The ellipse is read at a fixed set of places in a
// picture softened to their distance, so that the cost does not grow with the size.
#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/steps/all_steps.h"

namespace loom {

namespace {

struct Settings {
    double size = 8;
    double sharpness = 60;
    double follow = 60;
};

constexpr int sectors = 8, reach = 4;

/// A place in the unit disc and how much it counts in each sector.
struct Place {
    float x, y;
    std::array<float, sectors> weight;
};

std::vector<Place> places() {
    std::vector<Place> result;
    for (int j = -reach; j <= reach; ++j)
        for (int i = -reach; i <= reach; ++i) {
            const double x = static_cast<double>(i) / reach, y = static_cast<double>(j) / reach, far = std::hypot(x, y);
            if (far > 1.01) continue;
            Place place{static_cast<float>(x), static_cast<float>(y), {}};
            const double bell = std::exp(-2 * far * far), turn = std::atan2(y, x);
            for (int k = 0; k < sectors; ++k) {
                // Sectors overlap: each falls off as the square of a cosine over its neighbours.
                const double off = std::remainder(turn - k * 6.283185307179586 / sectors, 6.283185307179586);
                const double share = far < 1e-9                     ? 1.0 / sectors
                                     : std::abs(off) < 0.7853981634 ? std::pow(std::cos(2 * off), 2)
                                                                    : 0.0;
                place.weight[static_cast<std::size_t>(k)] = static_cast<float>(bell * share);
            }
            result.push_back(place);
        }
    return result;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Size size = context.size;
    const double scale = std::sqrt(context.scale_x() * context.scale_y()), radius = std::max(0.5, s.size * scale);
    const double soft = 0.4 * radius / reach;
    std::vector<PlaneRef> planes = in.colour;
    if (in.coverage) planes.push_back(in.coverage);
    std::vector<Plane> read;
    for (const PlaneRef& plane : planes)
        read.push_back(soft > 0.4 ? gaussian_blur(*plane, soft, soft, *context.job) : plane->clone());
    // The structure tensor says along what the picture runs, and how clearly.
    const PlaneRef tone = tone_of(in);
    Plane xx(size), xy(size), yy(size);
    const int step = std::max(1, static_cast<int>(std::lround(scale)));
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const float gx = tone->wrapped(x + step, y) - tone->wrapped(x - step, y),
                            gy = tone->wrapped(x, y + step) - tone->wrapped(x, y - step);
                xx.row(y)[x] = gx * gx, xy.row(y)[x] = gx * gy, yy.row(y)[x] = gy * gy;
            }
    });
    const double even = 2 * scale + 0.3 * radius;
    xx = gaussian_blur(xx, even, even, *context.job), xy = gaussian_blur(xy, even, even, *context.job),
    yy = gaussian_blur(yy, even, even, *context.job);
    static const std::vector<Place> all = places();
    const auto sharp = static_cast<float>(std::pow(10.0, 1 + 3 * s.sharpness / 100)), follow = static_cast<float>(s.follow / 100);
    const std::size_t channels = planes.size();
    std::vector<Plane> out;
    for (std::size_t k = 0; k < channels; ++k) out.emplace_back(size);
    for_ranges(*context.job, size.height, 8, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const float e = xx.row(y)[x], f = xy.row(y)[x], g = yy.row(y)[x];
                const float root = std::sqrt((e - g) * (e - g) + 4 * f * f), anisotropy = e + g > 1e-9f ? root / (e + g) : 0.0f;
                // Along the edge: across the steepest change.
                const float turn = 0.5f * std::atan2(2 * f, e - g) + 1.5707963f, c = std::cos(turn), n = std::sin(turn);
                const float stretch = 1 + follow * anisotropy, a = static_cast<float>(radius) * stretch,
                            b = static_cast<float>(radius) / stretch;
                float mean[sectors][4] = {}, square[sectors] = {}, weight[sectors] = {};
                for (const Place& place : all) {
                    const float along = place.x * a, across = place.y * b;
                    const float px = static_cast<float>(x) + along * c - across * n,
                                py = static_cast<float>(y) + along * n + across * c;
                    float value[4], sum = 0;
                    for (std::size_t k = 0; k < channels; ++k) {
                        value[k] = sample_bilinear(read[k], px, py);
                        sum += value[k] * value[k];
                    }
                    for (int k = 0; k < sectors; ++k) {
                        const float w = place.weight[static_cast<std::size_t>(k)];
                        if (w == 0) continue;
                        weight[k] += w, square[k] += w * sum;
                        for (std::size_t q = 0; q < channels; ++q) mean[k][q] += w * value[q];
                    }
                }
                float total = 0, result[4] = {};
                for (int k = 0; k < sectors; ++k) {
                    float spread = square[k] / weight[k];
                    for (std::size_t q = 0; q < channels; ++q) mean[k][q] /= weight[k], spread -= mean[k][q] * mean[k][q];
                    const float calm = 1 + sharp * std::max(0.0f, spread), share = 1 / (calm * calm * calm * calm);
                    total += share;
                    for (std::size_t q = 0; q < channels; ++q) result[q] += share * mean[k][q];
                }
                for (std::size_t q = 0; q < channels; ++q) out[q].row(y)[x] = result[q] / total;
            }
    });
    Bundle result;
    for (std::size_t k = 0; k < in.colour.size(); ++k) result.colour.push_back(share(std::move(out[k])));
    if (in.coverage) result.coverage = share(std::move(out.back()));
    result.named = in.named;
    return result;
}

}  // namespace

StepDescription describe_daub() {
    StepDescription base;
    base.id = "daub", base.title = "Daub", base.family = Family::roughen;
    base.summary = "Gathers the picture into painterly areas that follow its edges.";
    base.scratch_planes = 7;
    base.headline = {"size"};
    return Describe<Settings>(std::move(base))
        .number("size", "Size", &Settings::size, {0.5, 256, Unit::px, 32, Scale::root}, "Radius of the areas.")
        .number("sharpness", "Sharpness", &Settings::sharpness, {0, 100, Unit::percent}, "How clearly areas stand apart.")
        .number("follow", "Follow edges", &Settings::follow, {0, 100, Unit::percent}, "How much areas are drawn out along edges.")
        .reach([](const Settings& s) { return 3 * s.size; })
        .run(run);
}

}  // namespace loom
