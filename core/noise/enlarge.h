// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "core/image/plane.h"

namespace loom {

/// The six coarse rows that row y of a picture of twice the size is made from, k = 0..5, before they wrap.
constexpr int enlarging_row(int y, int k) { return y % 2 == 1 ? y / 2 + k - 2 : y / 2 + 2 - k; }

/// A row at twice the size, by six-point Lagrange weights in both directions, across the tile edge. `rows` are those of
/// enlarging_row; `out` holds 2 * width + lattice_padding values.
void enlarged_row(const float* const rows[6], int width, float* out);

}  // namespace loom
