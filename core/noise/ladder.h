// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A sum of smooth noises, each worked out on a grid as coarse as it bears and enlarged from there, by halves: rung 1 has half the
// size of the picture. Rungs that are small are kept whole; those of large pictures are made anew for the rows that are read.
#pragma once

#include <functional>
#include <vector>

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

class Ladder {
public:
    /// Adds what belongs to a rung to its row y; the buffer holds lattice_padding values more than the rung is wide.
    using AddRow = std::function<void(int y, float* line)>;

    /// `add[k]` is for rung k + 1, the coarsest last; empty functions add nothing. The size must be divisible.
    Ladder(Size size, std::vector<AddRow> add, const Job& job);
    Ladder(Ladder&&) noexcept = default;
    Ladder& operator=(Ladder&&) noexcept = default;

    /// The sum of all rungs in row y of the picture; `out` holds lattice_padding values more than it is wide.
    void row(int y, float* out) const;

private:
    struct Rung {
        Size size;
        AddRow add;
        Plane plane;  ///< of no size if its rows are made when they are read
    };
    const float* rung_row(std::size_t rung, int y) const;
    void make(std::size_t rung, int y, float* line) const;
    void enlarged(std::size_t coarser, int y, float* out) const;

    std::vector<Rung> rungs_;
    std::uint64_t number_ = 0;  ///< tells ladders apart in what threads keep
};

}  // namespace loom
