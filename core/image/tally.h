// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How much of a picture lies at each tone: for thresholds by share, ranges and one histogram moved onto another's.
#pragma once

#include <vector>

#include "core/image/plane.h"

namespace loom {

class Tally {
public:
    /// What lies outside low..high counts at the end. `low` < `high`, two bins at least.
    Tally(double low, double high, int bins);
    /// Every value by its coverage (null: 1). The same at any number of threads.
    static Tally of(const Plane& tone, const PlaneRef& coverage, double low, double high, int bins, const Job& job);

    void add(double tone, double weight) { counts_[bin(tone)] += weight; }
    void add(const Tally& other);
    double total() const;
    /// The tone that this share, 0..1, lies above; that of the last bin if there is nothing.
    double tone_above(double share) const;
    /// The share that lies below the middle of each bin, 0..1, rising; empty if there is nothing.
    std::vector<double> shares_below() const;
    double tone_of_bin(double bin) const { return low_ + bin * (high_ - low_) / static_cast<double>(counts_.size() - 1); }

private:
    std::size_t bin(double tone) const;
    double low_, high_;
    std::vector<double> counts_;
};

/// The least and the greatest value of what is covered; 0 and 0 if nothing is.
struct ToneSpan {
    float least = 0, greatest = 0;
};
ToneSpan tone_span_of(const Plane& plane, const PlaneRef& coverage, const Job& job);

/// Divided by the coverage, 0 where there is none; itself where everything is opaque.
PlaneRef straight(const PlaneRef& premultiplied, const PlaneRef& coverage, const Job& job);

}  // namespace loom
