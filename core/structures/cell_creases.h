// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The creases between cells as skin and mud have them: each as deep and as wide as its pair of cells has it, dying out here and
// there, with a soft floor; and a finer net of them besides.
#pragma once

#include <optional>
#include <vector>

#include "core/noise/cells.h"
#include "core/noise/clouds.h"

namespace loom {

struct CreaseSettings {
    double spread = 0;     ///< 0..1: how much pairs differ
    double fade = 0;       ///< 0..1: how much of them dies out
    double floor_px = 0;   ///< design pixels over which the floor is round
    double depth_px = 10;  ///< design pixels over which tops round off
    bool plain() const { return spread <= 0 && fade <= 0 && floor_px <= 0; }
};

/// What creases leave of the tops, for rows of a picture.
class CellCreases {
public:
    /// `size_px`: mean distance of cells.
    CellCreases(const CreaseSettings& settings, double size_px, Size tile, Size size, std::uint64_t seed, const Job& job);

    /// From borders, in design pixels, and the lots of pairs, to tops from 0 at the bottom of a crease to 1; both buffers are
    /// longer than `count` by cell_padding. `border` is overwritten.
    void row(int y, float* border, const float* pair, int count, float* top) const;

private:
    CreaseSettings s_;
    std::optional<CloudField> where_;
};

/// A finer net: what it takes from the height of a row.
class SecondNet {
public:
    /// Whether anything of such a net is seen at this size.
    static bool shows(double size_px, Size tile, Size size);
    SecondNet(double size_px, double strength, Size tile, Size size, std::uint64_t seed, const Job& job);
    struct Rows {
        CellRows cells;
        std::vector<float> where;
    };
    /// Rows [first, last) of the net, to be taken from below.
    void read(int first, int last, Rows& rows) const;
    /// Takes the creases of row y, the one that lies `at` values into `rows`, from `out`.
    void take(int y, std::size_t at, Rows& rows, int count, float* out) const;

private:
    static CellSettings settings_of(double size_px, Size tile, Size size, std::uint64_t seed);
    double size_px_;
    float strength_;
    CellField field_;
    CloudField where_;
};

}  // namespace loom
