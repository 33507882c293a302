// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

namespace loom {

/// From 0 at `low` to 1 at `high`, with level ends; a step where both are the same.
inline float shoulder(float low, float high, float value) {
    if (value >= high) return 1;
    if (value <= low) return 0;
    const float t = (value - low) / (high - low);
    return t * t * (3 - 2 * t);
}

/// 1 between two tones, fading to 0 beyond them.
struct Shoulders {
    float from = 0, to = 1;
    float soft_from = 0, soft_to = 0;  ///< in tones
    bool open_below = false, open_above = false;
    float operator()(float tone) const {
        float share = open_below ? 1 : shoulder(from - soft_from, from, tone);
        if (!open_above) share *= shoulder(-to - soft_to, -to, -tone);
        return share;
    }
};

}  // namespace loom
