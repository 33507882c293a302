// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/flow_bends.h"

#include "core/base/hash.h"

namespace loom {

FlowBends::FlowBends(const FlowBendSettings& s, Size tile, Size size) {
    const auto add = [&](double size_px, int octaves, std::uint64_t salt, float weight) {
        CloudSettings clouds;
        clouds.across = tile.width / size_px, clouds.down = tile.height / size_px;
        clouds.octaves = octaves, clouds.seed = mix64(s.seed, salt);
        fields_.emplace_back(CloudField(clouds, size), weight);
    };
    add(s.size_px, 3, 0x77617900, static_cast<float>(s.slow));
    const auto fine = static_cast<float>(s.fine);
    if (fine > 0) add(s.size_px / 3, 2, 0x77617901, fine), add(s.size_px / 9, 1, 0x77617902, 0.8f * fine);
}

void FlowBends::row(int y, std::vector<float>& angle) const {
    std::vector<float> bend;
    for (const auto& [field, weight] : fields_) {
        bend.assign(static_cast<std::size_t>(field.padded_width()), 0.0f);
        field.row(y, bend.data());
        for (std::size_t x = 0; x < angle.size(); ++x) angle[x] += weight * bend[x];
    }
}

}  // namespace loom
