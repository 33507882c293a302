// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The vectorised operations of formulas. Buffers are longer than `count` by lattice_padding values.
#pragma once

#include "core/steps/formula/formula.h"

namespace loom {

void formula_apply(FormulaOp op, const float* a, const float* b, const float* c, int count, float* out);

/// Cellular noise (Worley 1996) of count cells a tile with one point in each, read at places in tiles.
void formula_cells(FormulaOp op, int cells, std::uint32_t seed, const float* u, const float* v, int count, float* out);

/// What is no number, or a huge one, becomes 0.
void formula_sound(float* values, int count);

}  // namespace loom
