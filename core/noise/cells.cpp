// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/cells.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/image/sample.h"
#include "core/noise/cell_kernel.h"

namespace loom {

namespace {
constexpr int band_rows = 16;

/// floor and ceil without the library's care for huge numbers.
int below(float value) {
    const int whole = static_cast<int>(value);
    return whole - (static_cast<float>(whole) > value);
}
int above(float value) { return -below(-value); }

double nearest_copy(double offset, double length) { return offset - std::round(offset / length) * length; }
}  // namespace

CellField::CellField(CellSettings settings, Size size, const Job& job)
    : settings_(std::move(settings)),
      size_(size),
      step_x_(settings_.layout.width / size.width),
      step_y_(settings_.layout.height / size.height),
      laid_(kept_cells(settings_.layout, job)),
      cells_(*laid_) {
    const bool straight = settings_.metric == CellMetric::euclid;
    const std::vector<double> other_reaches = straight ? std::vector<double>() : reaches();
    for (const Cell& cell : cells_) {
        const double reach = straight ? 0 : other_reaches[extents_.size()];
        if (straight) {
            const auto [left, right] = std::minmax_element(cell.corner_x.begin(), cell.corner_x.end());
            const auto [top, bottom] = std::minmax_element(cell.corner_y.begin(), cell.corner_y.end());
            extents_.push_back({*left, *right, *top, *bottom});
        } else {
            extents_.push_back({-reach, reach, -reach, reach});
        }
    }
    if (settings_.sides) find_sides(job);
    find_edges(job);
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

CellField::~CellField() = default;

double CellField::distance(double dx, double dy) const {
    const double x = std::abs(dx), y = std::abs(dy);
    switch (settings_.metric) {
        case CellMetric::manhattan: return x + y;
        case CellMetric::chebyshev: return std::max(x, y);
        case CellMetric::euclid: break;
    }
    return std::hypot(x, y);
}

/// How far from its point another metric's cell can reach, by that metric: what belongs to it lies in the Euclidean cell of some
/// neighbour, whose point would be nearer than the farthest corner of that cell.
std::vector<double> CellField::reaches() const {
    std::vector<double> own, near;
    for (const Cell& cell : cells_) {
        double farthest = 0;
        for (std::size_t k = 0; k < cell.corner_x.size(); ++k)
            farthest = std::max(farthest, distance(cell.corner_x[k], cell.corner_y[k]));
        own.push_back(farthest);
    }
    // Twice over the neighbours: those of neighbours count too.
    for (int ring = 0; ring < 2; ++ring) {
        near = own;
        for (std::size_t k = 0; k < cells_.size(); ++k)
            for (const CellNeighbour& n : cells_[k].neighbours)
                near[k] = std::max(near[k], own[static_cast<std::size_t>(n.cell)]);
        own.swap(near);
    }
    return own;
}

template <class Work>
void CellField::for_each_cell(const Job& job, Work&& work) const {
    for_ranges(job, static_cast<int>(cells_.size()), 256, [&](int first, int last) {
        for (int k = first; k < last; ++k) work(static_cast<std::size_t>(k));
    });
}

void CellField::find_edges(const Job& job) {
    first_edges_.assign(cells_.size() + 1, 0);
    if (settings_.metric != CellMetric::euclid) return;
    for (std::size_t k = 0; k < cells_.size(); ++k) first_edges_[k + 1] = first_edges_[k] + cells_[k].corner_x.size();
    edges_.resize(first_edges_.back());
    const double step_x = settings_.layout.width / size_.width, step_y = settings_.layout.height / size_.height;
    for_each_cell(job, [&](std::size_t k) {
        const Cell& c = cells_[k];
        for (std::size_t i = 0; i < c.corner_x.size(); ++i) {
            std::size_t upper = i, lower = i + 1 < c.corner_x.size() ? i + 1 : 0;
            if (c.corner_y[upper] > c.corner_y[lower]) std::swap(upper, lower);
            Edge& edge = edges_[first_edges_[k] + i];
            edge.top = static_cast<float>((c.y + c.corner_y[upper]) / step_y - 0.5);
            edge.bottom = static_cast<float>((c.y + c.corner_y[lower]) / step_y - 0.5);
            edge.x_top = static_cast<float>((c.x + c.corner_x[upper]) / step_x);
            edge.x_bottom = static_cast<float>((c.x + c.corner_x[lower]) / step_x);
            edge.slope = edge.bottom - edge.top > 1e-6f ? (edge.x_bottom - edge.x_top) / (edge.bottom - edge.top) : 0.0f;
        }
    });
}

/// The points that lie at most so many neighbours away, copies of the cell's own point included.
std::vector<CellNeighbour> CellField::around(int cell, int rings) const {
    const auto direct = cells_[static_cast<std::size_t>(cell)].neighbours;
    std::vector<CellNeighbour> all(direct.begin(), direct.end());
    std::size_t begin = 0;
    for (int ring = 1; ring < rings; ++ring) {
        const std::size_t end = all.size();
        for (; begin < end; ++begin)
            for (const CellNeighbour& next : cells_[static_cast<std::size_t>(all[begin].cell)].neighbours) {
                const CellNeighbour far{next.cell, all[begin].dx + next.dx, all[begin].dy + next.dy};
                const bool known = std::any_of(all.begin(), all.end(), [&](const CellNeighbour& n) {
                    return std::abs(n.dx - far.dx) + std::abs(n.dy - far.dy) < 1e-9;
                });
                if (!known && std::abs(far.dx) + std::abs(far.dy) > 1e-9) all.push_back(far);
            }
    }
    return all;
}

/// For other metrics: the points whose cells meet each cell, as a coarse picture of all of them shows it.
std::vector<std::vector<CellNeighbour>> CellField::touching(const Job& job) const {
    std::vector<std::vector<CellNeighbour>> met(cells_.size());
    constexpr double samples = 14, most_pixels = 4e6;  // a spacing, and in all
    const double across = settings_.layout.width, down = settings_.layout.height,
                 fine = std::min(samples, std::sqrt(most_pixels / (across * down)));
    // Where a cell may meet a copy of itself no picture tells.
    if (std::min(across, down) < 4 || fine < 2) {
        for_each_cell(job, [&](std::size_t k) { met[k] = around(static_cast<int>(k), 3); });
        return met;
    }
    CellSettings plain = settings_;
    plain.sides = false;
    const Size size{static_cast<int>(across * fine), static_cast<int>(down * fine)};
    const CellField coarse(plain, size, job);
    CellRows all;
    coarse.rows(0, size.height, false, false, all);
    const auto owner = [&](int x, int y) {
        return all.owner[static_cast<std::size_t>(y) * static_cast<std::size_t>(all.stride) + static_cast<std::size_t>(x)];
    };
    const auto meet = [&](int a, int b, int x, int y) {
        const Cell &one = cells_[static_cast<std::size_t>(a)], &other = cells_[static_cast<std::size_t>(b)];
        auto& known = met[static_cast<std::size_t>(a)];
        if (std::any_of(known.begin(), known.end(), [&](const CellNeighbour& n) { return n.cell == b; })) return;
        const double dx = coarse.offset_x(one, x) - coarse.offset_x(other, x),
                     dy = coarse.offset_y(one, y) - coarse.offset_y(other, y);
        known.push_back({b, dx, dy});
        met[static_cast<std::size_t>(b)].push_back({a, -dx, -dy});
    };
    // What touches by Euclid's measure nearly always touches by others, if only in a point.
    for (std::size_t k = 0; k < cells_.size(); ++k)
        for (const CellNeighbour& n : cells_[k].neighbours) met[k].push_back(n);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const int right = x + 1 < size.width ? x + 1 : 0, below = y + 1 < size.height ? y + 1 : 0;
            const int here = owner(x, y);
            for (const int next : {owner(right, y), owner(x, below), owner(right, below)})
                if (next != here) meet(here, next, x, y);
        }
    return met;
}

void CellField::find_sides(const Job& job) {
    const bool straight = settings_.metric == CellMetric::euclid,
               merging = settings_.merging_px > 0 || settings_.pair_soft_px > 0;
    sides_.resize(cells_.size());
    const auto met = straight ? std::vector<std::vector<CellNeighbour>>() : touching(job);
    if (merging) blends_.resize(cells_.size());
    for_each_cell(job, [&](std::size_t at) {
        const auto k = static_cast<int>(at);
        const Cell& cell = cells_[at];
        sides_[at] = straight ? sides_for(k, cell.neighbours) : sides_for(k, met[at]);
        if (!merging) return;
        // Which cells have a say anywhere in this one: what they are farther by is linear, so that a corner has the least.
        std::vector<CellNeighbour> near;
        for (const CellNeighbour& n : around(k, straight ? 2 : 1)) {
            double least = straight ? 1e9 : 0;
            for (std::size_t c = 0; straight && c < cell.corner_x.size(); ++c)
                least = std::min(least, n.dx * n.dx + n.dy * n.dy - 2 * (cell.corner_x[c] * n.dx + cell.corner_y[c] * n.dy));
            if (least < cell_blend) near.push_back(n);
        }
        blends_[at] = sides_for(k, near);
    });
    if (straight) return;
    // The nearest first: what they are farther by then spares most of the others (see Keep).
    const auto closer = [](const CellSide& a, const CellSide& b) { return std::hypot(a.dx, a.dy) < std::hypot(b.dx, b.dy); };
    for (auto* of_cells : {&sides_, &blends_})
        for (auto& sides : *of_cells) std::stable_sort(sides.begin(), sides.end(), closer);
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

/// The rows among [first, last) that a copy of the cell, lifted by whole tiles, may own pixels of.
void CellField::place(int cell, double lift, int first, int last, std::vector<CellSpan>& out) const {
    const double step_x = step_x_, step_y = step_y_;
    const Cell& c = cells_[static_cast<std::size_t>(cell)];
    const Extent& extent = extents_[static_cast<std::size_t>(cell)];
    const double y = c.y + lift;
    // Half a pixel more on each side, so that no corner slips between two rows.
    constexpr float margin = 0.6f;
    auto row_of = [&](double offset) { return (y + offset) / step_y - 0.5; };
    const int top = std::max(first, static_cast<int>(std::ceil(row_of(extent.top) - margin)));
    const int bottom = std::min(last - 1, static_cast<int>(std::floor(row_of(extent.bottom) + margin)));
    if (top > bottom) return;
    const bool straight = settings_.metric == CellMetric::euclid;
    const auto rows = static_cast<std::size_t>(bottom - top + 1);
    thread_local std::vector<float> low, high;
    const auto left = static_cast<float>((extent.left + c.x) / step_x), right = static_cast<float>((extent.right + c.x) / step_x);
    low.assign(rows, straight ? 1e30f : left), high.assign(rows, straight ? -1e30f : right);
    // A ball of rows and columns is a square on its corner.
    if (settings_.metric == CellMetric::manhattan)
        for (std::size_t k = 0; k < rows; ++k) {
            const double off = std::abs((top + static_cast<int>(k) + 0.5) * step_y - y) - step_y,
                         half = std::max(0.0, extent.right - std::max(0.0, off));
            low[k] = static_cast<float>((c.x - half) / step_x), high[k] = static_cast<float>((c.x + half) / step_x);
        }
    const auto lifted = static_cast<float>(lift / step_y);
    const std::size_t end_edge = first_edges_[static_cast<std::size_t>(cell) + 1];
    for (std::size_t e = first_edges_[static_cast<std::size_t>(cell)]; e < end_edge; ++e) {
        const Edge& edge = edges_[e];
        const float r0 = edge.top + lifted, r1 = edge.bottom + lifted;
        const int from = std::max(top, above(r0 - margin));
        const int to = std::min(bottom, below(r1 + margin));
        for (int row = from; row <= to; ++row) {
            // The part of the side within this row.
            const auto middle = static_cast<float>(row);
            const float a = middle - margin <= r0 ? edge.x_top : edge.x_top + edge.slope * (middle - margin - r0);
            const float b = middle + margin >= r1 ? edge.x_bottom : edge.x_top + edge.slope * (middle + margin - r0);
            const auto at = static_cast<std::size_t>(row - top);
            low[at] = std::min(low[at], std::min(a, b)), high[at] = std::max(high[at], std::max(a, b));
        }
    }
    for (int row = top; row <= bottom; ++row) {
        const auto at = static_cast<std::size_t>(row - top);
        if (low[at] > high[at]) continue;
        add_spans(cell, row - first, (row + 0.5) * step_y - y, below(low[at] - 0.6f), above(high[at] - 0.4f), out);
    }
}

/// Pixels x0 to x1, cut at the tile's edges.
void CellField::add_spans(int cell, int row, double dy, int x0, int x1, std::vector<CellSpan>& out) const {
    const double step = step_x_;
    for (int x = x0; x <= x1;) {
        const int in_tile = wrap_near(x, size_.width), count = std::min(x1 + 1 - x, size_.width - in_tile);
        out.push_back({static_cast<float>((x + 0.5) * step - cells_[static_cast<std::size_t>(cell)].x), static_cast<float>(step),
                       static_cast<float>(dy), cell, row * stride_for(size_.width) + in_tile, count});
        x += count;
    }
}

std::vector<CellSpan> CellField::spans_in(int first, int last) const {
    std::vector<CellSpan> result;
    result.reserve(static_cast<std::size_t>(last - first) * static_cast<std::size_t>(settings_.layout.width * 3 + 8));
    std::vector<int> candidates;
    for (int band = first / band_rows; band <= (last - 1) / band_rows; ++band)
        candidates.insert(candidates.end(), bands_[static_cast<std::size_t>(band)].begin(),
                          bands_[static_cast<std::size_t>(band)].end());
    // Always in the same order, whatever the bands: a pixel just between two points goes to the same one.
    std::sort(candidates.begin(), candidates.end());
    candidates.erase(std::unique(candidates.begin(), candidates.end()), candidates.end());
    const double height = settings_.layout.height;
    const double top = first * step_y_, bottom = last * step_y_;
    for (int k : candidates) {
        const Cell& c = cells_[static_cast<std::size_t>(k)];
        const Extent& extent = extents_[static_cast<std::size_t>(k)];
        for (double lift : {-height, 0.0, height})
            if (c.y + lift + extent.bottom > top - step_y_ && c.y + lift + extent.top < bottom + step_y_)
                place(k, lift, first, last, result);
    }
    return result;
}

void CellField::rows(int first, int last, bool with_second, bool with_border, CellRows& out) const {
    out.stride = stride_for(size_.width);
    const auto stride = static_cast<std::size_t>(out.stride), values = stride * static_cast<std::size_t>(last - first);
    out.nearest.assign(values, 1e30f);
    // Every pixel lies in some span.
    out.owner.resize(values);
    const std::vector<CellSpan> spans = spans_in(first, last);
    cell_offer(settings_.metric, spans, out.nearest.data(), out.owner.data());
    if (!with_second && !with_border) return;
    if (with_second) out.second.assign(values, 0.0f);
    if (with_border) out.border.assign(values, 0.0f), out.edge.assign(values, 0.0f), out.tone.assign(values, 0.0f);
    const bool pairs = with_border && out.pairs;
    if (pairs) out.pair.assign(values, 0.0f);
    for (const CellSpan& span : spans) {
        CellShade shade{};
        shade.metric = settings_.metric;
        shade.sides = &sides_, shade.merges = settings_.merging_px > 0;
        shade.blends = shade.merges || pairs ? &blends_ : nullptr;
        shade.rounding = static_cast<float>(settings_.rounding_px);
        shade.second = with_second ? out.second.data() + span.at : nullptr;
        shade.border = with_border ? out.border.data() + span.at : nullptr;
        shade.edge = with_border ? out.edge.data() + span.at : nullptr;
        shade.tone = with_border ? out.tone.data() + span.at : nullptr;
        shade.pair = pairs ? out.pair.data() + span.at : nullptr;
        shade.pair_soft = static_cast<float>(std::max(1e-3, settings_.pair_soft_px));
        shade.own_tone = tone(span.cell), shade.pixels = static_cast<float>(settings_.pixels);
        cell_shade(span, out.owner.data() + span.at, out.nearest.data() + span.at, shade);
    }
}

std::vector<CellSide> CellField::sides_for(int cell, std::span<const CellNeighbour> neighbours) const {
    std::vector<CellSide> sides;
    sides.reserve(neighbours.size());
    for (const CellNeighbour& n : neighbours) {
        CellSide side{};
        side.cell = n.cell;
        side.dx = static_cast<float>(n.dx), side.dy = static_cast<float>(n.dy);
        const double length = std::hypot(n.dx, n.dy);
        // Design pixels along the border's normal: spacings differ across and down.
        side.scale = static_cast<float>(1 / std::hypot(n.dx / length / settings_.spacing_x, n.dy / length / settings_.spacing_y));
        // Distance to the bisector: half the way less what has been gone towards the neighbour.
        side.middle = side.scale * static_cast<float>(length / 2);
        side.across = -side.scale * static_cast<float>(n.dx / length),
        side.down = -side.scale * static_cast<float>(n.dy / length);
        const auto low = static_cast<std::uint64_t>(std::min(cell, n.cell)),
                   high = static_cast<std::uint64_t>(std::max(cell, n.cell));
        side.pair = unit_float(mix64(mix64(settings_.layout.seed, 0x63726573), low << 32 | high));
        if (settings_.merging_px > 0) {
            side.lift = static_cast<float>(settings_.merging_px) *
                        unit_float(mix64(mix64(settings_.layout.seed, 0x70616972), low << 32 | high));
            // As it is halfway between both points, so that either side has the same.
            const Cell& own = cells_[static_cast<std::size_t>(cell)];
            if (settings_.merging_at)
                side.lift *= static_cast<float>(settings_.merging_at((own.x + n.dx / 2) / settings_.layout.width,
                                                                     (own.y + n.dy / 2) / settings_.layout.height));
        }
        side.tone = tone(n.cell);
        sides.push_back(side);
    }
    return sides;
}

}  // namespace loom
