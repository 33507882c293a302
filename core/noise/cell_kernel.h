// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The vectorised inner loops of CellField; the target is chosen when the program runs.
#pragma once

#include <cstdint>

#include "core/noise/cells.h"

namespace loom {

/// Buffers given to the kernels are longer than what counts by this many values.
constexpr int cell_padding = 64;

/// A stretch of a row, seen from one cell's point: offsets in spacings grow by `step` from `dx`.
struct CellSpan {
    float dx, step, dy;
    std::int32_t cell;
    std::int32_t at;  ///< first value in the buffers
    std::int32_t count;
};

/// A cell has a say where it is less farther than this: squared spacings for Euclid, spacings for other metrics.
constexpr float cell_blend = 0.25f;

/// Offers each span's point to its pixels: the nearest so far wins. Squares of distances for Euclid.
void cell_offer(CellMetric metric, const std::vector<CellSpan>& spans, float* nearest, std::int32_t* owner);

/// What one neighbour does to a cell. Its border lies at `middle` + `across` x + `down` y design pixels from the place x, y
/// round the cell's point for Euclid; for other metrics at half the difference of both distances, times `scale`.
struct CellSide {
    std::int32_t cell;
    float dx, dy;                ///< of the neighbour's point, in spacings
    float middle, across, down;  ///< Euclid
    float scale;                 ///< design pixels a spacing, across this border
    float lift;                  ///< design pixels by which merging moves the border away
    float tone;                  ///< of the neighbour
    float pair;                  ///< a lot for the border
};

struct CellShade {
    CellMetric metric;
    const std::vector<std::vector<CellSide>>* sides;  ///< of all cells
    /// Cells that have a say beyond their border, where borders merge or lots of them are asked for; null: none.
    const std::vector<std::vector<CellSide>>* blends;
    bool merges;      ///< whether borders do
    float rounding;   ///< design pixels of the soft minimum; 0: the plain one
    float own_tone;   ///< of the cell
    float pixels;     ///< pixels a design pixel
    float* second;    ///< squared for Euclid; null: not wanted
    float* border;    ///< design pixels, merged and rounded; null: not wanted, nor are edge and tone
    float* edge;      ///< design pixels to the true border
    float pair_soft;  ///< design pixels, see CellSettings
    float* pair;      ///< a lot for the nearest border; null: not wanted
    float* tone;      ///< of the cell, mixed with the next one's within half a pixel
};

/// Fills the pixels of the span that belong to its cell.
void cell_shade(const CellSpan& span, const std::int32_t* owner, const float* nearest, const CellShade& shade);

/// factor * sqrt(squares).
void root_row(const float* squares, float factor, int count, float* out);

/// 1 - exp(-value / depth), the round top of a pebble.
void dome_row(const float* border, float depth, int count, float* out);

}  // namespace loom
