// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Polar coordinates of the pixels of a row, built once for every instruction set.
#pragma once

namespace loom {

/// For x from 0 to count - 1: radius[x] is the distance of (dx + x, dy) from 0,0 and turn[x] in [0, 1] its direction in turns
/// from the right towards growing y; off by less than 1e-7 turns.
void polar_row(float dx, float dy, int count, float* radius, float* turn);

}  // namespace loom
