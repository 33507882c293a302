// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/distance.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <vector>

#include "core/image/distance_kernel.h"
#include "core/image/transposed.h"

namespace loom {

namespace {

/// Up to here all pixels of a window are compared at once; beyond, the envelope is built parabola by parabola.
constexpr int window_reach = 48;

/// Share of the way from `a` to `b` where the level is crossed; it is if they lie on different sides.
bool crosses(float a, float b, float level, float& share) {
    if ((a > level) == (b > level)) return false;
    share = (level - a) / (b - a);
    return true;
}

/// Squared distance along each column to the nearest crossing on it, at most `far` squared. Columns are worked on side by side.
Plane along_columns(const Plane& plane, float level, float far, const Job& job) {
    const Size size = plane.size();
    Plane out(size);
    constexpr int together = 64;
    for_ranges(job, size.width, together, [&](int left, int right) {
        float since[together];
        const auto sweep = [&](int begin, int step, bool first) {
            std::fill_n(since, together, far);
            // A whole turn to find what lies before the beginning, and a second one that counts.
            for (int turn = 0; turn < 2; ++turn)
                for (int n = 0; n < size.height; ++n) {
                    const int y = wrap(begin + n * step, size.height);
                    const float *here = plane.row(y), *before = plane.row(wrap(y - step, size.height));
                    float* to = out.row(y);
                    for (int x = left; x < right; ++x) {
                        float share = 0, &way = since[x - left];
                        way = std::min(way + 1, far);
                        if (crosses(before[x], here[x], level, share)) way = 1 - share;
                        if (turn == 1) to[x] = first ? way : std::min(to[x], way);
                    }
                }
        };
        sweep(0, 1, true);
        sweep(size.height - 1, -1, false);
    });
    for_values(job, out, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) out.data()[i] *= out.data()[i];
    });
    return out;
}

/// Felzenszwalb & Huttenlocher's envelope of parabolas over a row that is repeated on both sides.
class Parabolas {
public:
    void envelope(const float* squares, int count, int margin, float* out) {
        at_.clear(), from_.clear();
        auto value = [&](int x) { return static_cast<double>(squares[wrap(x, count)]); };
        for (int x = -margin; x < count + margin; ++x) {
            double start = -std::numeric_limits<double>::infinity();
            while (!at_.empty()) {
                const int last = at_.back();
                start = ((value(x) + 1.0 * x * x) - (value(last) + 1.0 * last * last)) / (2.0 * (x - last));
                if (start > from_.back()) break;
                at_.pop_back(), from_.pop_back();
                start = -std::numeric_limits<double>::infinity();
            }
            at_.push_back(x), from_.push_back(start);
        }
        std::size_t k = 0;
        for (int x = 0; x < count; ++x) {
            while (k + 1 < at_.size() && from_[k + 1] <= x) ++k;
            const double dx = x - at_[k];
            out[x] = static_cast<float>(dx * dx + value(at_[k]));
        }
    }

private:
    std::vector<int> at_;
    std::vector<double> from_;
};

/// Squared distances along columns become squared distances in the plane.
void across_rows(Plane& squares, double reach, const Job& job) {
    const int width = squares.width(), margin = std::min(static_cast<int>(std::ceil(reach)), width);
    for_rows(job, squares, [&](int first, int last) {
        constexpr int room = 32;
        std::vector<float> padded(static_cast<std::size_t>(width + 2 * margin + room)),
            made(static_cast<std::size_t>(width + room));
        Parabolas parabolas;
        for (int y = first; y < last; ++y) {
            float* row = squares.row(y);
            if (margin > window_reach) {
                parabolas.envelope(row, width, margin, made.data());
            } else {
                for (int x = -margin; x < width + margin; ++x) padded[static_cast<std::size_t>(x + margin)] = row[wrap(x, width)];
                lower_envelope(padded.data() + margin, margin, width, made.data());
            }
            std::copy_n(made.begin(), width, row);
        }
    });
}

struct Point {
    float x, y;
};

/// The pieces of the edge within the square whose first corner is (x, y); at most two, as pairs of points.
int pieces_in(const Plane& plane, int x, int y, float level, Point out[4]) {
    const Size size = plane.size();
    const float* top = plane.row(wrap(y, size.height));
    const float* low = plane.row(wrap(y + 1, size.height));
    const int l = wrap(x, size.width), r = wrap(x + 1, size.width);
    const float a = top[l], b = top[r], c = low[r], d = low[l];
    Point found[4];
    int count = 0;
    float t = 0;
    const auto fx = static_cast<float>(x), fy = static_cast<float>(y);
    if (crosses(a, b, level, t)) found[count++] = {fx + t, fy};
    if (crosses(b, c, level, t)) found[count++] = {fx + 1, fy + t};
    if (crosses(d, c, level, t)) found[count++] = {fx + t, fy + 1};
    if (crosses(a, d, level, t)) found[count++] = {fx, fy + t};
    if (count == 4 && ((a + b + c + d) / 4 > level) == (a > level)) {
        // A saddle: the middle says which corners belong together.
        out[0] = found[0], out[1] = found[1], out[2] = found[2], out[3] = found[3];
        return 2;
    }
    if (count == 4) {
        out[0] = found[0], out[1] = found[3], out[2] = found[1], out[3] = found[2];
        return 2;
    }
    if (count == 2) out[0] = found[0], out[1] = found[1];
    return count / 2;
}

float square_to_piece(float px, float py, Point a, Point b) {
    const float dx = b.x - a.x, dy = b.y - a.y, length = dx * dx + dy * dy;
    const float t = length > 0 ? std::clamp(((px - a.x) * dx + (py - a.y) * dy) / length, 0.0f, 1.0f) : 0.0f;
    const float ox = px - a.x - t * dx, oy = py - a.y - t * dy;
    return ox * ox + oy * oy;
}

/// Near the edge its straight pieces count.
void refine(const Plane& plane, float level, Plane& squares, const Job& job) {
    const Size size = plane.size();
    for_ranges(job, size.height, 32, [&](int first, int last) {
        for (int y = first - near_px - 1; y < last + near_px; ++y) {
            const float *top = plane.row(wrap(y, size.height)), *low = plane.row(wrap(y + 1, size.height));
            for (int x = 0; x < size.width; ++x) {
                const int r = x + 1 < size.width ? x + 1 : 0;
                const bool side = top[x] > level;
                if ((top[r] > level) == side && (low[x] > level) == side && (low[r] > level) == side) continue;
                Point points[4];
                const int pieces = pieces_in(plane, x, y, level, points);
                for (int v = std::max(first, y - near_px); v < std::min(last, y + near_px + 2); ++v)
                    for (int u = x - near_px; u <= x + near_px + 1; ++u) {
                        float& square = squares.row(v)[wrap(u, size.width)];
                        for (int k = 0; k < pieces; ++k)
                            square = std::min(square, square_to_piece(static_cast<float>(u), static_cast<float>(v), points[2 * k],
                                                                      points[2 * k + 1]));
                    }
            }
        }
    });
}

}  // namespace

Plane distance_to_level(const Plane& plane, float level, double reach, const Job& job) {
    const Size size = plane.size();
    const auto far = static_cast<float>(reach + 1);
    Plane squares = along_columns(plane, level, far, job);
    across_rows(squares, reach, job);
    {
        // The same for crossings on rows, in the transposed picture.
        Plane turned = along_columns(transposed(plane, job), level, far, job);
        across_rows(turned, reach, job);
        const Plane back = transposed(turned, size, {0, size.height}, job);
        for_values(job, squares, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) squares.data()[i] = std::min(squares.data()[i], back.data()[i]);
        });
    }
    refine(plane, level, squares, job);
    const auto most = static_cast<float>(reach);
    for_values(job, squares, [&](std::size_t first, std::size_t last) {
        const float* in = plane.data();
        float* out = squares.data();
        for (std::size_t i = first; i < last; ++i) {
            const float way = std::min(std::sqrt(out[i]), most);
            out[i] = in[i] > level ? way : -way;
        }
    });
    return squares;
}

}  // namespace loom
