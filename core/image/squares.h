// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Marching squares (Lorensen & Cline 1987, in the plane): how a level runs between the centres of four pixels.
#pragma once

namespace loom {

/// Where the level crosses a side of the square, 0..1 across and down from its first pixel.
struct SquareCrossing {
    float x, y;
    int side;  ///< 0 upper, 1 right, 2 lower, 3 left
};

/// Share of the way from `a` to `b` where the level is crossed; it is if they lie on different sides.
inline bool crosses(float a, float b, float level, float& share) {
    if ((a > level) == (b > level)) return false;
    share = (level - a) / (b - a);
    return true;
}

/// The straight pieces of the level within the square: at most two, as pairs of crossings. Values in the order left and right of
/// the upper row, right and left of the lower.
inline int pieces_between(const float (&v)[4], float level, SquareCrossing out[4]) {
    SquareCrossing found[4] = {};
    int count = 0;
    float t = 0;
    if (crosses(v[0], v[1], level, t)) found[count++] = {t, 0, 0};
    if (crosses(v[1], v[2], level, t)) found[count++] = {1, t, 1};
    if (crosses(v[3], v[2], level, t)) found[count++] = {t, 1, 2};
    if (crosses(v[0], v[3], level, t)) found[count++] = {0, t, 3};
    // At a saddle the middle says which corners belong together.
    const bool apart = count == 4 && ((v[0] + v[1] + v[2] + v[3]) / 4 > level) != (v[0] > level);
    const int with = apart ? 3 : 1;
    out[0] = found[0], out[1] = found[with];
    out[2] = found[apart ? 1 : 2], out[3] = found[apart ? 2 : 3];
    return count / 2;
}

}  // namespace loom
