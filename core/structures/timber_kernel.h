// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops over a row of sawn timber, compiled for each instruction set.
#pragma once

#include "core/base/quick_math.h"

namespace loom {

/// How far early wood and late wood are at a share `f` of a ring: an abrupt start that fades, and a slow rise. Over the share
/// `step` that one pixel passes, what was late fades into what is early.
struct Growth {
    float early, late;
};
inline Growth growth(float f, float step) {
    const float begun = f / (step > 1e-6f ? step : 1e-6f), start = begun < 1 ? begun : 1;
    float t = (f - 0.25f) / 0.73f;
    t = t < 0 ? 0 : t > 1 ? 1 : t;
    const float left = (1 - f) / (step > 1e-6f ? step : 1e-6f), end = left < 1 ? left * 0.5f + 0.5f : 1.0f;
    return {start * quick_exp(-f * 5), t * t * (3 - 2 * t) * end + (1 - start) * 0.5f};
}

/// Adds to `phase` the rings of a flat-sawn board: distances from a pith that lies `depth` tiles behind it, in rings `width`
/// tiles wide, and `start`, what the height adds.
void flat_sawn_row(const float* fibre, int count, float pith, float depth, float width, float start, float* phase);
/// The same for a quarter-sawn board of so many rings, and for end grain, whose arcs bow by `bow` rings.
void quarter_sawn_row(const float* fibre, int count, float bands, float* phase);
void end_grain_row(const float* fibre, int count, float pith, float bow, float start, float* phase);

/// A knot as one row sees it: its middle and radius in tiles, how far below the middle the row lies, and the rings it adds.
struct KnotRow {
    float u, dy, radius, rings;
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
    float down;                ///< rings that a pixel passes downwards
    float fibre, early, late;  ///< shares of what fibres, early wood and late wood darken
};
/// Tone of a row, and its height; `phase` goes one value beyond `count`.
void ring_row(const RingLook& look, const RingLots& lots, const float* phase, const float* grain, int count, float* tone,
              float* height);

}  // namespace loom
