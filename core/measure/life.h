// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Three numbers that tell a surface from a filter, of the colour picture at 512 pixels across.
#pragma once

#include <array>
#include <vector>

#include "core/base/job.h"
#include "core/image/bundle.h"

namespace loom {

struct Life {
    double spark = 0;  ///< kurtosis of the two finest bands, their mean; 3 is Gaussian: few strong details among many faint ones
    double kinship = 0;  ///< correlation of local strength between neighbouring scales: fine detail sits where coarse detail is
    double play = 0;     ///< 100 x the deviation of OKLab's a and b that a cubic in lightness does not explain
};
/// Where four of five photographs of real surfaces lie.
struct LifeRange {
    double low, high;
};
constexpr LifeRange real_spark{3.4, 6.7}, real_kinship{0.57, 0.87}, real_play{0.42, 1.4};

/// Deviation of each band of lightness: band k is G(0.7 2^k px) - G(1.4 2^k px), G a Gaussian of that deviation.
constexpr int band_count = 6;
struct Bands {
    std::array<double, band_count> deviation{};
};

/// Pictures of fewer than 16 pixels on a side have none: all 0.
Life life_of(const Bundle& picture, const Job& job);
Bands bands_of(const Bundle& picture, const Job& job);

}  // namespace loom
