// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops over a row of cloth, compiled for each instruction set.
#pragma once

#include "core/structures/yarns.h"

namespace loom {

/// What the pixels of a row show: the yarn on top and the one behind it. Yarns are numbers, warps first, below 0 none. All
/// arrays have room for 16 values more.
struct WovenRow {
    int count;
    const float *across, *down;            ///< places in pitches of the warp and of the weft
    const float *along_warp, *along_weft;  ///< crossings along a warp and along a weft, within their numbers
    float *yarn, *z, *d;                   ///< on top: its height, and the place across it, -1..1
    float *yarn_behind, *z_behind, *d_behind;
};

/// A row that shows nothing yet; along is worked out from places and numbers of crossings.
void begin_row(const WovenRow& row, float warp_crossings, float weft_crossings, float* along_warp, float* along_weft);

/// The least and the greatest place down of columns from..to.
struct Reach {
    float low, high;
};
Reach reach_down(const WovenRow& row, int from, int to);

/// How thick a yarn is.
struct YarnBody {
    float half;   ///< half its width, pitches
    float thick;  ///< its height
    float lift;   ///< of all yarns of its direction
    float edge;   ///< how far it is looked at beside itself, beside its half width: half a pixel, for a soft edge
};

/// Shows a yarn of one place whose middle line is at `middle` in pitches across, at columns from..to.
void show_upright(const WovenRow& row, int from, int to, float yarn, float middle, const YarnPlace& place, const YarnBody& body);
/// Shows a yarn that runs along the row, with its middle line at `middle` in pitches down.
void show_lying(const WovenRow& row, int from, int to, float yarn, float middle, const Yarns& yarns, int number,
                const YarnBody& body);

/// Where twist is read: u goes across the fibres as they lean, v along them. `lots_u`, `lots_v`: where each yarn begins.
struct TwistPlaces {
    int warps;                     ///< yarns below this are warps
    float warp_turns, weft_turns;  ///< of a crossing
    float warp_lean, weft_lean;    ///< crossings that a fibre goes along on a quarter of its way round
    const float *lots_u, *lots_v;
};
void twist_row(const WovenRow& row, const TwistPlaces& places, float* u, float* v);

struct WovenLook {
    int warps;
    float warp_colour[3], weft_colour[3], gap_colour[3];
    float warp_worn[3], weft_worn[3];  ///< what they are worn to
    float warp_pixels, weft_pixels;    ///< half the width of a yarn, pixels
    float dye, fade;
    float sunk;                                          ///< how much less light there is where yarns dip
    float warp_twist, weft_twist, warp_hair, weft_hair;  ///< how clearly twist and fine fibres show
    float low, span;                                     ///< heights from -low to span - low are shown as 0..1
    const float* lots_dye;
};
/// Colours and height (may be null) of a row from twist and fuzz, noises of deviation 1.
void shade_row(const WovenRow& row, const WovenLook& look, const float* twist, const float* fuzz, float* const colour[3],
               float* height);

}  // namespace loom
