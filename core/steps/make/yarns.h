// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The yarns of a cloth: how each rises and falls along its way, leans to the side and swells, in tables that are read between
// their entries.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/draft.h"

namespace loom {

struct YarnSettings {
    double slub_px_crossings = 6;  ///< crossings that a thick place is long
    double slub = 0.15;            ///< of the radius
    double jitter = 0.065;         ///< of the pitch
    double closing = 0.13;         ///< of the pitch: how far neighbours lean over a yarn that dips
    double arch = 0.9;             ///< how much a long float bulges in its middle
    std::uint64_t seed = 0;
};

struct YarnPlace {
    float rise;   ///< from -1 (under) to 1 (over)
    float shift;  ///< to the side, in pitches
    float swell;  ///< radius beside the nominal one
};

/// All yarns of one direction.
class Yarns {
public:
    /// `warp`: yarn i is over where the draft says so; wefts are over where it does not. Both counts are whole repeats.
    Yarns(const Draft& draft, bool warp, int count, int crossings, const YarnSettings& settings);

    /// `along`: crossings from the start, within [0, crossings); the same for all yarns at a place.
    struct Along {
        int entry, next;
        float t;
    };
    Along find(float along) const {
        const float place = along * per_crossing;
        int k = static_cast<int>(place);
        const float t = place - static_cast<float>(k);
        if (k >= length_) k -= length_;
        return {k, k + 1 == length_ ? 0 : k + 1, t};
    }
    YarnPlace at(int yarn, const Along& along) const {
        const YarnPlace *row = places_.data() + static_cast<std::size_t>(yarn) * static_cast<std::size_t>(length_),
                        &a = row[along.entry], &b = row[along.next];
        const float t = along.t;
        return {a.rise + t * (b.rise - a.rise), a.shift + t * (b.shift - a.shift), a.swell + t * (b.swell - a.swell)};
    }
    int count() const { return count_; }
    int crossings() const { return length_ / per_crossing; }

private:
    static constexpr int per_crossing = 8;
    int count_, length_;
    std::vector<YarnPlace> places_;
};

}  // namespace loom
