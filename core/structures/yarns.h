// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The yarns of a cloth: how each rises and falls along its way, leans to the side and swells, in tables that are read between
// their entries.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/draft.h"
#include "core/base/job.h"

namespace loom {

struct YarnSettings {
    const Job* job = nullptr;      ///< asked between yarns whether to go on; may be null
    double slub_px_crossings = 6;  ///< crossings that a thick place is long
    double slub = 0.15;            ///< of the radius
    double jitter = 0.065;         ///< of the pitch
    double closing = 0.13;         ///< of the pitch: how far neighbours lean over a yarn that dips
    double arch = 0.9;             ///< how much a long float bulges in its middle
    double shoulder = 0;           ///< 0..1: how flat tops are, and how steep their ends
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

    static constexpr int per_crossing = 8;
    /// The places of a yarn, per_crossing for each crossing, and the first again behind the last.
    const YarnPlace* row(int yarn) const {
        return places_.data() + static_cast<std::size_t>(yarn) * static_cast<std::size_t>(entries_ + 1);
    }
    int entries() const { return entries_; }
    /// How far from its middle line a yarn of half this width may be seen, in pitches.
    float reach(float half) const;
    /// `along`: crossings from the start, from 0 to before their number.
    YarnPlace at(int yarn, float along) const {
        const float place = along * per_crossing;
        const int entry = static_cast<int>(place) < entries_ ? static_cast<int>(place) : entries_ - 1;
        const YarnPlace &a = row(yarn)[entry], &b = row(yarn)[entry + 1];
        const float t = place - static_cast<float>(entry);
        return {a.rise + t * (b.rise - a.rise), a.shift + t * (b.shift - a.shift), a.swell + t * (b.swell - a.swell)};
    }

private:
    int entries_;
    std::vector<YarnPlace> places_;
};

}  // namespace loom
