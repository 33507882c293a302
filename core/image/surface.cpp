// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/surface.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"

namespace loom {

Bundle normal_map(const Plane& height, double deep, Rows rows, const Job& job) {
    const Size size = height.size();
    Plane red(size, rows), green(size, rows), blue(size, rows);
    const auto scale = static_cast<float>(deep / 8);
    for_rows(job, red, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* above = height.row(wrap(y - 1, size.height));
            const float* here = height.row(y);
            const float* below = height.row(wrap(y + 1, size.height));
            for (int x = 0; x < size.width; ++x) {
                const int l = x > 0 ? x - 1 : size.width - 1, r = x + 1 < size.width ? x + 1 : 0;
                const float nx = -scale * ((above[r] + 2 * here[r] + below[r]) - (above[l] + 2 * here[l] + below[l]));
                const float ny = scale * ((below[l] + 2 * below[x] + below[r]) - (above[l] + 2 * above[x] + above[r]));
                const float length = std::sqrt(nx * nx + ny * ny + 1);
                red.row(y)[x] = 0.5f + 0.5f * nx / length;
                green.row(y)[x] = 0.5f + 0.5f * ny / length;
                blue.row(y)[x] = 0.5f + 0.5f / length;
            }
        }
    });
    return Bundle::of(std::move(red), std::move(green), std::move(blue));
}

Bundle occlusion_map(const Plane& height, double deep, double pixels_per_design_px, const Job& job) {
    Plane sky(height.size(), 1.0f);
    for (double radius_px : {2.0, 6.0, 16.0}) {
        const double radius = radius_px * pixels_per_design_px;
        const Plane soft = gaussian_blur(height, radius, radius, job);
        const auto factor = static_cast<float>(deep / std::max(0.5, radius));
        float* out = sky.data();
        const float *wide = soft.data(), *here = height.data();
        for_values(job, sky, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) out[i] *= std::exp(-factor * std::max(0.0f, wide[i] - here[i]));
        });
    }
    return Bundle::of(std::move(sky));
}

}  // namespace loom
