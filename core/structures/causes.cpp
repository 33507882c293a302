// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/causes.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/hash.h"
#include "core/structures/filled.h"
#include "core/image/gaussian.h"
#include "core/image/line_average.h"
#include "core/image/sample.h"
#include "core/image/shoulder.h"
#include "core/image/moments.h"
#include "core/image/tally.h"
#include "core/noise/clouds.h"

namespace loom {

namespace {

double deviation_of(const Plane& plane, const Job& job) { return std::sqrt(moments_of(plane, job).variance); }

CloudField field_of(double size_px, int octaves, std::uint64_t salt, const StepContext& context) {
    CloudSettings clouds;
    clouds.across = context.tile.width / size_px, clouds.down = context.tile.height / size_px;
    clouds.octaves = octaves, clouds.seed = mix64(context.seed, salt);
    return CloudField(clouds, context.size, context.job);
}

}  // namespace

Plane depth_below(const Plane& height, double reach_px, const StepContext& context) {
    Plane below = gaussian_blur(height, reach_px * context.scale_x(), reach_px * context.scale_y(), *context.job);
    for_values(*context.job, below, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) below.data()[i] -= height.data()[i];
    });
    return below;
}

Plane rise_above(const Plane& height, double direction, double reach_px, const StepContext& context) {
    constexpr int steps = 14;
    const double turn = direction * std::numbers::pi / 180;
    // Back along the way, in pixels.
    const double back_x = -std::cos(turn) * reach_px * context.scale_x(), back_y = std::sin(turn) * reach_px * context.scale_y();
    Plane rise(context.size);
    for_rows(*context.job, context.size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                float most = 0;
                for (int k = 1; k <= steps; ++k) {
                    const double share = static_cast<double>(k) / steps;
                    const float there =
                        sample_bilinear(height, static_cast<float>(x + share * back_x), static_cast<float>(y + share * back_y));
                    most = std::max(most, (there - height.row(y)[x]) * static_cast<float>(1 - 0.8 * share));
                }
                rise.row(y)[x] = most;
            }
    });
    return rise;
}

Plane either(const Plane& a, const Plane& b, const Job& job) {
    // What is level but for rounding says nothing.
    const auto factor = [&](const Plane& plane) {
        const double deviation = deviation_of(plane, job);
        return static_cast<float>(deviation > 1e-5 ? 1 / deviation : 0);
    };
    const float of_a = factor(a), of_b = factor(b);
    Plane both = a.alike();
    for_values(job, both, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) both.data()[i] = std::max(of_a * a.data()[i], of_b * b.data()[i]);
    });
    return both;
}

Plane strongest(const Plane& score, double share, double softness, const Job& job) {
    Plane mask = score.alike();
    const ToneSpan span = tone_span_of(score, nullptr, job);
    // Where all is alike nothing stands out.
    if (!(span.greatest - span.least > 1e-5f) || share <= 0) {
        for_values(job, mask,
                   [&](std::size_t first, std::size_t last) { std::fill(mask.data() + first, mask.data() + last, 0.0f); });
        return mask;
    }
    const auto level = static_cast<float>(
        Tally::of(score, nullptr, static_cast<double>(span.least), static_cast<double>(span.greatest), 4096, job)
            .tone_above(share));
    // From the level upwards, so that all that only reaches it, such as level ground, is left out.
    const auto soft = static_cast<float>(2 * std::max(0.01, softness) * deviation_of(score, job));
    for_values(job, mask, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) mask.data()[i] = shoulder(level, level + soft, score.data()[i]);
    });
    return mask;
}

Plane run_down(const Plane& mask, double direction, double length_px, const StepContext& context) {
    const Job& job = *context.job;
    const double turn = direction * std::numbers::pi / 180, dx = std::cos(turn) * length_px * context.scale_x(),
                 dy = -std::sin(turn) * length_px * context.scale_y();
    // Means over a short and a long way back: what is near counts more.
    const Plane near = line_average(mask, 0.5 * dx, 0.5 * dy, Falloff::even, job),
                far = line_average(mask, dx, dy, Falloff::even, job);
    Plane streaks(context.size);
    const CloudField noise = field_of(15, 3, 0x7275, context);
    for_rows(job, context.size.height, [&](int first, int last) {
        std::vector<float> row(static_cast<std::size_t>(noise.padded_width()));
        for (int y = first; y < last; ++y) {
            noise.row(y, row.data());
            std::copy_n(row.data(), context.size.width, streaks.row(y));
        }
    });
    streaks = line_average(streaks, 1.4 * dx, 1.4 * dy, Falloff::bell, job);
    const auto to_one = static_cast<float>(1 / std::max(1e-6, deviation_of(streaks, job)));
    Plane run(context.size);
    for_rows(job, context.size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const auto behind = [&](const Plane& plane, double half) {
                    return sample_bilinear(plane, static_cast<float>(x - half * dx), static_cast<float>(y - half * dy));
                };
                const float come = 0.7f * behind(near, 0.25) + 0.6f * behind(far, 0.5);
                run.row(y)[x] = std::clamp(1.6f * come, 0.0f, 1.0f) * shoulder(0.1f, 1.9f, to_one * streaks.row(y)[x]);
            }
    });
    return run;
}

void broken(Plane& mask, double size_px, double amount, std::uint64_t salt, const StepContext& context) {
    if (amount <= 0) return;
    const CloudField noise = field_of(size_px, 4, salt, context);
    const auto by = static_cast<float>(amount);
    for_rows(*context.job, context.size.height, [&](int first, int last) {
        std::vector<float> row(static_cast<std::size_t>(noise.padded_width()));
        for (int y = first; y < last; ++y) {
            noise.row(y, row.data());
            for (int x = 0; x < context.size.width; ++x) {
                float& value = mask.row(y)[x];
                // The weaker a place is the sooner it gives way.
                const float left = shoulder(0.0f, 0.5f, value + 0.75f * row[static_cast<std::size_t>(x)] - 0.45f);
                value *= 1 - by * (1 - left);
            }
        }
    });
}

Bundle marked(const Bundle& in, const Plane& mask, const Mark& mark, const StepContext& context) {
    const Job& job = *context.job;
    const int channels = in.grey() && is_grey(mark.colour) ? 1 : 3;
    const float colour[3] = {mark.colour.red, mark.colour.green, mark.colour.blue};
    const auto strength = static_cast<float>(mark.strength), raised = static_cast<float>(mark.raised);
    Bundle out;
    for (int c = 0; c < channels; ++c) {
        Plane plane(context.size);
        for_values(job, plane, [&](std::size_t first, std::size_t last) {
            const float *from = in.channel(c).data(), *cover = in.coverage ? in.coverage->data() : nullptr;
            for (std::size_t i = first; i < last; ++i)
                plane.data()[i] = from[i] + strength * mask.data()[i] * (colour[c] * (cover ? cover[i] : 1.0f) - from[i]);
        });
        out.colour.push_back(share(std::move(plane)));
    }
    out.coverage = in.coverage, out.named = in.named;
    if (const PlaneRef height = in.plane(height_plane); height && mark.raised != 0) {
        Plane moved = height->alike();
        for_values(job, moved, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) moved.data()[i] = height->data()[i] + raised * mask.data()[i];
        });
        out.named[std::string(height_plane)] = share(std::move(moved));
    }
    if (context.wants(mark.plane)) out.named[std::string(mark.plane)] = share(mask.clone());
    return out;
}

}  // namespace loom
