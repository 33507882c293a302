// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops over a row of sawn timber, compiled for each instruction set.
#pragma once

#include "core/base/quick_math.h"

namespace loom {

/// How far early wood and late wood are at a share `f` of a ring: an abrupt start that fades, and a slow rise. Over the share
/// `step` that one pixel passes, what was late fades into what is early. The rise begins at `from`.
struct Growth {
    float early, late;
};
constexpr float late_from_oak = 0.25f, late_until = 0.98f;
inline Growth growth(float f, float step, float from = late_from_oak) {
    const float begun = f / (step > 1e-6f ? step : 1e-6f), start = begun < 1 ? begun : 1;
    float t = (f - from) / (late_until - from);
    t = t < 0 ? 0 : t > 1 ? 1 : t;
    const float left = (1 - f) / (step > 1e-6f ? step : 1e-6f), end = left < 1 ? left * 0.5f + 0.5f : 1.0f;
    return {start * quick_exp(-f * 5), t * t * (3 - 2 * t) * end + (1 - start) * 0.5f};
}

/// A flat-sawn board: where its pith lies and how many tiles behind it, how wide rings are in tiles, and how much its two sides
/// differ, 0..1.
struct FlatCut {
    float pith, depth, width, lopsided = 0;
};
/// Adds to `phase` its rings, and `start`, what the height adds.
void flat_sawn_row(const float* fibre, int count, const FlatCut& cut, float start, float* phase);
/// The same for a quarter-sawn board of so many rings, and for end grain, whose arcs bow by `bow` rings.
void quarter_sawn_row(const float* fibre, int count, float bands, float* phase);
void end_grain_row(const float* fibre, int count, float pith, float bow, float start, float* phase);

/// A knot as one row sees it: its middle and radius in tiles, how far below the middle the row lies, the rings it adds, and how
/// far it turns the fibres, 1: as oak does.
struct KnotRow {
    float u, dy, radius, rings, turn = 1;
};
/// Moves what is not null: fibres away from the knot, and the phase by the rings that it raises. Nothing further than
/// flow_reach or rise_reach radii is moved.
void flow_row(const float* u, int count, const KnotRow& knot, float* fibre, float* phase);
constexpr float flow_reach = 2.6f * 5.5f, rise_reach = 3 * 2.2f;

/// What each ring of a period has; index 0 stands again behind the last.
struct RingLots {
    int period;
    const float *strength, *own;
};
struct RingLook {
    float down;                       ///< rings that a pixel passes downwards
    float fibre, early, late;         ///< shares of what fibres, early wood and late wood darken
    float late_from = late_from_oak;  ///< see growth()
};
/// Tone of a row, and its height. How many rings a pixel passes is told by `plain`, the phase that is not combed, which goes one
/// value beyond `count`; it may be `phase` itself.
void ring_row(const RingLook& look, const RingLots& lots, const float* phase, const float* plain, const float* grain, int count,
              float* tone, float* height);

}  // namespace loom
