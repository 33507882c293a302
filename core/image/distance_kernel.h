// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The inner loops of the distance, for many pixels at once.
#pragma once

#include <cstddef>

namespace loom {

/// One row of a sweep along columns. `way` (pixels, at most `far`) is how far back the last crossing lies: it grows by one,
/// unless the level is crossed between `before` and `here`. All three may be read up to 16 values beyond `count`, and `way`
/// written.
void sweep_row(const float* before, const float* here, float level, float far, int count, float* way);

constexpr int envelope_block = 16;

/// out[i] = the least of k * k + squares[i + k] over |k| <= margin (and a few more). `margin` and `count` are multiples of
/// envelope_block; `squares` may be read from -margin to count + margin; `least` has room for (count + 2 margin) /
/// envelope_block.
void lower_envelope(const float* squares, int margin, int count, float* least, float* out);

/// Squares of four pixels of which some lie above the level and some do not: their left columns x < count - 1, in order, into
/// `found` (room for count + 16). Returns how many. Rows may be read up to 16 values beyond the last.
int crossing_squares(const float* top, const float* low, float level, int count, int* found);

/// A straight piece of the edge, in pixels from the first of the pixels that it may be nearest to.
struct EdgePiece {
    float ax, ay, bx, by;
};
constexpr int piece_columns = 8;

/// Makes `squares` (`rows` rows of piece_columns pixels, `stride` values apart) no greater than the squared distance to the
/// piece.
void near_piece(const EdgePiece& piece, int rows, std::ptrdiff_t stride, float* squares);

}  // namespace loom
