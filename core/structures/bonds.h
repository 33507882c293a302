// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Bonds: how units lie side by side. Counts are rounded to what closes at the tile edge.
#pragma once

#include <cstdint>
#include <vector>

namespace loom {

enum class Bond { running, stack, thirds, basket, herringbone, planks };

struct BondSettings {
    Bond bond = Bond::running;
    int columns = 4, rows = 12;
    std::uint64_t seed = 0;  ///< of the lengths of planks
};

/// A unit with its share of the joints, in tiles; it may reach over the right and lower edge of the tile.
struct BondUnit {
    double x, y, width, height;
};

/// The units of a tile, row by row (planks: column by column). Together they cover it exactly once.
std::vector<BondUnit> lay_bond(const BondSettings& settings);

}  // namespace loom
