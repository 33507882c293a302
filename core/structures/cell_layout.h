// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cells of a size in design pixels, for all steps that are made of them.
#pragma once

#include <algorithm>
#include <cmath>

#include "core/noise/cells.h"

namespace loom {

/// Settings of cells `across` and `down` design pixels apart on a tile; where more would be needed than can be laid, they
/// grow.
inline CellSettings cells_apart(double across, double down, Size tile) {
    CellSettings cells;
    cells.spacing_x = across, cells.spacing_y = down;
    cells.layout.width = tile.width / across, cells.layout.height = tile.height / down;
    const double most = std::sqrt(cells.layout.width * cells.layout.height / most_cells);
    if (most > 1) {
        cells.spacing_x *= most, cells.spacing_y *= most;
        cells.layout.width /= most, cells.layout.height /= most;
    }
    return cells;
}

/// Calls visit(x, y, rows, at) for every pixel, `at` being its place in the buffers of `rows`; borders are filled, second
/// distances are not.
template <class Visit>
void for_cell_pixels(const CellField& field, Size size, const Job& job, Visit&& visit) {
    constexpr int band = 16;
    for_ranges(job, (size.height + band - 1) / band, 1, [&](int from, int to) {
        CellRows rows;
        for (int part = from; part < to; ++part) {
            const int first = part * band, last = std::min(first + band, size.height);
            field.rows(first, last, false, true, rows);
            for (int y = first; y < last; ++y)
                for (int x = 0; x < size.width; ++x)
                    visit(x, y, rows,
                          static_cast<std::size_t>(y - first) * static_cast<std::size_t>(rows.stride) +
                              static_cast<std::size_t>(x));
        }
    });
}

}  // namespace loom
