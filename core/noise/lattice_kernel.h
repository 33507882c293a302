// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The vectorised inner loop of LatticeNoise; the target is chosen when the program runs.
#pragma once

#include <cstdint>

#include "core/noise/lattice.h"

namespace loom {

struct LatticeRow {
    const Lattice* lattice;
    std::uint32_t seed;
    const float *p, *q;
    const std::int32_t *k1, *k2;
    float p_row, q_row;
    std::int32_t k1_row, k2_row;
    const float *du, *dv;
    int count;
    float weight;
    bool straight = false;  ///< the lattice is not turned, and du and dv alone say the place: p, q and k are not read
};

/// Adds `weight` times the noise of the row to `out`.
void lattice_row(Basis basis, const LatticeRow& row, float* out);

}  // namespace loom
