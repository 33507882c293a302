// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loop over the pixels of a unit that was laid, compiled for each instruction set.
#pragma once

namespace loom {

/// A unit as it lies: in pixels, with what its lots made of it.
struct LaidUnit {
    float x, y, half_x, half_y;  ///< middle and half sides, joint taken off
    float c, s;                  ///< turn
    float tone, wear, tilt_x, tilt_y, level;
};

/// Lengths in pixels that all units share.
struct UnitEdges {
    float corner, bevel;
    float wear, chips;                ///< how deep they go
    float wear_within, chips_within;  ///< how far from the edge they are looked at
    float wear_fades;                 ///< distance over which wear gets less
};

enum class UnitShow { cover, height, joint };

/// A row of the picture. `depth`: how far inside a unit each pixel is, at least 0. `mine`: that distance where this unit is
/// seen, else below 0.
struct UnitRow {
    const float *wear, *chips;  ///< noise of deviation 1
    float *depth, *mine;
    float *picture, *height;
    UnitShow show;
    float full;  ///< what is shown of the whole unit, for cover
};

/// Draws columns from..to of a unit whose middle is (dx + unit.x, unit.y) and lies `dy` rows above.
void unit_row(const LaidUnit& unit, const UnitEdges& edges, float dx, float dy, int from, int to, const UnitRow& row);

}  // namespace loom
