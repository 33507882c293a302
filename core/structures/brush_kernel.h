// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How strongly a brush works along a piece of its way; the instruction set is chosen when the program runs.
#pragma once

namespace loom {

/// From one place to the next, in a frame in which the brush is round.
struct BrushPiece {
    float x0, y0, x1, y1;
    float radius0, radius1;
    float strength0, strength1;
    float soft;  ///< share of the radius over which it fades out, above 0
};

/// out[k] = the larger of itself and what the brush does at (x + k dx, y + k dy), k from 0 to count - 1.
void brush_row(const BrushPiece& piece, float x, float y, float dx, float dy, int count, float* out);

}  // namespace loom
