// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <unordered_map>

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

struct ObjectMiddle {
    double x = 0, y = 0;                  ///< pixels, within the tile
    bool ring_x = false, ring_y = false;  ///< runs all round the tile and into itself
};

/// The middles of objects that may lie over the tile's edges: means of directions round the torus. Of objects nearly as long as
/// the tile, as boards are, directions say little; what they leave free says all.
/// By object number; 0 stands for what belongs to none.
std::unordered_map<int, ObjectMiddle> object_middles(const Plane& ids, const Job& job);

/// Its middle, and how far it reaches across and down; pixels.
struct ObjectExtent {
    double x = 0, y = 0, width = 0, height = 0;
};
std::unordered_map<int, ObjectExtent> object_extents(const Plane& ids, const Job& job);

}  // namespace loom
