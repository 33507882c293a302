// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/cell_points.h"

#include <algorithm>
#include <cmath>
#include <list>
#include <mutex>

#include "core/base/hash.h"

namespace loom {

namespace {

struct Point {
    double x, y;
};

/// Points by squares of about one spacing, for finding what lies near.
class Buckets {
public:
    Buckets(const std::vector<Point>& points, double width, double height)
        : width_(width),
          height_(height),
          across_(std::max(1, static_cast<int>(width))),
          down_(std::max(1, static_cast<int>(height))) {
        start_.assign(static_cast<std::size_t>(across_) * static_cast<std::size_t>(down_) + 1, 0);
        for (const Point& p : points) ++start_[place(p) + 1];
        for (std::size_t k = 1; k < start_.size(); ++k) start_[k] += start_[k - 1];
        entries_.resize(points.size());
        std::vector<int> next(start_.begin(), start_.end() - 1);
        for (std::size_t k = 0; k < points.size(); ++k)
            entries_[static_cast<std::size_t>(next[place(points[k])]++)] = static_cast<int>(k);
    }
    /// Side of the smaller square edge.
    double step() const { return std::min(width_ / across_, height_ / down_); }
    int column(double x) const { return std::clamp(static_cast<int>(x / width_ * across_), 0, across_ - 1); }
    int row(double y) const { return std::clamp(static_cast<int>(y / height_ * down_), 0, down_ - 1); }
    /// Calls visit(index, shift x, shift y) for the points of a square that may lie tiles away.
    template <class Visit>
    void visit(int column, int row, Visit&& visit) const {
        // A few tiles away at most, so that steps are cheaper than a division.
        int turn_x = 0, turn_y = 0;
        while (column - turn_x * across_ < 0) --turn_x;
        while (column - turn_x * across_ >= across_) ++turn_x;
        while (row - turn_y * down_ < 0) --turn_y;
        while (row - turn_y * down_ >= down_) ++turn_y;
        const auto at = static_cast<std::size_t>(row - turn_y * down_) * static_cast<std::size_t>(across_) +
                        static_cast<std::size_t>(column - turn_x * across_);
        for (int k = start_[at]; k < start_[at + 1]; ++k)
            visit(entries_[static_cast<std::size_t>(k)], turn_x * width_, turn_y * height_);
    }

private:
    std::size_t place(const Point& p) const {
        return static_cast<std::size_t>(row(p.y)) * static_cast<std::size_t>(across_) + static_cast<std::size_t>(column(p.x));
    }
    double width_, height_;
    int across_, down_;
    std::vector<int> start_, entries_;
};

/// A cell while it is cut: corners round the point, and the neighbour behind the side that begins at each.
class Cut {
public:
    struct Corner {
        double x, y;
        CellNeighbour side;
    };
    std::vector<Corner> corners;

    void start(double width, double height, int index) {
        // Its own copies in the next tiles bound every cell.
        corners.assign({{width / 2, -height / 2, {index, width, 0}},
                        {width / 2, height / 2, {index, 0, height}},
                        {-width / 2, height / 2, {index, -width, 0}},
                        {-width / 2, -height / 2, {index, 0, -height}}});
        measure();
    }
    /// Distance of the farthest corner, squared.
    double reach() const { return reach_; }
    /// Keeps what lies nearer to the point than to the neighbour.
    void by(const CellNeighbour& n) {
        const double square = n.dx * n.dx + n.dy * n.dy;
        if (square > 4 * reach_) return;
        auto beyond = [&](const Corner& c) { return c.x * n.dx + c.y * n.dy - square / 2; };
        bool any = false;
        for (const Corner& c : corners) any = any || beyond(c) > 0;
        if (!any) return;
        next_.clear();
        for (std::size_t k = 0; k < corners.size(); ++k) {
            const Corner &c = corners[k], &after = corners[k + 1 < corners.size() ? k + 1 : 0];
            const double here = beyond(c), there = beyond(after);
            if (here <= 0) next_.push_back(c);
            if ((here <= 0) == (there <= 0)) continue;
            const double t = here / (here - there);
            // Leaving: the new side begins here. Coming back: the old side goes on.
            next_.push_back({c.x + t * (after.x - c.x), c.y + t * (after.y - c.y), here <= 0 ? n : c.side});
        }
        corners.swap(next_);
        measure();
    }

private:
    void measure() {
        reach_ = 0;
        for (const Corner& c : corners) reach_ = std::max(reach_, c.x * c.x + c.y * c.y);
    }
    double reach_ = 0;
    std::vector<Corner> next_;
};

void cut_cell(const std::vector<Point>& points, const Buckets& buckets, int index, double width, double height, Cut& cut) {
    const Point p = points[static_cast<std::size_t>(index)];
    cut.start(width, height, index);
    const int column = buckets.column(p.x), row = buckets.row(p.y);
    for (int ring = 0;; ++ring) {
        // Everything in this ring is at least (ring - 1) squares away; a bisector cuts at half the way.
        const double least = (ring - 1) * buckets.step();
        if (ring > 1 && least * least > 4 * cut.reach()) break;
        for (int j = -ring; j <= ring; ++j)
            for (int i = -ring; i <= ring; i += std::abs(j) == ring ? 1 : std::max(1, 2 * ring))
                buckets.visit(column + i, row + j, [&](int other, double shift_x, double shift_y) {
                    const Point& q = points[static_cast<std::size_t>(other)];
                    const double dx = q.x + shift_x - p.x, dy = q.y + shift_y - p.y;
                    if (dx * dx + dy * dy > 1e-18) cut.by({other, dx, dy});
                });
    }
}

/// Centroid relative to the point, and area, of triangles that each weigh as the density in their middle.
Point centroid(const Cut& cut, const Point& p, const CellLayout& layout, double& area) {
    Point sum{0, 0};
    double weight = 0;
    area = 0;
    for (std::size_t k = 0; k < cut.corners.size(); ++k) {
        const Cut::Corner &a = cut.corners[k], &b = cut.corners[k + 1 < cut.corners.size() ? k + 1 : 0];
        const double triangle = (a.x * b.y - b.x * a.y) / 2;
        const Point middle{(a.x + b.x) / 3, (a.y + b.y) / 3};
        const double w =
            triangle * (layout.density ? layout.density((p.x + middle.x) / layout.width, (p.y + middle.y) / layout.height) : 1.0);
        sum.x += w * middle.x, sum.y += w * middle.y;
        weight += w, area += triangle;
    }
    return weight > 0 ? Point{sum.x / weight, sum.y / weight} : Point{0, 0};
}

Cell finished(const Cut& cut, const Point& p, double area) {
    Cell cell{p.x, p.y, area, {}, {}, {}};
    cell.corner_x.reserve(cut.corners.size()), cell.corner_y.reserve(cut.corners.size());
    cell.neighbours.reserve(cut.corners.size());
    for (const Cut::Corner& corner : cut.corners) {
        cell.corner_x.push_back(corner.x), cell.corner_y.push_back(corner.y);
        cell.neighbours.push_back(corner.side);
    }
    return cell;
}

double into(double value, double length) {
    value -= std::floor(value / length) * length;
    return value < length ? value : 0;
}

/// Moves places of the unit square so that they get as dense as is asked for: rows by their sums, then within the row.
class Warp {
public:
    explicit Warp(const std::function<double(double, double)>& density) {
        for (int j = 0; j < side; ++j) {
            double sum = 0;
            for (int i = 0; i < side; ++i) sum += across_[j][i + 1] = density((i + 0.5) / side, (j + 0.5) / side);
            double run = 0;
            for (int i = 0; i < side; ++i) run += across_[j][i + 1], across_[j][i + 1] = run / sum;
            down_[j + 1] = down_[j] + sum;
        }
        for (double& value : down_) value /= down_[side];
        down_[side] = 1;
    }
    Point operator()(Point p) const {
        const double y = inverse(down_, p.y);
        const double row = into(y * side - 0.5, side);
        const int j = static_cast<int>(row) % side, next = (j + 1) % side;
        const double t = row - std::floor(row);
        double mixed[side + 1];
        for (int i = 0; i <= side; ++i) mixed[i] = (1 - t) * across_[j][i] + t * across_[next][i];
        return {inverse(mixed, p.x), y};
    }

private:
    static constexpr int side = 64;
    static double inverse(const double (&sums)[side + 1], double value) {
        const auto above = std::upper_bound(sums + 1, sums + side, value);
        const auto k = static_cast<int>(above - sums);
        const double width = sums[k] - sums[k - 1];
        return (k - 1 + (width > 0 ? (value - sums[k - 1]) / width : 0.5)) / side;
    }
    double across_[side][side + 1] = {}, down_[side + 1] = {};
};

struct Rows {
    int across, down;
};

/// Staggered rows of points with area 1 each.
Rows rows_of(const CellLayout& layout) {
    constexpr double row_height = 0.930604859, column_width = 1.074569932;
    if (layout.width * layout.height < 1.5) return {1, 1};
    Rows rows{std::max(1, static_cast<int>(std::lround(layout.width / column_width))),
              std::max(2, 2 * static_cast<int>(std::lround(layout.height / row_height / 2)))};
    while (static_cast<double>(rows.across) * rows.down > most_cells)
        rows = {(rows.across + 1) / 2, std::max(2, (rows.down + 2) / 4 * 2)};
    return rows;
}

std::vector<Point> scattered(const CellLayout& layout) {
    const auto [across, down] = rows_of(layout);
    const double step_x = layout.width / across, step_y = layout.height / down;
    std::vector<Point> points;
    for (int j = 0; j < down; ++j)
        for (int i = 0; i < across; ++i) {
            const std::uint64_t hash = mix64(layout.seed, static_cast<std::uint64_t>(j) << 32 | static_cast<std::uint32_t>(i));
            const double turn = 6.283185307179586 * static_cast<double>(unit_float(hash));
            // An even disc, wide enough that the rows leave less than two hundredths of their order.
            const double far = 0.9 * layout.jitter * std::sqrt(static_cast<double>(unit_float(mix64(hash))));
            points.push_back({into((i + 0.25 + 0.5 * (j % 2)) * step_x + far * std::cos(turn), layout.width),
                              into((j + 0.5) * step_y + far * std::sin(turn), layout.height)});
        }
    if (layout.density) {
        const Warp warp(layout.density);
        for (Point& p : points) {
            const Point moved = warp({p.x / layout.width, p.y / layout.height});
            p = {into(moved.x * layout.width, layout.width), into(moved.y * layout.height, layout.height)};
        }
    }
    return points;
}

}  // namespace

int cell_count(const CellLayout& layout) {
    const Rows rows = rows_of(layout);
    return rows.across * rows.down;
}

std::vector<Cell> lay_cells(const CellLayout& layout, const Job& job) {
    std::vector<Point> points = scattered(layout);
    const int count = static_cast<int>(points.size());
    std::vector<Cell> cells(points.size());
    for (int pass = 0; pass <= layout.relaxation; ++pass) {
        const Buckets buckets(points, layout.width, layout.height);
        std::vector<Point> moved = points;
        const bool last = pass == layout.relaxation;
        for_ranges(job, count, 64, [&](int first, int end) {
            Cut cut;
            for (int k = first; k < end; ++k) {
                const auto at = static_cast<std::size_t>(k);
                cut_cell(points, buckets, k, layout.width, layout.height, cut);
                double area = 0;
                const Point middle = centroid(cut, points[at], layout, area);
                if (last)
                    cells[at] = finished(cut, points[at], area);
                else
                    moved[at] = {into(points[at].x + middle.x, layout.width), into(points[at].y + middle.y, layout.height)};
            }
        });
        points = std::move(moved);
    }
    return cells;
}

namespace {

struct Kept {
    Key key;
    std::shared_ptr<const std::vector<Cell>> cells;
};
/// The latest first.
struct KeptCells {
    std::mutex mutex;
    std::list<Kept> all;
};
constexpr std::size_t most_kept = 12, most_cells_kept = 20000;

Key key_of(const CellLayout& layout) {
    return Key{}
        .add(layout.width)
        .add(layout.height)
        .add(layout.jitter)
        .add(static_cast<std::uint64_t>(layout.relaxation))
        .add(layout.seed)
        .add(layout.density_key);
}

}  // namespace

std::shared_ptr<const std::vector<Cell>> kept_cells(const CellLayout& layout, const Job& job) {
    static KeptCells kept;
    const bool known = !layout.density || layout.density_key != 0;
    const Key key = key_of(layout);
    if (known) {
        const std::lock_guard lock(kept.mutex);
        for (auto it = kept.all.begin(); it != kept.all.end(); ++it)
            if (it->key == key) {
                kept.all.splice(kept.all.begin(), kept.all, it);
                return it->cells;
            }
    }
    auto cells = std::make_shared<const std::vector<Cell>>(lay_cells(layout, job));
    if (!known || cells->size() > most_cells_kept) return cells;
    const std::lock_guard lock(kept.mutex);
    kept.all.push_front({key, cells});
    if (kept.all.size() > most_kept) kept.all.pop_back();
    return cells;
}

}  // namespace loom
