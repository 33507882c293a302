// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/drift.h"

#include <algorithm>

#include "core/base/hash.h"

namespace loom {

namespace {

std::shared_ptr<const CloudField> field(const DriftSettings& s, const StepContext& context, std::uint64_t which) {
    CloudSettings clouds;
    clouds.across = context.tile.width / s.size_x_px, clouds.down = context.tile.height / s.size_y_px;
    clouds.octaves = s.octaves, clouds.seed = mix64(s.seed, which);
    Key key;
    key.add("drift").add(clouds.across).add(clouds.down).add(static_cast<std::uint64_t>(clouds.octaves)).add(clouds.seed);
    key.add(static_cast<std::uint64_t>(context.size.width)).add(static_cast<std::uint64_t>(context.size.height));
    return context.in_common(key, [&] { return CloudField(clouds, context.size, context.job); });
}

}  // namespace

Drift::Drift(const DriftSettings& s, const StepContext& context)
    : across_(field(s, context, 1)),
      down_(field(s, context, 2)),
      // Clouds have deviation 1 and seldom go beyond 2.5.
      way_u_(static_cast<float>(s.distance_px / context.tile.width / 2.5)),
      way_v_(static_cast<float>(s.distance_px / context.tile.height / 2.5)) {}

void Drift::row(int y, float* du, float* dv) const {
    across_->row(y, du);
    down_->row(y, dv);
    const int count = padded_width();
    // Clouds have deviation 1: these are five.
    constexpr auto most = static_cast<float>(2.5 * drift_most);
    for (int x = 0; x < count; ++x) du[x] = std::clamp(du[x], -most, most) * way_u_;
    for (int x = 0; x < count; ++x) dv[x] = std::clamp(dv[x], -most, most) * way_v_;
}

}  // namespace loom
