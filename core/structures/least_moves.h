// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Points of a tile dragged to other places, and what lies between them with them: moving least squares (Schaefer, McPhail &
// Warren 2006). Every point counts once for each copy of the tile that is near, so that the tile closes.
#pragma once

#include "core/base/job.h"
#include "core/catalogue/kinds/moves.h"
#include "core/image/plane.h"

namespace loom {

enum class Stiffness { rigid, similar, affine };

struct Displacement {
    double x = 0, y = 0;
};

/// How far from `x`, `y` the place lies that comes to it, design px. What is farther than about `reach` from all points stays.
Displacement least_move(const Moves& moves, Stiffness stiffness, double reach, Size tile, double x, double y);

}  // namespace loom
