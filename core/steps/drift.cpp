// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/drift.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/image/sample.h"

namespace loom {

namespace {

constexpr int grid_step = 4;

CloudField field(const DriftSettings& s, const StepContext& context, std::uint64_t which) {
    CloudSettings clouds;
    clouds.across = context.tile.width / s.size_x_px, clouds.down = context.tile.height / s.size_y_px;
    clouds.octaves = s.octaves, clouds.seed = mix64(s.seed, which);
    return CloudField(clouds, context.size);
}

}  // namespace

Drift::Drift(const DriftSettings& s, const StepContext& context)
    : across_(field(s, context, 1)),
      down_(field(s, context, 2)),
      // Clouds have deviation 1 and seldom go beyond 2.5.
      way_u_(static_cast<float>(s.distance_px / context.tile.width / 2.5)),
      way_v_(static_cast<float>(s.distance_px / context.tile.height / 2.5)),
      height_(context.size.height) {
    const double finest = std::exp2(s.octaves - 1);
    const double cell =
        std::min(context.size.width / (across_.across() * finest), context.size.height / (across_.down() * finest));
    if (cell < 32 || height_ % grid_step != 0 || height_ < 4 * grid_step) return;
    const auto padded = static_cast<std::size_t>(padded_width());
    const int rows = height_ / grid_step;
    grid_u_.resize(padded * static_cast<std::size_t>(rows)), grid_v_.resize(grid_u_.size());
    for_ranges(*context.job, rows, 4, [&](int first, int last) {
        for (int k = first; k < last; ++k) {
            const std::size_t at = static_cast<std::size_t>(k) * padded;
            exact_row(k * grid_step, grid_u_.data() + at, grid_v_.data() + at);
        }
    });
}

void Drift::exact_row(int y, float* du, float* dv) const {
    across_.row(y, du);
    down_.row(y, dv);
    for (int x = 0; x < padded_width(); ++x) du[x] *= way_u_, dv[x] *= way_v_;
}

void Drift::row(int y, float* du, float* dv) const {
    if (grid_u_.empty()) return exact_row(y, du, dv);
    const int rows = height_ / grid_step, before = y / grid_step;
    float weights[4];
    catmull_rom(static_cast<float>(y % grid_step) / grid_step, weights);
    const int count = padded_width();
    auto read = [&](const std::vector<float>& grid, float* out) {
        const float* from[4];
        for (int k = 0; k < 4; ++k)
            from[k] = grid.data() + static_cast<std::size_t>(wrap(before - 1 + k, rows)) * static_cast<std::size_t>(count);
        for (int x = 0; x < count; ++x)
            out[x] = weights[0] * from[0][x] + weights[1] * from[1][x] + weights[2] * from[2][x] + weights[3] * from[3][x];
    };
    read(grid_u_, du);
    read(grid_v_, dv);
}

}  // namespace loom
