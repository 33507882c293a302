// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where strokes of the hand have pushed a surface: for each place of a grid over the tile, from how many design px away it is
// read. The grid belongs to the tile and not to the picture, so that strokes do the same at every size. Each dab bends what all
// before it have bent: D'(p) = v(p) + D(p + v(p)).
#pragma once

#include "core/structures/brush.h"

namespace loom {

/// Places of the grid: about every second design px, no more than 2048 on a side.
Size warp_grid(Size tile);

class HandWarp {
public:
    /// Nothing has moved.
    HandWarp(Size tile, std::uint64_t seed);
    /// As `planes()` had it: across and down.
    HandWarp(Size tile, std::uint64_t seed, const Plane& across, const Plane& down);

    /// Tools: push, swell, pinch, turn, churn, restore.
    void add(const Stroke& stroke, const Job& job);
    /// Strokes [first, last), one after the other.
    void add(const Strokes& strokes, std::size_t first, std::size_t last, const Job& job);

    Plane across, down;  ///< design px, a value for each place of the grid

private:
    /// What a dab works out before it changes anything: across, down and how strongly it works, row by row.
    struct Kept {
        std::vector<float> rows;
        std::size_t width = 0, height = 0;
        void begin(int columns, int count);
        float* row(int of, int y) {
            return rows.data() + (static_cast<std::size_t>(of) * height + static_cast<std::size_t>(y)) * width;
        }
    };
    void dab(const Stroke& stroke, const BrushPlace& at, double move_x, double move_y, Kept& kept, const Job& job);

    Size tile_, grid_;
    std::uint64_t seed_;
};

}  // namespace loom
