// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cells of a size in design pixels, for all steps that are made of them.
#pragma once

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

}  // namespace loom
