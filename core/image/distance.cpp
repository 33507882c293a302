// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/distance.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/image/distance_kernel.h"
#include "core/image/squares.h"
#include "core/image/transposed.h"

namespace loom {

namespace {

/// Squared distance along each column to the nearest crossing on it, at most `far` squared. Columns are worked on side by side,
/// in pieces that stay in the cache between the two sweeps.
Plane along_columns(const Plane& plane, float level, float far, const Job& job) {
    const Size size = plane.size();
    Plane out(size);
    constexpr int wide = 256;
    // Nothing farther outside of a piece than this shows in it.
    const int around = std::min(static_cast<int>(std::ceil(std::min(far, 1e6f))) + 1, size.height);
    const int high = std::min(std::max(256, 4 * around), size.height);
    const int across = (size.width + wide - 1) / wide, down = (size.height + high - 1) / high;
    for_ranges(job, across * down, 1, [&](int piece, int) {
        const int left = piece % across * wide, count = std::min(wide, size.width - left);
        const int top = piece / across * high, bottom = std::min(top + high, size.height);
        float way[wide + 16];
        const float* before = nullptr;
        const auto begin = [&](int y) {
            std::fill_n(way, wide + 16, far);
            before = plane.row(wrap(y, size.height)) + left;
        };
        const auto step = [&](int y) {
            const float* here = plane.row(wrap(y, size.height)) + left;
            sweep_row(before, here, level, far, count, way);
            before = here;
        };
        begin(top - around);
        for (int y = top - around + 1; y < bottom; ++y) {
            step(y);
            if (y >= top) std::copy_n(way, count, out.row(y) + left);
        }
        begin(bottom - 1 + around);
        for (int y = bottom - 2 + around; y >= top; --y) {
            step(y);
            if (y >= bottom) continue;
            float* to = out.row(y) + left;
            for (int x = 0; x < count; ++x) {
                const float least = std::min(to[x], way[x]);
                to[x] = least * least;
            }
        }
    });
    return out;
}

/// Squared distances along columns become squared distances in the plane.
void across_rows(Plane& squares, double reach, const Job& job) {
    const auto in_blocks = [](int count) { return (count + envelope_block - 1) / envelope_block * envelope_block; };
    const int width = squares.width(), room = in_blocks(width);
    // No column is farther away than half a tile.
    const int margin = in_blocks(std::min(static_cast<int>(std::min(std::ceil(reach), 1e6)), width / 2 + 1));
    for_rows(job, squares, [&](int first, int last) {
        std::vector<float> padded(static_cast<std::size_t>(room + 2 * margin)), made(static_cast<std::size_t>(room)),
            least(padded.size() / envelope_block);
        for (int y = first; y < last; ++y) {
            float* row = squares.row(y);
            for (int x = -margin; x < room + margin;) {
                const int from = wrap(x, width), count = std::min(width - from, room + margin - x);
                std::copy_n(row + from, count, padded.data() + margin + x);
                x += count;
            }
            lower_envelope(padded.data() + margin, margin, room, least.data(), made.data());
            std::copy_n(made.begin(), width, row);
        }
    });
}

/// Squared distances to the straight pieces that are within near_px of some rows; as far as `far` elsewhere.
class Strip {
public:
    Strip(const Plane& plane, float level, float far)
        : plane_(plane),
          level_(level),
          far_(far),
          stride_(plane.width() + piece_columns - 1),
          squares_(static_cast<std::size_t>(stride_) * rows_at_once),
          crossings_(static_cast<std::size_t>(plane.width()) + 16) {}

    static constexpr int rows_at_once = 32;

    void measure(int first, int last) {
        std::fill(squares_.begin(), squares_.end(), far_ * far_);
        for (int y = first - near_px - 1; y < last + near_px; ++y) {
            const int width = plane_.width(), height = plane_.height();
            const float *top = plane_.row(wrap(y, height)), *low = plane_.row(wrap(y + 1, height));
            // The last square joins the last column to the first.
            int count = crossing_squares(top, low, level_, width, crossings_.data());
            crossings_[static_cast<std::size_t>(count++)] = width - 1;
            const int begin = std::max(first, y - near_px), end = std::min(last, y + near_px + 2);
            const auto down = static_cast<float>(y - begin);
            float* rows = squares_.data() + (begin - first) * stride_;
            for (int n = 0; n < count; ++n) {
                const int x = crossings_[static_cast<std::size_t>(n)], right = x + 1 < width ? x + 1 : 0;
                SquareCrossing points[4];
                const int pieces = pieces_between({top[x], top[right], low[right], low[x]}, level_, points);
                for (int k = 0; k < pieces; ++k) {
                    const SquareCrossing a = points[2 * k], b = points[2 * k + 1];
                    near_piece({a.x + near_px, a.y + down, b.x + near_px, b.y + down}, end - begin, stride_, rows + x);
                }
            }
        }
    }

    /// Row `n` of those measured, what hangs over the tile's edges brought back.
    const float* row(int n) {
        const int width = plane_.width();
        float* from = squares_.data() + n * stride_;
        float* inside = from + near_px;
        for (int x = -near_px; x < stride_ - near_px; x = x + 1 == 0 ? width : x + 1) {
            float& to = inside[wrap(x, width)];
            to = std::min(to, inside[x]);
        }
        return inside;
    }

private:
    const Plane& plane_;
    float level_, far_;
    std::ptrdiff_t stride_;
    std::vector<float> squares_;
    std::vector<int> crossings_;
};

}  // namespace

Plane distance_to_level(const Plane& plane, float level, double reach, const Job& job) {
    const Size size = plane.size();
    const auto far = static_cast<float>(reach + 1), most = static_cast<float>(reach);
    // The same twice: crossings on columns, and those on rows in the transposed picture.
    Plane squares = along_columns(plane, level, far, job);
    across_rows(squares, reach, job);
    Plane turned = along_columns(transposed(plane, job), level, far, job);
    across_rows(turned, reach, job);
    turned = transposed(turned, size, {0, size.height}, job);
    for_ranges(job, size.height, Strip::rows_at_once, [&](int first, int last) {
        Strip strip(plane, level, far);
        strip.measure(first, last);
        for (int y = first; y < last; ++y) {
            const float *in = plane.row(y), *across = turned.row(y), *near = strip.row(y - first);
            float* out = squares.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float way = std::min(std::sqrt(std::min(std::min(out[x], across[x]), near[x])), most);
                out[x] = in[x] > level ? way : -way;
            }
        }
    });
    return squares;
}

}  // namespace loom
