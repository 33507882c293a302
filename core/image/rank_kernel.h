// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops of rank filters, built once for every instruction set.
#pragma once

#include <array>
#include <cstdint>

namespace loom {

/// Puts the smaller of two values first.
struct Comparator {
    std::uint16_t first, second;
};

/// Merge exchange (Batcher 1968; Knuth 5.2.2 M) for `count` values: calls exchange(first, second) in turn.
template <class Exchange>
constexpr void merge_exchange(int count, Exchange exchange) {
    int top = 1;
    while (2 * top < count) top *= 2;
    for (int p = top; p > 0; p /= 2)
        for (int q = top, r = 0, d = p;; d = q - p, q /= 2, r = p) {
            for (int i = 0; i + d < count; ++i)
                if ((i & p) == r) exchange(i, i + d);
            if (q == p) break;
        }
}

/// For each x: the values at rows[j][x + i], i from 0 to columns - 1, through the comparators in turn; then the one at `lower`
/// mixed with `share` of the one at `upper`. Rows may be read 32 values beyond x + columns. Boxes of 3 x 3 and 5 x 5 are sorted
/// by built-in networks instead. At most 128 values.
struct RankNetwork {
    const Comparator* comparators;
    int comparator_count;
    int lower, upper;
    float share;
};
void rank_row(const RankNetwork& network, const float* const* rows, int row_count, int columns, int width, float* out);

/// Histograms of 256 bins in 16 groups.
constexpr int rank_groups = 16, rank_group = 16, rank_bins = rank_groups * rank_group;

/// A row of boxes by the histograms of its columns; `column` lists the columns from -radius to width + radius (wrapped).
struct RankColumns {
    const std::uint16_t* fine;    ///< rank_bins a column
    const std::uint16_t* coarse;  ///< rank_groups a column
    const std::int32_t* column;
    int radius, width;
    double target;  ///< how many of the box lie below the result
};
/// out[x] = the place in bins, from 0 to 255, that `target` values of the box lie below.
void rank_columns(const RankColumns& columns, float* out);

}  // namespace loom
