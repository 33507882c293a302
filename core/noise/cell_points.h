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
#include <span>
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
    double x, y;                                 ///< the point, in spacings; within the tile
    double area;                                 ///< in squared spacings; 1 on average
    std::span<const double> corner_x, corner_y;  ///< relative to the point, in order round the cell
    std::span<const CellNeighbour> neighbours;   ///< those whose bisectors bound the cell
};

/// Cells and what they refer to; can be moved, not copied.
class Cells {
public:
    Cells() = default;
    Cells(Cells&&) = default;
    Cells& operator=(Cells&&) = default;
    std::size_t size() const { return cells_.size(); }
    const Cell& operator[](std::size_t k) const { return cells_[k]; }
    auto begin() const { return cells_.begin(); }
    auto end() const { return cells_.end(); }

private:
    friend class Laying;
    /// Corners and neighbours of some cells, one after the other: thousands of small pieces of memory would take longer than the
    /// cutting.
    struct Part {
        std::vector<double> corner_x, corner_y;
        std::vector<CellNeighbour> neighbours;
    };
    std::vector<Cell> cells_;
    std::vector<Part> parts_;
};

constexpr int most_cells = 1 << 18;

/// How many cells a layout has.
int cell_count(const CellLayout& layout);

/// The cells of a layout; always at least one, at most most_cells.
Cells lay_cells(const CellLayout& layout, const Job& job);

/// The same, kept for the next who asks for the same layout: another size of picture, or another setting of a step that is tuned.
/// Cells that were kept with fewer passes of relaxation are gone on from. Only so many cells are kept, the latest.
std::shared_ptr<const Cells> kept_cells(const CellLayout& layout, const Job& job);

}  // namespace loom
