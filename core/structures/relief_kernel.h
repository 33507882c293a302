// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A row of lighting; the instruction set is chosen when the program runs.
#pragma once

namespace loom {

struct ReliefLight {
    float depth;      ///< pixels that a height of 1 stands above one of 0
    bool near;        ///< the lamp stands above the tile; otherwise light comes from one direction
    float lamp[3];    ///< distant: unit vector towards the lamp, y down; near: its place in pixels and height in pixels
    float period[2];  ///< near: size of the tile in pixels, as the nearest copy of the lamp counts
    float diffuse, shine, sharpness, strength;
    float wrap;         ///< how far light reaches round, 0..1
    float tint[3];      ///< linear colour of the lamp's light
    float ambient[3];   ///< linear light that reaches every place
    float overhead[3];  ///< linear light of the sky, for a level place that sees all of it
    float level;        ///< light that a level place gets
    enum class Outcome { times, even, light } outcome;
    bool shine_on_all;  ///< otherwise only where a place shines more than a level one
    float knee;         ///< share of what is left to white from which on highlights are compressed; 1: none are
};

/// Rows that may be read at x from -1 to width + 15 (heights) or 0 to width + 15 (all others). Null: 1 everywhere, unless said
/// otherwise.
struct ReliefRow {
    const float *above, *here, *below;
    const float *open, *sky, *cover;
    /// How objects lean by themselves where `edge` is above 0, as rises to the right and downwards of heights; null: nowhere.
    const float *edge, *own_x, *own_y;
    const float* rough;  ///< 0..1, widens highlights; null: 0
    const float* in[3];
    float* out[3];  ///< written from 0 to width - 1
    int channels, y, width;
};

void relief_row(const ReliefLight& light, const ReliefRow& row);

}  // namespace loom
