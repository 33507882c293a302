// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "core/image/plane.h"

namespace loom {

/// Row y of `coarse` at twice its size, by six-point Lagrange weights in both directions, across the tile edge.
/// `out` holds 2 * width + lattice_padding values.
void enlarged_row(const Plane& coarse, int y, float* out);

}  // namespace loom
