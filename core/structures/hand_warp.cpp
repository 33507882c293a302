// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/hand_warp.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/image/sample_kernel.h"

namespace loom {

Size warp_grid(Size tile) {
    const auto places = [](int length) { return std::clamp(length / 2, std::min(length, 256), 2048); };
    return {places(tile.width), places(tile.height)};
}

HandWarp::HandWarp(Size tile, std::uint64_t seed)
    : across(warp_grid(tile), 0.0f), down(warp_grid(tile), 0.0f), tile_(tile), grid_(warp_grid(tile)), seed_(seed) {}

HandWarp::HandWarp(Size tile, std::uint64_t seed, const Plane& x, const Plane& y)
    : across(x.clone()), down(y.clone()), tile_(tile), grid_(warp_grid(tile)), seed_(seed) {}

namespace {

/// Where a stroke reads and writes, wrapped onto the tile.
struct Reach {
    double x, y, width, height;  // of its upper left corner, and how far it goes on from there

    Reach(const Stroke& stroke, Size tile) {
        double left = 1e9, top = 1e9, right = -1e9, bottom = -1e9;
        for (const StrokePoint& p : stroke.points) {
            const double px = static_cast<double>(p.x) / StrokePoint::per_px, py = static_cast<double>(p.y) / StrokePoint::per_px;
            left = std::min(left, px), right = std::max(right, px), top = std::min(top, py), bottom = std::max(bottom, py);
        }
        // A leaning pen draws twice as long, the curve swings out between its points, and what a dab reads lies up to a step
        // farther.
        double gap = 0;
        bool leans = false;
        for (std::size_t k = 0; k < stroke.points.size(); ++k) {
            const StrokePoint& p = stroke.points[k];
            leans = leans || p.tilt_x != 0 || p.tilt_y != 0;
            if (k > 0)
                gap = std::max(gap, std::hypot(p.x - stroke.points[k - 1].x, p.y - stroke.points[k - 1].y) / StrokePoint::per_px);
        }
        const double around = (leans ? 1.0 : 0.5) * stroke.size + 0.25 * stroke.size + 8 + 0.25 * gap;
        width = right - left + 2 * around, height = bottom - top + 2 * around;
        x = left - around, y = top - around;
        x -= std::floor(x / tile.width) * tile.width, y -= std::floor(y / tile.height) * tile.height;
    }
    bool meets(const Reach& other, Size tile) const {
        const auto along = [](double a, double length_a, double b, double length_b, double period) {
            double way = b - a;
            way -= std::floor(way / period) * period;  // from a on to b
            return way < length_a || period - way < length_b;
        };
        return along(x, width, other.x, other.width, tile.width) && along(y, height, other.y, other.height, tile.height);
    }
};

}  // namespace

void HandWarp::add(const Strokes& strokes, std::size_t first, std::size_t last, const Job& job) {
    // A stroke waits for those before it that it meets; the others may be made in any order, and are made side by side.
    constexpr std::size_t window = 128;
    for (std::size_t begin = first; begin < last; begin += window) {
        std::vector<Reach> reaches;
        std::vector<std::size_t> level;
        std::vector<std::vector<std::size_t>> levels;
        for (std::size_t k = begin; k < std::min(last, begin + window); ++k) {
            reaches.emplace_back(strokes[k], tile_);
            std::size_t own = 0;
            for (std::size_t n = 0; n + 1 < reaches.size(); ++n)
                if (level[n] >= own && reaches.back().meets(reaches[n], tile_)) own = level[n] + 1;
            level.push_back(own);
            if (levels.size() <= own) levels.resize(own + 1);
            levels[own].push_back(k);
        }
        for (const auto& together : levels)
            for_ranges(job, static_cast<int>(together.size()), 1, [&](int from, int to) {
                for (int k = from; k < to; ++k) add(strokes[together[static_cast<std::size_t>(k)]], job);
            });
    }
}

void HandWarp::add(const Stroke& stroke, const Job& job) {
    if (stroke.muted) return;
    const std::vector<BrushPlace> places = dabs_along(stroke, std::max(0.5, stroke.size / 4));
    Kept kept;
    for (std::size_t k = 0; k < places.size(); ++k) {
        if (k % 64 == 0) job.check();
        const double move_x = k > 0 ? places[k].x - places[k - 1].x : 0, move_y = k > 0 ? places[k].y - places[k - 1].y : 0;
        dab(stroke, places[k], move_x, move_y, kept, job);
    }
}

namespace {

/// Smooth noise whose lattice closes over the tile; the curl of it neither gathers nor parts what it moves (Bridson and others
/// 2007).
class Eddies {
public:
    Eddies(Size tile, double size, std::uint64_t seed)
        : across_(std::max(1, static_cast<int>(std::lround(tile.width / size)))),
          down_(std::max(1, static_cast<int>(std::lround(tile.height / size)))),
          cell_x_(static_cast<double>(tile.width) / across_),
          cell_y_(static_cast<double>(tile.height) / down_),
          seed_(seed) {}

    /// About as long as 1.
    void at(double x, double y, double& vx, double& vy) const {
        const double u = x / cell_x_, v = y / cell_y_;
        const double left = std::floor(u), top = std::floor(v), s = u - left, t = v - top;
        const auto lot = [&](int dx, int dy) {
            const auto cx = static_cast<std::uint64_t>(wrap(static_cast<int>(left) + dx, across_)),
                       cy = static_cast<std::uint64_t>(wrap(static_cast<int>(top) + dy, down_));
            return 2.0 * static_cast<double>(unit_float(mix64(seed_, cy << 32 | cx))) - 1;
        };
        const double a = lot(0, 0), b = lot(1, 0), c = lot(0, 1), d = lot(1, 1);
        const auto fade = [](double w) { return w * w * w * (w * (6 * w - 15) + 10); };
        const auto slope = [](double w) { return 30 * w * w * (w - 1) * (w - 1); };
        const double fs = fade(s), ft = fade(t), mixed = a - b - c + d;
        const double rise_x = slope(s) * ((b - a) + ft * mixed), rise_y = slope(t) * ((c - a) + fs * mixed);
        vx = rise_y, vy = -rise_x;
    }

private:
    int across_, down_;
    double cell_x_, cell_y_;
    std::uint64_t seed_;
};

}  // namespace

namespace {

/// As read_bilinear does it where no place lies across the edge, which for places side by side is faster than gathering them;
/// false if one does.
bool read_inside(const float* const* planes, Size grid, const float* x, const float* y, int count, float* const* out) {
    float low_x = 1, high_x = 1, low_y = 1, high_y = 1;
    for (int i = 0; i < count; ++i) {
        low_x = std::min(low_x, x[i]), high_x = std::max(high_x, x[i]);
        low_y = std::min(low_y, y[i]), high_y = std::max(high_y, y[i]);
    }
    if (low_x < 0 || low_y < 0 || high_x >= static_cast<float>(grid.width - 1) || high_y >= static_cast<float>(grid.height - 1))
        return false;
    for (int i = 0; i < count; ++i) {
        const int left = static_cast<int>(x[i]), top = static_cast<int>(y[i]);
        const float s = x[i] - static_cast<float>(left), t = y[i] - static_cast<float>(top);
        const std::ptrdiff_t at = static_cast<std::ptrdiff_t>(top) * grid.width + left;
        for (int k = 0; k < 2; ++k) {
            const float *high = planes[k] + at, *low = high + grid.width;
            const float above = high[0] + s * (high[1] - high[0]), below = low[0] + s * (low[1] - low[0]);
            out[k][i] = above + t * (below - above);
        }
    }
    return true;
}

/// Rows that a dab works with.
class Scratch {
public:
    explicit Scratch(int columns) : width_(static_cast<std::size_t>(columns) + 16), values_(4 * width_) {}
    float* row(std::size_t index) { return values_.data() + index * width_; }

private:
    std::size_t width_;
    std::vector<float> values_;
};

enum class Tool { push, swell, turn, churn, restore };

Tool tool_of(const std::string& word) {
    return word == "push"      ? Tool::push
           : word == "turn"    ? Tool::turn
           : word == "churn"   ? Tool::churn
           : word == "restore" ? Tool::restore
                               : Tool::swell;  // and pinch, the other way round
}

}  // namespace

void HandWarp::Kept::begin(int columns, int count) {
    // Vectors may be read and written a little beyond the end.
    width = static_cast<std::size_t>(columns) + 16, height = static_cast<std::size_t>(count);
    if (rows.size() < 3 * width * height) rows.resize(3 * width * height);
}

void HandWarp::dab(const Stroke& stroke, const BrushPlace& at, double move_x, double move_y, Kept& kept, const Job& job) {
    const double radius = brush_radius(stroke, at.pressure), strength = brush_strength(stroke, at.pressure);
    const Tool tool = tool_of(stroke.tool);
    if (radius <= 0 || strength == 0 || (tool == Tool::push && move_x == 0 && move_y == 0)) return;
    const double step_x = static_cast<double>(tile_.width) / grid_.width,
                 step_y = static_cast<double>(tile_.height) / grid_.height;
    const auto soft = static_cast<float>(1 / std::clamp(stroke.softness / 100, 0.05, 1.0));
    const BrushFrame frame(at);
    const double reach = frame.xx == 1 && frame.yy == 1 ? radius : 2 * radius;
    const int left = static_cast<int>(std::floor((at.x - reach) / step_x)),
              right = static_cast<int>(std::ceil((at.x + reach) / step_x)),
              top = static_cast<int>(std::floor((at.y - reach) / step_y)),
              bottom = static_cast<int>(std::ceil((at.y + reach) / step_y));
    // A brush larger than the tile works on each place once, from where that is nearest.
    const int columns = std::min(right - left, grid_.width), rows = std::min(bottom - top, grid_.height);
    const Eddies eddies(tile_, std::max(2.0, stroke.size / 3), seed_);
    const auto grow = static_cast<float>((stroke.tool == "pinch" ? -0.09 : 0.09) * strength),
               spin = static_cast<float>(0.14 * strength);
    const auto push_x = static_cast<float>(-strength * move_x), push_y = static_cast<float>(-strength * move_y);
    const auto stir = static_cast<float>(0.05 * stroke.size * strength), hold = static_cast<float>(0.35 * std::abs(strength));
    const auto inverse = static_cast<float>(1 / (radius * radius));
    const auto to_x = static_cast<float>(1 / step_x), to_y = static_cast<float>(1 / step_y);
    const auto fxx = static_cast<float>(frame.xx), fxy = static_cast<float>(frame.xy), fyx = static_cast<float>(frame.yx),
               fyy = static_cast<float>(frame.yy);
    const float* planes[2] = {across.data(), down.data()};
    kept.begin(columns, rows);
    const auto make_row = [&](int j, Scratch& scratch) {
        const int row = wrap(top + j, grid_.height);
        const auto dy = static_cast<float>((top + j + 0.5) * step_y - at.y),
                   first = static_cast<float>((left + 0.5) * step_x - at.x), step = static_cast<float>(step_x),
                   base = static_cast<float>(left);
        float *w = kept.row(2, j), *vx = scratch.row(0), *vy = scratch.row(1), *gx = scratch.row(2), *gy = scratch.row(3);
        // Simple loops, so that the compiler makes vectors of them.
        for (int i = 0; i < columns; ++i) {
            const float dx = first + step * static_cast<float>(i), bx = fxx * dx + fxy * dy, by = fyx * dx + fyy * dy;
            const float fall = std::min(std::max(1 - std::sqrt((bx * bx + by * by) * inverse), 0.0f) * soft, 1.0f);
            w[i] = fall * fall * (3 - 2 * fall);
        }
        switch (tool) {
            case Tool::push:
                for (int i = 0; i < columns; ++i) vx[i] = w[i] * push_x, vy[i] = w[i] * push_y;
                break;
            case Tool::swell:
                for (int i = 0; i < columns; ++i)
                    vx[i] = -(first + step * static_cast<float>(i)) * grow * w[i], vy[i] = -dy * grow * w[i];
                break;
            case Tool::turn:
                // Where what is here now was before it was turned against the clock; y points down.
                for (int i = 0; i < columns; ++i) {
                    const float dx = first + step * static_cast<float>(i), c = std::cos(spin * w[i]), s = std::sin(spin * w[i]);
                    vx[i] = dx * c - dy * s - dx, vy[i] = dx * s + dy * c - dy;
                }
                break;
            case Tool::churn:
                for (int i = 0; i < columns; ++i) {
                    double ex = 0, ey = 0;
                    if (w[i] > 0) eddies.at((left + i + 0.5) * step_x, (top + j + 0.5) * step_y, ex, ey);
                    vx[i] = static_cast<float>(ex) * stir * w[i], vy[i] = static_cast<float>(ey) * stir * w[i];
                }
                break;
            case Tool::restore:
                for (int i = 0; i < columns; ++i) vx[i] = vy[i] = 0;
                break;
        }
        for (int i = 0; i < columns; ++i) {
            gx[i] = base + static_cast<float>(i) + vx[i] * to_x;
            gy[i] = static_cast<float>(row) + vy[i] * to_y;
        }
        float* out[2] = {kept.row(0, j), kept.row(1, j)};
        // Only where the brush reaches.
        int from = 0, to = columns;
        while (from < to && w[from] <= 0) ++from;
        while (to > from && w[to - 1] <= 0) --to;
        float* within[2] = {out[0] + from, out[1] + from};
        if (!read_inside(planes, grid_, gx + from, gy + from, to - from, within))
            read_bilinear(planes, 2, PlaneRows(grid_), gx + from, gy + from, to - from, within);
        if (tool == Tool::restore) {
            for (int i = 0; i < columns; ++i) {
                const float keep = 1 - std::min(1.0f, hold * w[i]);
                out[0][i] *= keep, out[1][i] *= keep;
            }
        } else {
            for (int i = 0; i < columns; ++i) out[0][i] += vx[i], out[1][i] += vy[i];
        }
    };
    // A dab is small: more than two hands would wait for each other longer than they work.
    for_ranges(job, rows, std::max(48, (rows + 1) / 2), [&](int from, int to) {
        Scratch scratch(columns);
        for (int j = from; j < to; ++j) make_row(j, scratch);
    });
    // All places have read what was there before any is changed; those that the brush does not reach stay as they are.
    for (int j = 0; j < rows; ++j) {
        const int row = wrap(top + j, grid_.height);
        const float *x = kept.row(0, j), *y = kept.row(1, j), *w = kept.row(2, j);
        float *to_across = across.row(row), *to_down = down.row(row);
        for (int i = 0, column = wrap(left, grid_.width); i < columns; ++i, column = column + 1 == grid_.width ? 0 : column + 1)
            if (w[i] > 0) to_across[column] = x[i], to_down[column] = y[i];
    }
}

}  // namespace loom
