// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops over rows of stone veins, compiled for each instruction set.
#pragma once

namespace loom {

/// A piece of a vein's middle line, as one row of its net sees it.
struct VeinPiece {
    float x, y;    ///< from its start to pixel 0 of the row
    float wx, wy;  ///< its way, pixels
    float strength, sign;
    float smoke_reach;  ///< pixels in which smoke gets fainter, on its far side; 0: there is none
};
/// Columns from..to: the distance where this piece is nearer, the same with the side as its sign, and its strength; and where
/// its smoke is denser, the smoke.
void vein_piece_row(const VeinPiece& piece, int from, int to, float* distance, float* sided, float* strength, float* smoke);

/// distance = the one with a side where both agree that a vein passes, without its sign.
void vein_distances(const float* sided, int count, float* distance);

/// x = start + step * column + du * across, y = row + dv * down.
void vein_places(const float* du, const float* dv, int count, float start, float step, float across, float row, float down,
                 float* x, float* y);

/// How wide veins are drawn.
struct VeinPen {
    float width;  ///< half of the widest, pixels
    float far;    ///< pixels from a vein beyond which nothing is drawn
    float scale;  ///< pixels of the picture in one of the net
};
/// wide = how much wider than usual veins are, from a noise of deviation 1 and how much it changes them.
void vein_widths(const float* noise, int count, float spread, float* wide);
/// The smallest of some values.
float vein_least(const float* values, int count);
/// Raises `row` to the lines of a net: `distance` in its pixels, `thinner` and `share` of their width and strength; the weakest
/// have `weakest` of the strongest. `open` is a noise that says how much of them is seen; may be null.
void vein_lines(const VeinPen& pen, const float* distance, const float* strength, const float* wide, const float* open, int count,
                float thinner, float share, float weakest, float* row);
/// Raises `row` to smoke that is uneven by a noise.
void vein_smoke(const float* smoke, const float* uneven, int count, float* row);
/// Raises `row` to the zero lines of a noise, `wide` pixels wide, where another lets them; the noise goes one value beyond
/// `count`.
void vein_hairs(const float* here, const float* below, const float* uneven, int count, float wide, float share, float* row);

}  // namespace loom
