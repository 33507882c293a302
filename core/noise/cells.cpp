// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/cells.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/noise/cell_kernel.h"

namespace loom {

namespace {
constexpr int band_rows = 16;

double nearest_copy(double offset, double length) { return offset - std::round(offset / length) * length; }
}  // namespace

CellField::CellField(CellSettings settings, Size size, const Job& job)
    : settings_(std::move(settings)), size_(size), cells_(lay_cells(settings_.layout, job)) {
    // Another metric's cell reaches at most sqrt 2 times as far as the farthest corner of any Euclidean one.
    double reach = 0;
    for (const Cell& cell : cells_)
        for (std::size_t k = 0; k < cell.corner_x.size(); ++k)
            reach = std::max(reach, std::hypot(cell.corner_x[k], cell.corner_y[k]));
    reach *= std::sqrt(2.0);
    for (const Cell& cell : cells_) {
        if (settings_.metric == CellMetric::euclid) {
            const auto [left, right] = std::minmax_element(cell.corner_x.begin(), cell.corner_x.end());
            const auto [top, bottom] = std::minmax_element(cell.corner_y.begin(), cell.corner_y.end());
            extents_.push_back({*left, *right, *top, *bottom});
        } else {
            extents_.push_back({-reach, reach, -reach, reach});
        }
    }
    find_sides();
    bands_.resize(static_cast<std::size_t>((size.height + band_rows - 1) / band_rows));
    const double step = settings_.layout.height / size.height;
    for (std::size_t k = 0; k < cells_.size(); ++k) {
        const int top = static_cast<int>(std::floor((cells_[k].y + extents_[k].top) / step - 1.5));
        const int bottom = static_cast<int>(std::ceil((cells_[k].y + extents_[k].bottom) / step + 0.5));
        std::vector<bool> seen(bottom - top >= size.height - band_rows ? bands_.size() : 0);
        int last = -1;
        for (int y = top; y <= bottom; ++y) {
            const int band = wrap(y, size.height) / band_rows;
            if (band == last) continue;
            last = band;
            // A cell as high as the tile meets its bands again.
            if (!seen.empty() && seen[static_cast<std::size_t>(band)]) continue;
            if (!seen.empty()) seen[static_cast<std::size_t>(band)] = true;
            bands_[static_cast<std::size_t>(band)].push_back(static_cast<int>(k));
        }
    }
}

void CellField::find_sides() {
    for (const Cell& cell : cells_) sides_.push_back(cell.neighbours);
    if (settings_.metric == CellMetric::euclid) return;
    for (std::size_t k = 0; k < cells_.size(); ++k) {
        std::vector<CellNeighbour> all = cells_[k].neighbours;
        for (const CellNeighbour& near : cells_[k].neighbours)
            for (const CellNeighbour& next : cells_[static_cast<std::size_t>(near.cell)].neighbours) {
                const CellNeighbour far{next.cell, near.dx + next.dx, near.dy + next.dy};
                const bool known = std::any_of(all.begin(), all.end(), [&](const CellNeighbour& n) {
                    return std::abs(n.dx - far.dx) + std::abs(n.dy - far.dy) < 1e-9;
                });
                if (!known && std::abs(far.dx) + std::abs(far.dy) > 1e-9) all.push_back(far);
            }
        sides_[k] = std::move(all);
    }
}

float CellField::draw(int cell, int which) const {
    return unit_float(
        mix64(mix64(settings_.layout.seed, 0x64726177u + static_cast<std::uint64_t>(which)), static_cast<std::uint64_t>(cell)));
}

int CellField::stride_for(int width) { return width + cell_padding; }

double CellField::offset_x(const Cell& cell, int x) const {
    return nearest_copy((x + 0.5) / size_.width * settings_.layout.width - cell.x, settings_.layout.width);
}
double CellField::offset_y(const Cell& cell, int y) const {
    return nearest_copy((y + 0.5) / size_.height * settings_.layout.height - cell.y, settings_.layout.height);
}

/// Where a cell meets a row, as offsets from its point.
bool CellField::span_of(int cell, double dy, double& x0, double& x1) const {
    const Extent& extent = extents_[static_cast<std::size_t>(cell)];
    const double margin = settings_.layout.height / size_.height;
    if (dy < extent.top - margin || dy > extent.bottom + margin) return false;
    x0 = extent.left, x1 = extent.right;
    if (settings_.metric != CellMetric::euclid) return true;
    const Cell& c = cells_[static_cast<std::size_t>(cell)];
    double low = 1e30, high = -1e30;
    // The row's whole height counts, so that no corner slips between two rows.
    for (double y : {dy - 0.6 * margin, dy + 0.6 * margin})
        for (std::size_t k = 0; k < c.corner_x.size(); ++k) {
            const std::size_t next = (k + 1) % c.corner_x.size();
            const double a = c.corner_y[k] - y, b = c.corner_y[next] - y;
            if ((a > 0) == (b > 0)) continue;
            const double x = c.corner_x[k] + a / (a - b) * (c.corner_x[next] - c.corner_x[k]);
            low = std::min(low, x), high = std::max(high, x);
        }
    for (std::size_t k = 0; k < c.corner_x.size(); ++k)
        if (std::abs(c.corner_y[k] - dy) <= 0.6 * margin)
            low = std::min(low, c.corner_x[k]), high = std::max(high, c.corner_x[k]);
    x0 = low, x1 = high;
    return low <= high;
}

std::vector<CellField::Placed> CellField::placed_in(int first, int last) const {
    std::vector<Placed> result;
    const double step_x = settings_.layout.width / size_.width, step_y = settings_.layout.height / size_.height;
    std::vector<int> candidates;
    for (int band = first / band_rows; band <= (last - 1) / band_rows; ++band)
        candidates.insert(candidates.end(), bands_[static_cast<std::size_t>(band)].begin(),
                          bands_[static_cast<std::size_t>(band)].end());
    // Always in the same order, whatever the bands: a pixel just between two points goes to the same one.
    std::sort(candidates.begin(), candidates.end());
    candidates.erase(std::unique(candidates.begin(), candidates.end()), candidates.end());
    for (int k : candidates) {
        const Cell& cell = cells_[static_cast<std::size_t>(k)];
        const Extent& extent = extents_[static_cast<std::size_t>(k)];
        const double middle = cell.y + (extent.top + extent.bottom) / 2;
        for (int y = first; y < last; ++y) {
            // The copies of the cell that come near this row.
            const double at = (y + 0.5) * step_y, base = at - cell.y;
            const double turn = std::round((at - middle) / settings_.layout.height);
            for (double copy : {turn - 1, turn, turn + 1}) {
                Placed placed{k, y - first, base - copy * settings_.layout.height, 0, 0};
                if (!span_of(k, placed.dy, placed.x0, placed.x1)) continue;
                placed.x0 = std::floor((placed.x0 + cell.x) / step_x - 1.5);
                placed.x1 = std::ceil((placed.x1 + cell.x) / step_x + 0.5);
                result.push_back(placed);
            }
        }
    }
    return result;
}

/// Cuts a span at the tile's edges: draw(first pixel of the row, span as the cell sees it).
template <class Draw>
void CellField::each_span(const Placed& placed, Draw&& draw) const {
    const double step = settings_.layout.width / size_.width;
    const Cell& cell = cells_[static_cast<std::size_t>(placed.cell)];
    const int end = static_cast<int>(placed.x1) + 1;
    for (int x = static_cast<int>(placed.x0); x < end;) {
        const int in_tile = wrap(x, size_.width), count = std::min(end - x, size_.width - in_tile);
        draw(in_tile, CellSpan{static_cast<float>((x + 0.5) * step - cell.x), static_cast<float>(step),
                               static_cast<float>(placed.dy), count});
        x += count;
    }
}

void CellField::rows(int first, int last, bool with_second, bool with_border, CellRows& out) const {
    out.stride = stride_for(size_.width);
    const auto stride = static_cast<std::size_t>(out.stride), values = stride * static_cast<std::size_t>(last - first);
    out.nearest.assign(values, 1e30f);
    out.owner.assign(values, -1);
    const std::vector<Placed> all = placed_in(first, last);
    for (const Placed& placed : all)
        each_span(placed, [&](int x, const CellSpan& span) {
            const std::size_t at = static_cast<std::size_t>(placed.row) * stride + static_cast<std::size_t>(x);
            cell_offer(settings_.metric, span, placed.cell, out.nearest.data() + at, out.owner.data() + at);
        });
    if (!with_second && !with_border) return;
    if (with_second) out.second.assign(values, 0.0f);
    if (with_border) out.border.assign(values, 0.0f), out.tone.assign(values, 0.0f);
    std::vector<CellSide> sides;
    int sides_of = -1;
    for (const Placed& placed : all) {
        const auto cell = static_cast<std::size_t>(placed.cell);
        if (sides_of != placed.cell) {
            sides.clear();
            for (const CellNeighbour& n : sides_[cell]) {
                CellSide side{};
                side.dx = static_cast<float>(n.dx), side.dy = static_cast<float>(n.dy);
                const double length = std::hypot(n.dx, n.dy);
                // Design pixels along the border's normal: spacings differ across and down.
                side.scale =
                    static_cast<float>(1 / std::hypot(n.dx / length / settings_.spacing_x, n.dy / length / settings_.spacing_y));
                if (settings_.merging_px > 0) {
                    const auto low = static_cast<std::uint64_t>(std::min(placed.cell, n.cell));
                    const auto high = static_cast<std::uint64_t>(std::max(placed.cell, n.cell));
                    side.lift = static_cast<float>(settings_.merging_px) *
                                unit_float(mix64(mix64(settings_.layout.seed, 0x70616972), low << 32 | high));
                }
                side.tone = tone(n.cell);
                sides.push_back(side);
            }
            sides_of = placed.cell;
        }
        each_span(placed, [&](int x, const CellSpan& span) {
            for (std::size_t k = 0; k < sides.size(); ++k) {
                const CellNeighbour& n = sides_[cell][k];
                const double length = std::hypot(n.dx, n.dy), scale = static_cast<double>(sides[k].scale);
                // Distance to the bisector: half the way less what has been gone towards the neighbour.
                sides[k].base =
                    static_cast<float>(scale * (length / 2 - (static_cast<double>(span.dx) * n.dx + placed.dy * n.dy) / length));
                sides[k].along = static_cast<float>(-scale * settings_.layout.width / size_.width * n.dx / length);
            }
            const std::size_t at = static_cast<std::size_t>(placed.row) * stride + static_cast<std::size_t>(x);
            CellShade shade{};
            shade.metric = settings_.metric;
            shade.sides = sides.data(), shade.side_count = static_cast<int>(sides.size());
            shade.rounding = static_cast<float>(settings_.rounding_px);
            shade.second = with_second ? out.second.data() + at : nullptr;
            shade.border = with_border ? out.border.data() + at : nullptr;
            shade.tone = with_border ? out.tone.data() + at : nullptr;
            shade.own_tone = tone(placed.cell), shade.pixels = static_cast<float>(settings_.pixels);
            cell_shade(span, placed.cell, out.owner.data() + at, shade);
        });
    }
}

}  // namespace loom
