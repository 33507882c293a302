// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The coordinates of sawn timber: one fibre coordinate that flows round the knots and that everything fibrous is read at, and a
// ring phase that gains a whole number over the tile. Noise is added to the phase and not to the place, so that flat-cut areas
// wiggle and steep ones stay straight. Everything is worked out by rows, as what fibres and rings are made of is slow along
// them.
#pragma once

#include <cstdint>
#include <optional>
#include <utility>
#include <vector>

#include "core/noise/noise_sheet.h"

namespace loom {

enum class Cut { flat, quarter, end };

struct TimberSettings {
    Cut cut = Cut::flat;
    int bands = 36;          ///< rings from the pith line to its far side (flat, end) or over the tile (quarter)
    double depth = 0.11;     ///< tiles between the cut and the pith
    double wobble = 1;       ///< of the phase, beside what oak has
    double fine = 1;         ///< the part of the finer scales in it
    double sway = 0.011;     ///< tiles that fibres sway to the sides
    double ring_spread = 1;  ///< how uneven rings are
    int knots = 2;
    double knot_size = 0.02, knot_spread = 0.3;  ///< radius in tiles, and how much radii differ
    std::uint32_t knot_seed = 0;                 ///< 0: as `seed` has them
    double knot_turn = 1;                        ///< how far knots turn the grain, beside what oak does
    /// Where the first knot lies, in tiles, if it is not left to the lot.
    std::optional<std::pair<double, double>> first_knot = {};
    double lopsided = 0;  ///< 0..1: how much the two sides of the pith differ
    double comb = 0;      ///< tiles downwards by which rings are moved from fibre to fibre; few fibres are moved farther
    std::uint64_t seed = 0;
};

/// Rings after which ring numbers begin again.
int ring_period(const TimberSettings& settings);

struct Knot {
    float u, v, radius, turn;
    std::uint64_t lots;
};

class Timber {
public:
    Timber(const Job& job, const TimberSettings& settings);

    /// Fibre coordinate and ring phase at places u of the row at height v, all in tiles (fibres run along v). `phase` may be
    /// null. Buffers are as long as `count`. The phase is not combed.
    void row(float v, const float* u, int count, float* fibre, float* phase) const;

    /// Adds how far, in tiles downwards, each fibre is moved along itself; nothing if nothing is combed.
    void comb_row(float v, const float* fibre, int count, float* moved) const;
    bool combs() const { return s_.comb > 0; }

    int period() const { return period_; }
    /// Rings that the phase gains over the tile downwards.
    int gain_down() const { return gain_; }
    const std::vector<Knot>& knots() const { return knots_; }
    /// Whether a knot may lie within `reach` of a place, by its height alone.
    static bool beside(const Knot& knot, float v, float reach);
    /// Offset from a knot, to its nearest copy, and the distance with the height flattened.
    static float from_knot(const Knot& knot, float u, float v, float& dx, float& dy);

private:
    void sway(float v, const float* u, int count, float* fibre) const;

    TimberSettings s_;
    int period_ = 1, gain_ = 0;
    float pith_, width_;
    std::vector<Knot> knots_;
    NoiseSheet lean_, bend_, phases_;
    std::optional<NoiseSheet> comb_;
    std::vector<float> uneven_;  ///< how far the phase is moved, over one period of it
    int uneven_columns_;
};

/// Phases at the places of a row, moved along the fibres as Timber combs them: rows of the plain phase, close enough together for
/// what is slow along the fibre, and in between straight lines.
class CombedPhase {
public:
    /// `u` and `count` as for Timber::row; `tall`: design pixels of the tile downwards.
    CombedPhase(const Job& job, const Timber& timber, const float* u, int count, int tall);
    /// `moved`: as comb_row has it.
    void row(float v, const float* moved, float* phase) const;

private:
    int rows_, count_;
    float gain_;
    std::vector<float> plain_;  ///< less what the height adds
};

}  // namespace loom
