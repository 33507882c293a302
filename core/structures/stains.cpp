// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/stains.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/image/shoulder.h"

namespace loom {

namespace {

CloudField edges(double size_px, int octaves, std::uint64_t seed, const StepContext& context) {
    CloudSettings clouds;
    clouds.across = context.tile.width / size_px, clouds.down = context.tile.height / size_px;
    clouds.octaves = octaves, clouds.seed = seed;
    return CloudField(clouds, context.size, context.job);
}

}  // namespace

TideProfile::TideProfile(int rings, std::uint64_t lots) {
    const auto lot = [&](std::uint64_t which) { return unit_float(mix64(lots, 0x74696465 + which)); };
    struct Line {
        float place, strength, behind;
    };
    std::vector<Line> lines{{1, 0.85f + 0.15f * lot(0), 0.52f}};
    const int inner = static_cast<int>(lot(1) * static_cast<float>(rings));
    for (int k = 0; k < inner; ++k) {
        const auto n = static_cast<std::uint64_t>(k);
        lines.push_back({lines.back().place * (0.62f + 0.3f * lot(10 + n)), 0.25f + 0.3f * lot(20 + n), 0.25f});
    }
    for (int k = 0; k < entries; ++k) {
        const float d = static_cast<float>(k) / per_radius;
        // Inside it gets thinner towards the middle.
        float value = d < 1 ? 0.30f + 0.10f * d * d : 0.0f;
        for (const Line& line : lines) {
            const float off = d - line.place;
            // Sharp outside, soft behind.
            const float own = off > 0 ? 1 - shoulder(0.0f, 0.035f, off)
                                      : line.behind * std::exp(off / 0.16f) + (1 - line.behind) * std::exp(-off * off / 0.0009f);
            value = off > 0 && line.place == 1 ? own * line.strength * 0.9f : value + own * line.strength * (1 - value) * 0.9f;
        }
        values_[static_cast<std::size_t>(k)] = std::clamp(value, 0.0f, 1.0f);
    }
    values_.back() = 0;
}

StainEdges::StainEdges(const StainSettings& s, const StepContext& context)
    : wander_(0.42 * s.wander),
      broad_(edges(std::max(6.0, 0.7 * s.size_px), 3, mix64(s.seed, 0x65646765), context)),
      fine_(edges(std::max(4.0, 0.12 * s.size_px), 2, mix64(s.seed, 0x65646766), context)) {}

void StainEdges::row(int y, float* out, std::vector<float>& room) const {
    room.resize(static_cast<std::size_t>(std::max(broad_.padded_width(), fine_.padded_width())));
    broad_.row(y, out);
    fine_.row(y, room.data());
    const auto broad = static_cast<float>(wander_), fine = static_cast<float>(0.16 * wander_);
    for (int x = 0; x < padded_width(); ++x)
        out[x] = broad * std::clamp(out[x], -2.0f, 2.0f) + fine * room[static_cast<std::size_t>(x)];
}

}  // namespace loom
