// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Periodic lattices. An integer matrix maps the tile to lattice cells, so any such lattice, however turned,
// closes at the tile edge. Two lattice points are the same when they differ by a whole number of tiles;
// their residues (from the Smith form of the matrix) are equal then, and only then.
#pragma once

#include <cstdint>
#include <vector>

#include "core/image/plane.h"

namespace loom {

struct Lattice {
    /// Cell coordinates p = a u + b v, q = c u + d v for u, v in tiles. The determinant is not zero.
    int a = 1, b = 0, c = 0, d = 1;
    /// Residues k1 = (r11 i + r12 j) mod d1, k2 = (r21 i + r22 j) mod d2; the r are already reduced.
    int d1 = 1, d2 = 1, r11 = 0, r12 = 0, r21 = 0, r22 = 0;

    static Lattice of(int a, int b, int c, int d);
};

/// Buffers for rows are longer than the row by this many values.
constexpr int lattice_padding = 64;

enum class Basis { gradient, value, simplex };

/// Lattice noise over the pixels of one tile, prepared for reading row by row.
class LatticeNoise {
public:
    LatticeNoise(const Lattice& lattice, Basis basis, std::uint64_t seed, Size size);

    /// Adds `weight` times the row's values, which have mean 0 and deviation(basis), to `out`. `du`, `dv` (both or neither null)
    /// shift the place that each pixel reads, in tiles. All buffers hold padded_width() values.
    void add_row(int y, float weight, float* out, const float* du = nullptr, const float* dv = nullptr) const;

    /// The same noise over another number of pixels.
    LatticeNoise at_size(Size size) const;
    int padded_width() const { return static_cast<int>(p_.size()); }
    const Lattice& lattice() const { return lattice_; }

    /// Standard deviation of the values of a basis; measured over many seeds, see the tests.
    static float deviation(Basis basis);

private:
    Lattice lattice_;
    Basis basis_;
    std::uint32_t seed_;
    Size size_;
    std::vector<float> p_, q_;           // fractions of the column terms
    std::vector<std::int32_t> k1_, k2_;  // residues of their whole parts
};

/// Adds `weight` times lattice noise at any places, in tiles; the buffers are longer than `count` by lattice_padding.
void lattice_noise_at(const Lattice& lattice, Basis basis, std::uint64_t seed, const float* u, const float* v, int count,
                      float weight, float* out);

}  // namespace loom
