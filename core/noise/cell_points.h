// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Points on the torus of the tile and their Voronoi cells. Cells are cut one by one, by the bisectors with ever farther
// points (as Rycroft 2009 does in three dimensions), which gives areas, centroids and neighbours exactly; relaxation moves
// points to the centroids (Lloyd 1982), weighted by the density.
#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <vector>

#include "core/base/job.h"

namespace loom {

struct CellLayout {
    /// The tile in mean spacings of points, across and down.
    double width = 8, height = 8;
    /// 0: staggered rows; 1: no trace of them is left.
    double jitter = 1;
    int relaxation = 0;
    /// Relative number of points at a place in tiles, above 0 and continuous across the edges; empty: even.
    std::function<double(double u, double v)> density;
    /// Tells one density from another, so that cells laid by it can be kept; 0: they are not.
    std::uint64_t density_key = 0;
    std::uint64_t seed = 0;
};

/// A neighbour of a cell: the offset of its point, in spacings.
struct CellNeighbour {
    int cell;
    double dx, dy;
};

struct Cell {
    double x, y;                             ///< the point, in spacings; within the tile
    double area;                             ///< in squared spacings; 1 on average
    std::vector<double> corner_x, corner_y;  ///< relative to the point, in order round the cell
    std::vector<CellNeighbour> neighbours;   ///< those whose bisectors bound the cell
};

constexpr int most_cells = 1 << 18;

/// How many cells a layout has.
int cell_count(const CellLayout& layout);

/// The cells of a layout; always at least one, at most most_cells.
std::vector<Cell> lay_cells(const CellLayout& layout, const Job& job);

/// The same, kept for the next who asks for the same layout: another size of picture, or another setting of a step that is tuned.
/// Only the latest few are kept, and none of many thousand cells.
std::shared_ptr<const std::vector<Cell>> kept_cells(const CellLayout& layout, const Job& job);

}  // namespace loom
