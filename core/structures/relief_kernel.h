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
    float level;    ///< light that a level place gets
    float tint[3];  ///< linear colour of the light
    bool light_only;
};

/// Rows that may be read at x from -1 to width + 15 (heights) or 0 to width + 15 (all others). Null: 1 everywhere.
struct ReliefRow {
    const float *above, *here, *below;
    const float *open, *sky, *cover;
    const float* in[3];
    float* out[3];  ///< written from 0 to width - 1
    int channels, y, width;
};

void relief_row(const ReliefLight& light, const ReliefRow& row);

}  // namespace loom
