// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <vector>

#include "core/base/hash.h"

namespace loom {

/// A point of the tile that is dragged to another place; all in % of the tile. It may go out over the edge.
struct Move {
    double x = 50, y = 50, to_x = 50, to_y = 50;
    bool operator==(const Move&) const = default;
};
using Moves = std::vector<Move>;
constexpr double farthest_move = 100;  ///< % of the tile beyond its edges

void hash_value(Key& key, const Moves& moves);

}  // namespace loom
