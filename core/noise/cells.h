// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cellular noise (Worley 1996) over relaxed points on the torus, with the true distance to the border of each cell.
// Cells are drawn span by span; the nearest point wins each pixel, so that no pixel is left out or drawn twice.
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "core/base/job.h"
#include "core/image/plane.h"
#include "core/noise/cell_points.h"

namespace loom {

enum class CellMetric { euclid, manhattan, chebyshev };

struct CellSettings {
    CellLayout layout;
    CellMetric metric = CellMetric::euclid;
    /// Design pixels a spacing, across and down.
    double spacing_x = 64, spacing_y = 64;
    /// Design pixels by which the border between two cells moves away at most; how much is drawn for each pair.
    double merging_px = 0;
    /// How much of that counts at a place in tiles, 0..1; empty: all of it.
    std::function<double(double u, double v)> merging_at;
    /// Design pixels over which the strength of one border goes over into the next one's, where those are asked for.
    double pair_soft_px = 0;
    /// Design pixels of the soft minimum that rounds corners.
    double rounding_px = 0;
    /// How far the tones of cells stray from the middle, 0..1.
    double tone_spread = 0;
    /// Whether borders or second distances will be asked for.
    bool sides = true;
    /// Pixels a design pixel, for softening the edges between tones.
    double pixels = 1;
};

struct CellSpan;
struct CellSide;

/// Results of some rows; each buffer holds rows * stride values.
struct CellRows {
    int stride = 0;
    std::vector<float> nearest;       ///< distance to the own point, in spacings; its square for Euclid
    std::vector<std::int32_t> owner;  ///< index of the cell
    std::vector<float> second;        ///< distance to the second nearest point, likewise
    std::vector<float> border;        ///< distance to the border in design pixels
    std::vector<float> edge;          ///< the same before merging and rounding
    std::vector<float> tone;          ///< of the cell, softened over a pixel at its edge
    std::vector<float> pair;          ///< a lot for the border that is nearest, 0..1; only if `pairs`
    bool pairs = false;               ///< set before asking
};

class CellField {
public:
    CellField(CellSettings settings, Size size, const Job& job);
    ~CellField();

    const Cells& cells() const { return cells_; }
    /// Fills rows [first, last); borders and second distances cost extra.
    void rows(int first, int last, bool with_second, bool with_border, CellRows& out) const;
    static int stride_for(int width);

    /// Draws of a cell, 0..1; the first is its tone's.
    float draw(int cell, int which) const;
    float tone(int cell) const { return 0.5f + static_cast<float>(settings_.tone_spread) * (draw(cell, 0) - 0.5f); }
    /// The offset of a pixel's middle from a cell's point, in spacings, to its nearest copy.
    double offset_x(const Cell& cell, int x) const;
    double offset_y(const Cell& cell, int y) const;

private:
    struct Extent {
        double left, right, top, bottom;  // of the region that a cell may own, round its point, in spacings
    };
    void place(int cell, double lift, int first, int last, std::vector<CellSpan>& out) const;
    void add_spans(int cell, int row, double dy, int x0, int x1, std::vector<CellSpan>& out) const;
    std::vector<CellSpan> spans_in(int first, int last) const;
    /// A side of a cell in pixels, from the upper end to the lower; rows count from the point's tile.
    struct Edge {
        float top, bottom, x_top, x_bottom, slope;
    };
    std::vector<Edge> edges_;               // of all cells, one after the other
    std::vector<std::size_t> first_edges_;  // of each cell; one more for the end
    std::vector<CellSide> sides_for(int cell, std::span<const CellNeighbour> neighbours) const;
    std::vector<CellNeighbour> around(int cell, int rings) const;
    std::vector<std::vector<CellNeighbour>> touching(const Job& job) const;
    double distance(double dx, double dy) const;
    std::vector<double> reaches() const;
    template <class Work>
    void for_each_cell(const Job& job, Work&& work) const;
    void find_sides(const Job& job);
    void find_edges(const Job& job);

    CellSettings settings_;
    Size size_;
    double step_x_, step_y_;  // spacings a pixel
    std::shared_ptr<const Cells> laid_;
    const Cells& cells_;
    std::vector<Extent> extents_;
    /// Neighbours whose points can decide borders: the cell's own for Euclid, theirs too for other metrics.
    std::vector<std::vector<CellSide>> sides_;
    std::vector<std::vector<CellSide>> blends_;  ///< cells that have a say where borders merge
    std::vector<std::vector<int>> bands_;        // cells by the bands of rows they touch
};

}  // namespace loom
