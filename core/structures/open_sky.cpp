// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/open_sky.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"

namespace loom {

Plane open_sky(const Plane& height, double depth_px, double amount, std::span<const double> radii_px,
               const StepContext& context) {
    Plane sky(context.size, 1.0f);
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    for (double radius_px : radii_px) {
        const double rx = radius_px * context.scale_x(), ry = radius_px * context.scale_y();
        const Plane soft = gaussian_blur(height, rx, ry, *context.job);
        const auto factor = static_cast<float>(depth_px * scale * amount * 1.2 / std::max(0.5, std::sqrt(rx * ry)));
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < context.size.width; ++x)
                    sky.row(y)[x] *= std::exp(-std::max(0.0f, factor * (soft.row(y)[x] - height.row(y)[x])));
        });
    }
    return sky;
}

}  // namespace loom
