// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/wandered.h"

#include <algorithm>

#include "core/base/hash.h"
#include "core/image/sample_kernel.h"
#include "core/structures/drift.h"
#include "core/structures/read_planes.h"

namespace loom {

Bundle wandered(const Bundle& in, const std::vector<WanderScale>& scales, std::uint64_t seed, const StepContext& context) {
    std::vector<Drift> drifts;
    for (const WanderScale& scale : scales) {
        DriftSettings drift;
        drift.distance_px = scale.distance_px, drift.size_x_px = drift.size_y_px = std::max(4.0, scale.size_px);
        drift.octaves = 1, drift.seed = mix64(seed, drifts.size());
        drifts.emplace_back(drift, context);
    }
    const Size size = context.size;
    ReadPlanes planes(in, [&] { return Plane(size); });
    for_rows(*context.job, size.height, [&](int first, int last) {
        const auto padded = static_cast<std::size_t>(drifts.front().padded_width());
        std::vector<float> du(padded), dv(padded), x(padded), y(padded);
        for (int row = first; row < last; ++row) {
            for (int k = 0; k < size.width; ++k)
                x[static_cast<std::size_t>(k)] = static_cast<float>(k), y[static_cast<std::size_t>(k)] = static_cast<float>(row);
            for (const Drift& drift : drifts) {
                drift.row(row, du.data(), dv.data());
                for (std::size_t k = 0; k < static_cast<std::size_t>(size.width); ++k)
                    x[k] += du[k] * static_cast<float>(size.width), y[k] += dv[k] * static_cast<float>(size.height);
            }
            for (ReadPlanes::Source& source : planes.all) {
                float* out = source.out.row(row);
                const float* from = source.plane->data();
                if (!source.whole) {
                    read_bilinear(&from, 1, size, x.data(), y.data(), size.width, &out);
                    continue;
                }
                for (std::size_t k = 0; k < static_cast<std::size_t>(size.width); ++k)
                    out[k] = source.plane->row(nearest_pixel(y[k], size.height))[nearest_pixel(x[k], size.width)];
            }
        }
    });
    return planes.finish();
}

}  // namespace loom
