// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The vectorised inner loop of GrainField; the target is chosen when the program runs.
#pragma once

#include <cstdint>

#include "core/noise/grains.h"

namespace loom {

/// Buffers given to the kernel are longer than the row by this many values.
constexpr int grain_padding = 64;

struct GrainRow {
    Spread spread;
    std::uint32_t hash_a, hash_b;  ///< of the seed and the row of grains
    int first, count;              ///< columns of grains
    float tails, tail_scale, share;
    float weight, base;
    bool more;  ///< added to what is there; else to `base`
};

/// Writes `weight` times the values of the grains, plus what is there or `base`.
void grain_row(const GrainRow& row, float* out);

}  // namespace loom
