// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/ways.h"

#include <algorithm>
#include <cmath>

#include "core/image/resample.h"
#include "core/image/sample_kernel.h"

namespace loom {

Bundle bent_by(const Plane& across, const Plane& down, double strength, Edge edge, const StepContext& context) {
    const Size size = context.size, grid = across.size();
    const float* ways[2] = {across.data(), down.data()};
    const auto to_grid_x = static_cast<float>(grid.width) / static_cast<float>(size.width),
               to_grid_y = static_cast<float>(grid.height) / static_cast<float>(size.height);
    const auto far_x = static_cast<float>(strength * context.scale_x()), far_y = static_cast<float>(strength * context.scale_y());
    return resampled_beyond(
        edge, *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            const auto width = static_cast<std::size_t>(size.width);
            std::vector<float> gx(width), gy(width, (static_cast<float>(y) + 0.5f) * to_grid_y - 0.5f), dx(width), dy(width);
            for (std::size_t x = 0; x < width; ++x) gx[x] = (static_cast<float>(x) + 0.5f) * to_grid_x - 0.5f;
            float* out[2] = {dx.data(), dy.data()};
            read_cubic(ways, 2, PlaneRows(grid), gx.data(), gy.data(), size.width, out);
            for (int x = 0; x < size.width; ++x) {
                px[x] = static_cast<float>(x) + far_x * dx[static_cast<std::size_t>(x)];
                py[x] = static_cast<float>(y) + far_y * dy[static_cast<std::size_t>(x)];
            }
        },
        *context.job);
}

Footprint bent_footprint(const Plane& across, const Plane& down, double strength, const Scales& at) {
    // Catmull-Rom weights go below 0, so that their sizes add up to 5/4 both ways.
    constexpr double beyond = 1.5625;
    const auto farthest = [&](const Plane& ways) {
        float most = 0;
        for (std::size_t i = 0; i < ways.count(); ++i) most = std::max(most, std::abs(ways.data()[i]));
        return beyond * std::abs(strength) * static_cast<double>(most);
    };
    return Footprint::near(at.across(farthest(across), resampled_margin), at.down(farthest(down), resampled_margin));
}

}  // namespace loom
