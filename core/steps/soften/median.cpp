// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Rank filter: of few neighbours directly, of many at a cost that does not grow with the radius: how many of the neighbours lie
// below each of many tones is a box mean; where that share reaches the rank lies the result. Tones are taken evenly from the
// least to the greatest and read between by straight lines, so that the result is off by at most half a step where tones lie
// close.
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/image/box.h"
#include "core/image/sample.h"
#include "core/steps/all_steps.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace {

struct Settings {
    double radius = 4;
    double rank = 50;
};

constexpr int levels = 96;

/// The value of a rank among few neighbours, straight from the definition.
Plane ranked_directly(const Plane& plane, int rx, int ry, float rank, const Job& job) {
    const Size size = plane.size();
    Plane out(size);
    const std::size_t count = static_cast<std::size_t>(2 * rx + 1) * static_cast<std::size_t>(2 * ry + 1);
    const double at =
        std::clamp(static_cast<double>(rank) * static_cast<double>(count) - 0.5, 0.0, static_cast<double>(count) - 1);
    const auto lower = static_cast<std::ptrdiff_t>(at);
    const auto t = static_cast<float>(at - static_cast<double>(lower));
    for_rows(job, size.height, [&](int first, int last) {
        std::vector<float> near(count);
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                std::size_t k = 0;
                for (int j = -ry; j <= ry; ++j) {
                    const float* row = plane.row(wrap_near(y + j, size.height));
                    for (int i = -rx; i <= rx; ++i) near[k++] = row[wrap_near(x + i, size.width)];
                }
                std::nth_element(near.begin(), near.begin() + lower, near.end());
                const float below = near[static_cast<std::size_t>(lower)];
                const float above = t > 0 ? *std::min_element(near.begin() + lower + 1, near.end()) : below;
                out.row(y)[x] = below + t * (above - below);
            }
    });
    return out;
}

Plane ranked(const Plane& plane, double rx, double ry, float rank, const Job& job) {
    const Size size = plane.size();
    // Up to here looking at every neighbour costs less than trying all tones.
    constexpr double few = 5.5;
    if (rx < few && ry < few)
        return ranked_directly(plane, static_cast<int>(std::lround(rx)), static_cast<int>(std::lround(ry)), rank, job);
    const auto [least, greatest] = std::minmax_element(plane.data(), plane.data() + size.pixels());
    const float low = *least, step = (*greatest - low) / (levels - 1);
    if (step <= 0) return plane.clone();
    Plane out(size, *greatest), before(size, 0.0f), below(size);
    Plane done(size, 0.0f);
    for (int k = 0; k < levels; ++k) {
        const float tone = low + static_cast<float>(k) * step;
        for_rows(job, size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                // A value counts in part within half a step of the tone: what lies below grows without jumps.
                for (int x = 0; x < size.width; ++x)
                    below.row(y)[x] = std::clamp((tone - plane.row(y)[x]) / step + 0.5f, 0.0f, 1.0f);
        });
        Plane share = box_mean(below, rx, ry, job);
        for_rows(job, size.height, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < size.width; ++x) {
                    if (done.row(y)[x] != 0) continue;
                    const float now = share.row(y)[x], then = before.row(y)[x];
                    if (now < rank) continue;
                    const float t = now > then ? (rank - then) / (now - then) : 1.0f;
                    out.row(y)[x] = std::max(low, tone - (1 - t) * step);
                    done.row(y)[x] = 1;
                }
        });
        before = std::move(share);
    }
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    const auto rank = static_cast<float>(std::clamp(s.rank / 100, 1e-4, 1 - 1e-4));
    return each_plane(*context.input, [&](const Plane& plane) {
        return ranked(plane, s.radius * context.scale_x(), s.radius * context.scale_y(), rank, *context.job);
    });
}

}  // namespace

StepDescription describe_median() {
    StepDescription base;
    base.id = "median", base.title = "Median", base.family = Family::soften;
    base.summary = "Takes the middle of all tones round about: specks go, edges stay.";
    base.scratch_planes = 5;
    base.headline = {"radius"};
    return Describe<Settings>(std::move(base))
        .number("radius", "Radius", &Settings::radius, {0, 512, Unit::px, 48, Scale::root},
                "How far round about tones are looked at.")
        .number("rank", "Rank", &Settings::rank, {0, 100, Unit::percent},
                "0 % takes the darkest, 50 % the middle, 100 % the lightest tone.")
        .reach([](const Settings& s) { return s.radius; })
        .run(run);
}

}  // namespace loom
