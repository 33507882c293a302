// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/line_average.h"

#include <algorithm>
#include <cmath>

#include "core/image/transposed.h"
#include "core/image/line_kernel.h"

namespace loom {

namespace {

constexpr double pi = 3.14159265358979323846;
constexpr int block = 256;  // columns that are summed side by side
constexpr int phases = 4;   // lines per pixel
constexpr double short_line = 16;

/// Rows with `block` + 1 more columns that repeat the first ones, so that runs never have to wrap.
Plane padded(const Plane& plane, const Job& job) {
    Plane out(Size{plane.width() + block + 1, plane.height()}, plane.rows());
    for_rows(job, out, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* in = plane.row(y);
            float* row = out.row(y);
            for (int x = 0; x < out.width(); ++x) row[x] = in[x < plane.width() ? x : x % plane.width()];
        }
    });
    return out;
}

/// The window of line_weights as running sums: a plain one and, for the bell, two that turn (a raised cosine is a
/// constant plus a cosine, whose windowed sum can be carried along by rotation).
struct Window {
    int reach = 0;   // whole steps that count fully (even) or by the bell
    double end = 0;  // weight of the sample one step further, even only
    double norm = 1;
    double turn = 0;  // bell: radians per step
    bool bell = false;

    Window(double half, Falloff falloff) : bell(falloff == Falloff::bell) {
        if (bell) {
            reach = static_cast<int>(std::floor(half));
            turn = pi / (half + 0.5);
            double sum = 0;
            for (int k = -reach; k <= reach; ++k) sum += 0.5 + 0.5 * std::cos(turn * k);
            norm = 1 / sum;
        } else {
            const double inner = std::max(0.5, half);
            reach = static_cast<int>(std::floor(inner - 0.5));
            end = inner - 0.5 - reach;
            norm = 1 / (2 * inner);
        }
    }
};

class Sheared {
public:
    Sheared(const Plane& source, const Plane& wide, double slope, const Window& window)
        : height_(source.height()), width_(source.width()), wide_(wide), slope_(slope), window_(window) {}

    /// Adds the lines of one phase that run through columns [first, first + count) to the rows of a block of `out`.
    void add(int phase, int first, int count, Rows block_rows, Plane& out) const {
        double plain[block], turned[block], side[block], line[block], entering[block];
        std::fill_n(plain, count, 0.0), std::fill_n(turned, count, 0.0), std::fill_n(side, count, 0.0);
        const int reach = window_.reach;
        for (int k = -reach; k <= reach; ++k) {
            read(phase, first, count, block_rows.first + k, line);
            const double c = std::cos(window_.turn * k), s = std::sin(window_.turn * k);
            for (int i = 0; i < count; ++i) plain[i] += line[i];
            if (window_.bell)
                for (int i = 0; i < count; ++i) turned[i] += c * line[i], side[i] += s * line[i];
        }
        const LineTurn turn{std::cos(window_.turn), std::sin(window_.turn), std::cos(window_.turn * reach),
                            std::sin(window_.turn * reach)};
        for (int y = block_rows.first; y < block_rows.end(); ++y) {
            emit(phase, first, count, y, plain, turned, out);
            // Move the window one row on: the oldest row leaves, all turn by one step, the next row enters.
            read(phase, first, count, y - reach, line);
            read(phase, first, count, y + reach + 1, entering);
            line_move(plain, entering, line, count);
            if (window_.bell) line_turn(turned, side, entering, line, turn, count);
        }
    }

private:
    /// Row `y` (any number of tiles away) where the lines of this phase cross it.
    void read(int phase, int first, int count, int y, double* line) const {
        const double shift = slope_ * y + static_cast<double>(phase) / phases;
        const double whole = std::floor(shift);
        const double t = shift - whole;
        const int start = wrap(first + static_cast<int>(std::fmod(whole, width_)), width_);
        const float* row = wide_.row(wrap(y, height_)) + start;
        line_read(row, t, count, line);
    }

    /// Writes the lines' share of row `y`: pixels lie between two lines, weighted by nearness.
    void emit(int phase, int first, int count, int y, const double* plain, const double* turned, Plane& out) const {
        const double lines = -slope_ * y * phases;
        const double whole = std::floor(lines);
        const double t = lines - whole;
        for (int next = 0; next <= 1; ++next) {
            const double weight = next ? t : 1 - t;
            const double index = whole + next;
            if (weight == 0 || static_cast<int>(index - phases * std::floor(index / phases)) != phase) continue;
            // The bell is half a constant and half a cosine; an even window counts the samples beyond its ends in part.
            double before[block], after[block];
            double share = window_.bell ? 0.5 : window_.end, factor = weight * window_.norm * (window_.bell ? 0.5 : 1);
            const double *more = turned, *others = turned;
            if (!window_.bell && window_.end > 0) {
                read(phase, first, count, y - window_.reach - 1, before);
                read(phase, first, count, y + window_.reach + 1, after);
                more = before, others = after;
            }
            float* row = out.row(y);
            const int x = wrap(first - static_cast<int>(std::fmod(std::floor(index / phases), width_)), width_);
            const int whole_part = std::min(count, width_ - x);
            line_add(row + x, factor, plain, share, more, others, whole_part);
            line_add(row, factor, plain + whole_part, share, more + whole_part, others + whole_part, count - whole_part);
        }
    }

    int height_, width_;
    const Plane& wide_;
    double slope_;
    const Window& window_;
};

/// Blocks begin with a whole window; they are long enough for that to cost little.
int block_length(const Window& window) { return std::max(256, 2 * window.reach + 1); }

/// Exactly upright lines of columns [first, first + count): no line lies between columns.
void upright_block(const Plane& plane, const Window& window, int first, int count, Rows rows, Plane& out) {
    double plain[block] = {}, turned[block] = {}, side[block] = {};
    const UprightSums sums{plain, turned, side};
    auto row = [&](int y) { return plane.row(wrap(y, plane.height())) + first; };
    const int reach = window.reach;
    for (int k = -reach; k <= reach; ++k)
        upright_add(row(rows.first + k), std::cos(window.turn * k), std::sin(window.turn * k), window.bell, count, sums);
    const LineTurn turn{std::cos(window.turn), std::sin(window.turn), std::cos(window.turn * reach),
                        std::sin(window.turn * reach)};
    for (int y = rows.first; y < rows.end(); ++y)
        upright_step(row(y - reach), row(y + reach + 1), window.bell ? nullptr : row(y - reach - 1),
                     window.bell ? nullptr : row(y + reach + 1), window.norm * (window.bell ? 0.5 : 1.0),
                     window.bell ? 0.5 : window.end, window.bell ? &turn : nullptr, count, sums, out.row(y) + first);
}

/// `dy` >= `dx` in size. The source plane is sheared so that lines stand upright, by whole tiles at the edges.
Plane steep_average(const Plane& plane, double dx, double dy, Falloff falloff, Rows wanted, const Job& job) {
    const Window window(std::abs(dy) / 2, falloff);
    const double slope = dy == 0 ? 0 : dx / dy;
    const int length = block_length(window), skipped = wanted.first / length,
              blocks = (wanted.end() + length - 1) / length - skipped, columns = (plane.width() + block - 1) / block;
    Plane out(plane.size(), wanted);
    auto for_blocks = [&](auto&& body) {
        for_ranges(job, blocks * columns, 1, [&](int from, int to) {
            for (int k = from; k < to; ++k) {
                const int top = (k / columns + skipped) * length, left = k % columns * block;
                body(left, std::min(block, plane.width() - left), Rows{top, std::min(length, wanted.end() - top)});
            }
        });
    };
    if (slope == 0) {
        for_blocks([&](int left, int count, Rows rows) { upright_block(plane, window, left, count, rows, out); });
        return out;
    }
    std::fill_n(out.data(), out.count(), 0.0f);
    const Plane wide = padded(plane, job);
    const Sheared lines(plane, wide, slope, window);
    // One phase after the other: two phases may add to the same pixel, two blocks of one phase never do.
    for (int phase = 0; phase < phases; ++phase)
        for_blocks([&](int left, int count, Rows rows) { lines.add(phase, left, count, rows, out); });
    return out;
}

/// Sample by sample. For short lines this is fast enough, and it spares what reading between lines softens.
Plane short_average(const Plane& plane, double dx, double dy, Falloff falloff, Rows wanted, const Job& job) {
    const bool steep = std::abs(dy) >= std::abs(dx);
    const auto weights = line_weights((steep ? std::abs(dy) : std::abs(dx)) / 2, falloff);
    const double slope = steep ? (dy == 0 ? 0 : dx / dy) : dy / dx;
    const int reach = static_cast<int>(weights.size()) - 1;
    Plane out(plane.size(), wanted, 0.0f);
    for_rows(job, out, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int k = -reach; k <= reach; ++k) {
                const double side = k * slope, whole = std::floor(side);
                const auto t = static_cast<float>(side - whole),
                           weight = static_cast<float>(weights[static_cast<std::size_t>(std::abs(k))]);
                const int across = steep ? static_cast<int>(whole) : k, down = steep ? k : static_cast<int>(whole);
                const float* near = plane.row(wrap(y + down, plane.height()));
                const float* far = plane.row(wrap(y + down + (steep ? 0 : 1), plane.height()));
                float* row = out.row(y);
                int from = wrap(across, plane.width()), next = steep ? wrap(across + 1, plane.width()) : from;
                for (int x = 0; x < plane.width(); ++x) {
                    row[x] += weight * (near[from] + t * (far[next] - near[from]));
                    if (++from == plane.width()) from = 0;
                    if (++next == plane.width()) next = 0;
                }
            }
    });
    return out;
}

}  // namespace

std::vector<double> line_weights(double half_steps, Falloff falloff) {
    const Window window(half_steps, falloff);
    std::vector<double> weights;
    for (int k = 0; k <= window.reach; ++k)
        weights.push_back(window.norm * (window.bell ? 0.5 + 0.5 * std::cos(window.turn * k) : 1.0));
    if (!window.bell && window.end > 0) weights.push_back(window.norm * window.end);
    return weights;
}

namespace {

/// A hair's breadth off the axis is the axis; it keeps exact directions exact and fast. The longest of the two comes back.
double upon_axes(double& dx, double& dy) {
    const double longest = std::max(std::abs(dx), std::abs(dy));
    if (std::abs(dx) < 1e-9 * longest) dx = 0;
    if (std::abs(dy) < 1e-9 * longest) dy = 0;
    return longest;
}

}  // namespace

Footprint line_footprint(double dx, double dy, Falloff falloff, Size size) {
    const double longest = upon_axes(dx, dy);
    const int reach_x = static_cast<int>(std::ceil(std::abs(dx) / 2)) + 1,
              reach_y = static_cast<int>(std::ceil(std::abs(dy) / 2)) + 1;
    if (longest <= short_line) return Footprint::near(reach_x, reach_y);
    if (std::abs(dy) < std::abs(dx)) return dy == 0 ? Footprint::rows() : Footprint::whole();
    const Footprint steep = Footprint::near(reach_x + 1, reach_y, block_length(Window(std::abs(dy) / 2, falloff)));
    return steep.block < size.height ? steep : Footprint::whole();
}

int line_scratch(double dx, double dy) {
    // Short and upright lines are summed where they are, sloped ones in a wider picture, and those that lie across in turned
    // ones.
    return upon_axes(dx, dy) <= short_line || dx == 0 ? 0 : 2;
}

Plane line_average(const Plane& plane, double dx, double dy, Falloff falloff, Rows rows, const Job& job) {
    const double longest = upon_axes(dx, dy);
    if (longest <= short_line) return short_average(plane, dx, dy, falloff, rows, job);
    if (std::abs(dy) >= std::abs(dx)) return steep_average(plane, dx, dy, falloff, rows, job);
    // Lines that lie across stand upright in the transposed picture; a band of rows is one by itself, as they keep to their rows.
    const Plane turned = transposed(plane, job);
    return transposed(steep_average(turned, dy, dx, falloff, {0, turned.height()}, job), plane.size(), rows, job);
}

double falloff_curve(std::size_t falloff, double x) {
    constexpr double half_steps = 32;
    const auto height = [&](Falloff of, double away) {
        const std::vector<double> weights = line_weights(half_steps, of);
        const auto k = static_cast<std::size_t>(away);
        return k < weights.size() ? weights[k] : 0.0;
    };
    // A little beyond both ends, so that they are seen.
    return height(static_cast<Falloff>(falloff), std::abs(2 * x - 1) * half_steps * 1.2) / height(Falloff::bell, 0);
}

}  // namespace loom
