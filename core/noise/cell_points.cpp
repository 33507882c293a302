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
            entries_[static_cast<std::size_t>(next[place(points[k])]++)] = {points[k], static_cast<int>(k)};
    }
    /// Side of the smaller square edge.
    double step() const { return std::min(width_ / across_, height_ / down_); }
    int column(double x) const { return std::clamp(static_cast<int>(x / width_ * across_), 0, across_ - 1); }
    int row(double y) const { return std::clamp(static_cast<int>(y / height_ * down_), 0, down_ - 1); }
    /// Calls visit(index, x, y) for the points of a square, in the copy of the tile that it lies in.
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
            visit(entries_[static_cast<std::size_t>(k)].index, entries_[static_cast<std::size_t>(k)].at.x + turn_x * width_,
                  entries_[static_cast<std::size_t>(k)].at.y + turn_y * height_);
    }

private:
    std::size_t place(const Point& p) const {
        return static_cast<std::size_t>(row(p.y)) * static_cast<std::size_t>(across_) + static_cast<std::size_t>(column(p.x));
    }
    double width_, height_;
    int across_, down_;
    /// A point beside its place, so that a square is read in one go.
    struct Entry {
        Point at;
        int index;
    };
    std::vector<int> start_;
    std::vector<Entry> entries_;
};

/// A cell while it is cut: corners round the point, and the neighbour behind the side that begins at each.
class Cut {
public:
    struct Corner {
        double x, y;
        CellNeighbour side;
    };

    std::span<const Corner> corners() const { return {now_.data(), count_}; }

    void start(double width, double height, int index) {
        // Its own copies in the next tiles bound every cell.
        count_ = 4;
        now_[0] = {width / 2, -height / 2, {index, width, 0}};
        now_[1] = {width / 2, height / 2, {index, 0, height}};
        now_[2] = {-width / 2, height / 2, {index, -width, 0}};
        now_[3] = {-width / 2, -height / 2, {index, 0, -height}};
        reach_ = now_[0].x * now_[0].x + now_[0].y * now_[0].y;
    }
    /// Distance of the farthest corner, squared.
    double reach() const { return reach_; }
    /// Keeps what lies nearer to the point than to the neighbour.
    void by(const CellNeighbour& n) {
        const double square = n.dx * n.dx + n.dy * n.dy;
        if (square > 4 * reach_) return;
        bool any = false;
        for (std::size_t k = 0; k < count_; ++k) {
            beyond_[k] = now_[k].x * n.dx + now_[k].y * n.dy - square / 2;
            any = any || beyond_[k] > 0;
        }
        if (!any) return;
        // A straight cut of a convex cell leaves at most one corner more; roundings may leave one at every side.
        if (2 * count_ > now_.size()) now_.resize(2 * now_.size()), next_.resize(now_.size()), beyond_.resize(now_.size());
        std::size_t kept = 0;
        reach_ = 0;
        const auto keep = [&](const Corner& c) {
            next_[kept++] = c;
            reach_ = std::max(reach_, c.x * c.x + c.y * c.y);
        };
        for (std::size_t k = 0; k < count_; ++k) {
            const std::size_t following = k + 1 < count_ ? k + 1 : 0;
            const double here = beyond_[k], there = beyond_[following];
            const Corner& c = now_[k];
            if (here <= 0) keep(c);
            if ((here <= 0) == (there <= 0)) continue;
            const Corner& after = now_[following];
            const double t = here / (here - there);
            // Leaving: the new side begins here. Coming back: the old side goes on.
            keep({c.x + t * (after.x - c.x), c.y + t * (after.y - c.y), here <= 0 ? n : c.side});
        }
        now_.swap(next_), count_ = kept;
    }

private:
    double reach_ = 0;
    std::size_t count_ = 0;
    std::vector<Corner> now_ = std::vector<Corner>(32), next_ = now_;
    std::vector<double> beyond_ = std::vector<double>(32);
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
                buckets.visit(column + i, row + j, [&](int other, double x, double y) {
                    const double dx = x - p.x, dy = y - p.y;
                    if (dx * dx + dy * dy > 1e-18) cut.by({other, dx, dy});
                });
    }
}

/// Centroid relative to the point, of triangles that each weigh as the density in their middle. `corner(k)` is the kth of so
/// many, relative to the point, in order round the cell.
template <class Corner>
Point centroid(std::size_t corners, Corner&& corner, const Point& p, const CellLayout& layout) {
    Point sum{0, 0};
    double weight = 0;
    for (std::size_t k = 0; k < corners; ++k) {
        const Point a = corner(k), b = corner(k + 1 < corners ? k + 1 : 0);
        const double triangle = (a.x * b.y - b.x * a.y) / 2;
        const Point middle{(a.x + b.x) / 3, (a.y + b.y) / 3};
        const double w =
            triangle * (layout.density ? layout.density((p.x + middle.x) / layout.width, (p.y + middle.y) / layout.height) : 1.0);
        sum.x += w * middle.x, sum.y += w * middle.y;
        weight += w;
    }
    return weight > 0 ? Point{sum.x / weight, sum.y / weight} : Point{0, 0};
}

double area_of(const Cut& cut) {
    double area = 0;
    const std::span<const Cut::Corner> corners = cut.corners();
    for (std::size_t k = 0; k < corners.size(); ++k) {
        const Cut::Corner &a = corners[k], &b = corners[k + 1 < corners.size() ? k + 1 : 0];
        area += (a.x * b.y - b.x * a.y) / 2;
    }
    return area;
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

struct CellRows {
    int across, down;
};

/// Staggered rows of points with area 1 each.
CellRows rows_of(const CellLayout& layout) {
    constexpr double row_height = 0.930604859, column_width = 1.074569932;
    if (layout.width * layout.height < 1.5) return {1, 1};
    CellRows rows{std::max(1, static_cast<int>(std::lround(layout.width / column_width))),
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
    const CellRows rows = rows_of(layout);
    return rows.across * rows.down;
}

class Laying {
public:
    explicit Laying(const CellLayout& layout, const Job& job) : layout_(layout), job_(job) {}

    /// Goes on from cells that were laid with so many passes of relaxation, or begins anew.
    Cells from(const Cells* laid, int passes) {
        if (!laid) {
            points_ = scattered(layout_);
        } else {
            for (const Cell& cell : *laid) points_.push_back({cell.x, cell.y});
            // Their corners are known: the next pass needs no cutting.
            if (passes < layout_.relaxation) relax(*laid), ++passes;
        }
        for (; passes < layout_.relaxation; ++passes) relax();
        return finish();
    }

private:
    int count() const { return static_cast<int>(points_.size()); }

    void move(Point& p, const Point& way) const { p = {into(p.x + way.x, layout_.width), into(p.y + way.y, layout_.height)}; }

    void relax(const Cells& laid) {
        for_ranges(job_, count(), 256, [&](int first, int end) {
            for (auto k = static_cast<std::size_t>(first); k < static_cast<std::size_t>(end); ++k) {
                const auto corner = [&](std::size_t n) { return Point{laid[k].corner_x[n], laid[k].corner_y[n]}; };
                move(points_[k], centroid(laid[k].corner_x.size(), corner, points_[k], layout_));
            }
        });
    }

    void relax() {
        const Buckets buckets(points_, layout_.width, layout_.height);
        std::vector<Point> moved = points_;
        for_ranges(job_, count(), 64, [&](int first, int end) {
            Cut cut;
            for (int k = first; k < end; ++k) {
                const auto at = static_cast<std::size_t>(k);
                cut_cell(points_, buckets, k, layout_.width, layout_.height, cut);
                const std::span<const Cut::Corner> corners = cut.corners();
                const auto corner = [&](std::size_t n) { return Point{corners[n].x, corners[n].y}; };
                move(moved[at], centroid(corners.size(), corner, points_[at], layout_));
            }
        });
        points_ = std::move(moved);
    }

    Cells finish() const {
        constexpr int together = 128;
        const Buckets buckets(points_, layout_.width, layout_.height);
        Cells cells;
        cells.cells_.resize(points_.size());
        cells.parts_.resize((points_.size() + together - 1) / together);
        for_ranges(job_, static_cast<int>(cells.parts_.size()), 1, [&](int first, int end) {
            for (int p = first; p < end; ++p)
                finish(buckets, p * together, std::min(count(), (p + 1) * together), cells.parts_[static_cast<std::size_t>(p)],
                       cells.cells_.data());
        });
        return cells;
    }

    void finish(const Buckets& buckets, int first, int end, Cells::Part& part, Cell* cells) const {
        const auto usual = static_cast<std::size_t>(end - first) * 6;
        part.corner_x.reserve(usual), part.corner_y.reserve(usual), part.neighbours.reserve(usual);
        std::vector<std::size_t> begins;
        Cut cut;
        for (int k = first; k < end; ++k) {
            Cell& cell = cells[k];
            const Point& p = points_[static_cast<std::size_t>(k)];
            cut_cell(points_, buckets, k, layout_.width, layout_.height, cut);
            cell.x = p.x, cell.y = p.y, cell.area = area_of(cut);
            begins.push_back(part.neighbours.size());
            for (const Cut::Corner& corner : cut.corners()) {
                part.corner_x.push_back(corner.x), part.corner_y.push_back(corner.y);
                part.neighbours.push_back(corner.side);
            }
        }
        begins.push_back(part.neighbours.size());
        for (int k = first; k < end; ++k) {
            const std::size_t begin = begins[static_cast<std::size_t>(k - first)],
                              size = begins[static_cast<std::size_t>(k - first) + 1] - begin;
            cells[k].corner_x = {part.corner_x.data() + begin, size};
            cells[k].corner_y = {part.corner_y.data() + begin, size};
            cells[k].neighbours = {part.neighbours.data() + begin, size};
        }
    }

    const CellLayout& layout_;
    const Job& job_;
    std::vector<Point> points_;
};

namespace {

struct Kept {
    Key key;  ///< of everything but the relaxation
    int relaxation;
    std::shared_ptr<const Cells> cells;
};
/// The latest first.
struct KeptCells {
    std::mutex mutex;
    std::list<Kept> all;
};
/// Some 350 bytes each.
constexpr std::size_t most_cells_kept = 100000;

Key key_of(const CellLayout& layout) {
    return Key{}.add(layout.width).add(layout.height).add(layout.jitter).add(layout.seed).add(layout.density_key);
}

}  // namespace

Cells lay_cells(const CellLayout& layout, const Job& job) { return Laying(layout, job).from(nullptr, 0); }

std::shared_ptr<const Cells> kept_cells(const CellLayout& layout, const Job& job) {
    static KeptCells kept;
    if (layout.density && layout.density_key == 0) return std::make_shared<const Cells>(lay_cells(layout, job));
    const Key key = key_of(layout);
    Kept from{key, -1, nullptr};
    {
        const std::lock_guard lock(kept.mutex);
        for (auto it = kept.all.begin(); it != kept.all.end(); ++it) {
            if (it->key != key || it->relaxation > layout.relaxation || it->relaxation <= from.relaxation) continue;
            from = *it;
            kept.all.splice(kept.all.begin(), kept.all, it);
            if (from.relaxation == layout.relaxation) return from.cells;
        }
    }
    auto cells = std::make_shared<const Cells>(Laying(layout, job).from(from.cells.get(), std::max(0, from.relaxation)));
    const std::lock_guard lock(kept.mutex);
    kept.all.push_front({key, layout.relaxation, cells});
    std::size_t sum = 0;
    for (auto it = kept.all.begin(); it != kept.all.end();) {
        sum += it->cells->size();
        it = sum > most_cells_kept ? kept.all.erase(it) : std::next(it);
    }
    return cells;
}

}  // namespace loom
