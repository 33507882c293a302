// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/soften/round.h"

#include <algorithm>
#include <cmath>

#include "core/image/sample.h"

namespace loom {

namespace {
constexpr double full_turn = 6.283185307179586;
}

void closed_mean(const float* values, int count, double half, float* out) {
    const int whole = static_cast<int>(half);
    const double part = half - whole, scale = 1 / (2 * half + 1);
    double sum = 0;
    for (int k = -whole; k <= whole; ++k) sum += static_cast<double>(values[wrap(k, count)]);
    for (int x = 0; x < count; ++x) {
        const auto before = static_cast<double>(values[wrap(x - whole - 1, count)]),
                   after = static_cast<double>(values[wrap(x + whole + 1, count)]);
        out[x] = static_cast<float>(scale * (sum + part * (before + after)));
        sum += after - static_cast<double>(values[wrap(x - whole, count)]);
    }
}

Rings::Rings(const StepContext& context, double centre_x_percent, double centre_y_percent)
    : size_(context.size),
      cx_(centre_x_percent / 100 * context.size.width - 0.5),
      cy_(centre_y_percent / 100 * context.size.height - 0.5) {
    double far = 0;
    for (double x : {0.0, size_.width - 1.0})
        for (double y : {0.0, size_.height - 1.0}) far = std::max(far, std::hypot(x - cx_, y - cy_));
    count_ = static_cast<int>(std::ceil(far)) + 2;
}

int Rings::samples(int ring) const { return std::max(8, static_cast<int>(std::ceil(full_turn * ring))); }

Plane Rings::filtered(const Plane& plane, const Job& job, const Filter& filter) const {
    std::vector<std::vector<float>> rings(static_cast<std::size_t>(count_));
    for_ranges(job, count_, 16, [&](int first, int last) {
        std::vector<float> scratch;
        for (int r = first; r < last; ++r) {
            std::vector<float>& ring = rings[static_cast<std::size_t>(r)];
            const int n = samples(r);
            ring.resize(static_cast<std::size_t>(n));
            for (int k = 0; k < n; ++k) {
                const double turn = full_turn * k / n;
                ring[static_cast<std::size_t>(k)] = sample_bilinear(plane, static_cast<float>(cx_ + r * std::cos(turn)),
                                                                    static_cast<float>(cy_ + r * std::sin(turn)));
            }
            filter(ring, scratch);
        }
    });
    Plane out(size_);
    for_rows(job, size_.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size_.width; ++x) {
                const double dx = x - cx_, dy = y - cy_, radius = std::sqrt(dx * dx + dy * dy);
                double turn = std::atan2(dy, dx) / full_turn;
                if (turn < 0) turn += 1;
                const int inner = std::min(static_cast<int>(radius), count_ - 2);
                auto read = [&](int r) {
                    const std::vector<float>& ring = rings[static_cast<std::size_t>(r)];
                    const auto n = static_cast<int>(ring.size());
                    const double at = turn * n;
                    const int k = std::min(static_cast<int>(at), n - 1);
                    const auto t = static_cast<float>(at - k);
                    const float a = ring[static_cast<std::size_t>(k)], b = ring[static_cast<std::size_t>(k + 1 < n ? k + 1 : 0)];
                    return a + t * (b - a);
                };
                const auto t = static_cast<float>(radius - inner);
                const float a = read(inner), b = read(inner + 1);
                out.row(y)[x] = a + t * (b - a);
            }
    });
    return out;
}

Plane Rings::ray_filtered(const Plane& plane, const Job& job, const Filter& filter) const {
    // As many rays as the outermost ring has samples in two pixels: between rays the picture is read by straight lines.
    const int rays = std::max(16, samples(count_) / 2);
    std::vector<std::vector<float>> all(static_cast<std::size_t>(rays));
    for_ranges(job, rays, 32, [&](int first, int last) {
        std::vector<float> scratch;
        for (int k = first; k < last; ++k) {
            std::vector<float>& ray = all[static_cast<std::size_t>(k)];
            ray.resize(static_cast<std::size_t>(count_));
            const double c = std::cos(full_turn * k / rays), s = std::sin(full_turn * k / rays);
            for (int r = 0; r < count_; ++r)
                ray[static_cast<std::size_t>(r)] =
                    sample_bilinear(plane, static_cast<float>(cx_ + r * c), static_cast<float>(cy_ + r * s));
            filter(ray, scratch);
        }
    });
    Plane out(size_);
    for_rows(job, size_.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size_.width; ++x) {
                const double dx = x - cx_, dy = y - cy_, radius = std::sqrt(dx * dx + dy * dy);
                double turn = std::atan2(dy, dx) / full_turn;
                if (turn < 0) turn += 1;
                const double at = turn * rays;
                const int k = std::min(static_cast<int>(at), rays - 1), inner = std::min(static_cast<int>(radius), count_ - 2);
                const auto t = static_cast<float>(at - k), s = static_cast<float>(radius - inner);
                auto read = [&](int ray) {
                    const float* values = all[static_cast<std::size_t>(ray)].data() + inner;
                    return values[0] + s * (values[1] - values[0]);
                };
                const float a = read(k), b = read(k + 1 < rays ? k + 1 : 0);
                out.row(y)[x] = a + t * (b - a);
            }
    });
    return out;
}

}  // namespace loom
