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
    float cut_x = 0, cut_y = 0, cut = 0;  ///< in its own frame, where an arris has broken off, and how far about; 0: nowhere
    float layer = 0;                      ///< 0..1: how far up it lies where units overlap
};

/// How the face of a unit goes over into its sides: as a pillow, as a slant, or as the quarter of a circle.
enum class Arris { pillow, slant, round };

/// Lengths in pixels that all units share.
struct UnitEdges {
    float corner, bevel;
    float wear, chips;                ///< how deep they go
    float wear_within, chips_within;  ///< how far from the edge they are looked at
    float wear_fades;                 ///< distance over which wear gets less
    Arris arris = Arris::pillow;      ///< over `bevel`
    bool over = false;                ///< later units lie over earlier ones; otherwise the one that is deeper inside shows
    float ground = 0;                 ///< height between the units
};

enum class UnitShow { cover, height, joint };

/// A row of the picture. `depth`: how far inside a unit each pixel is, at least 0. `mine`: that distance where this unit is
/// seen, else below 0.
struct UnitRow {
    const float *wear, *chips;  ///< noise of deviation 1
    float *depth, *mine;
    float *picture, *height;
    UnitShow show;
    float full;                  ///< what is shown of the whole unit, for cover
    const float* rim = nullptr;  ///< pixels by which the outline is drawn in besides; null: none
};

/// Draws columns from..to of a unit whose middle is (dx + unit.x, unit.y) and lies `dy` rows above.
void unit_row(const LaidUnit& unit, const UnitEdges& edges, float dx, float dy, int from, int to, const UnitRow& row);

}  // namespace loom
