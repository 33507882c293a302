// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops of following lines, built once for every instruction set. All arrays hold `count` entries where nothing else
// is said.
#pragma once

namespace loom {

/// Turns unit steps to the directions of half the angle given by cosine and sine, whichever way lies nearer to where they went.
void stream_turn(const float* cosine, const float* sine, int count, float* dx, float* dy);
/// x += stride * dx, y += stride * dy.
void stream_move(float stride, const float* dx, const float* dy, int count, float* x, float* y);
/// What lies between the points of a grid, for pixels from..to - 1 of `pixels` of a row: out[x - from] = start + slope * x +
/// the value there, by straight lines. points[0] is where the cell of pixel `from` begins (see expanded_cell), then one for each
/// cell on. `out` is longer than the pixels by stream_padding.
struct StreamSpan {
    int cells, pixels, from, to;
};
void stream_expand(const float* points, const StreamSpan& span, float start, float slope, float* out);
/// The cell that pixel x lies in, counted from the one before the first grid point's.
inline int expanded_cell(const StreamSpan& span, int x) {
    return static_cast<int>((static_cast<float>(x) + 0.5f) * static_cast<float>(span.cells) / static_cast<float>(span.pixels) +
                            0.5f);
}
constexpr int stream_padding = 16;
/// sums = weight * (here + one + other).
void stream_three(float weight, const float* here, const float* one, const float* other, int count, float* sums);
/// sums += weight * values.
void stream_add(float weight, const float* values, int count, float* sums);

}  // namespace loom
