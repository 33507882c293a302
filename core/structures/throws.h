// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where scattered things lie, on the torus of the tile: drawn freely, or thrown like darts that are kept only where there is room
// (Cook 1986).
#pragma once

#include <cstdint>
#include <functional>
#include <vector>

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

enum class Overlap { free, stacked, spaced, packed };

struct Throw {
    float x, y;         ///< middle, in design pixels
    float radius;       ///< design pixels
    std::uint32_t lot;  ///< the number that its other lots are drawn by
};

struct ThrowSettings {
    int count = 1000;
    double radius = 12;   ///< middle radius, design pixels
    double spread = 0.3;  ///< deviation of its logarithm
    Overlap overlap = Overlap::free;
    Size tile;
    std::uint64_t seed = 0;
    const Job* job = nullptr;  ///< asked now and then whether to go on
    /// Whether a throw with the k-th lot may stay at a place in tiles; empty: all may.
    std::function<bool(double u, double v, std::uint64_t k)> keeps = {};
};

/// At most `count` throws, larger ones first where they keep apart; fewer where there is no room.
std::vector<Throw> thrown(const ThrowSettings& settings);

/// A standard normal draw of hash and number (Box & Muller 1958).
float normal_draw(std::uint64_t seed, std::uint64_t which);

}  // namespace loom
