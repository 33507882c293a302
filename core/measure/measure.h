// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How well a picture tiles, and how its tones are spread. Definitions in ../docs/conventions.md.
#pragma once

#include <array>
#include <vector>

#include "core/base/job.h"
#include "core/colour/colour.h"
#include "core/image/bundle.h"
#include "core/measure/life.h"

namespace loom {

/// The wrap edge in one direction.
struct Seam {
    double ratio = 0;        ///< difference across the edge over the 95th percentile of interior neighbours; up to 1: none
    double rank = 0;         ///< share of interior lines that differ less, 0..1
    double worst_place = 0;  ///< where along the edge it is worst, 0..1
    /// The difference of two strips that meet along the edge or near it over the 95th percentile of the same elsewhere, for the
    /// width of strip at which it is greatest. 0 where they differ by too little to be seen, or not alike along the whole edge.
    double band = 0;        ///< found by measure() alone
    double band_width = 0;  ///< of such a strip, as a share of the tile
};
constexpr double seam_good = 1.05, seam_visible = 1.3, band_visible = 2.2;

struct Standout {
    double score = 0;     ///< robust z-score of the strongest low-frequency spot
    double x = 0, y = 0;  ///< its place, in tiles
};
constexpr double standout_low = 4.0, standout_high = 6.0;

struct Histogram {
    static constexpr int bins = 256;
    std::array<double, bins> share{};  ///< shares of all pixels, by tone
    double black = 0, white = 0;       ///< shares at or below black, at or above white
    double mean = 0;                   ///< mean tone, 0..1
};

struct Measures {
    Seam across, down;  ///< across: between the right and the left edge; down: between bottom and top
    Standout standout;
    double evenness = 1;  ///< 1 minus the spread of lightness after a blur at tile/6
    Histogram histogram;
    Colour mean;
    Life life;
};

/// All work on all threads; the job can cancel them.
Seam seam_across(const Bundle& picture, const Job& job = {});
Seam seam_down(const Bundle& picture, const Job& job = {});
Histogram histogram_of(const Bundle& picture, const Job& job = {});
Measures measure(const Bundle& picture, const Job& job);

}  // namespace loom
