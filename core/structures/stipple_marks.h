// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where the marks of a stippled picture stand, and how large each grows for a tone.
#pragma once

#include <cstdint>
#include <vector>

#include "core/colour/blend.h"
#include "core/image/plane.h"

namespace loom {

struct StippleMark {
    float u, v;  ///< place in tiles
    float rank;  ///< 0..1: at which share of all marks it appears
};

struct StippleLayout {
    std::vector<StippleMark> marks;
    float radius = 1;                ///< design pixels, of a mark that has just grown up
    float reach_x = 0, reach_y = 0;  ///< design pixels from its middle to each end of a stroke, y down; 0 for dots
};

/// Marks about `dot_px` wide over the tile, in whole numbers that close at its edges. `direction`: degrees, of screens and
/// strokes. `job`: shares the work out; null where none is at hand.
StippleLayout stipple_layout(StipplePattern pattern, double dot_px, double direction, Size tile, std::uint64_t seed,
                             const Job* job = nullptr);

/// Which share of its radius a mark of that rank has where `cover` (0..1) of the area is to be covered: 0 before it appears, 1
/// grown up, more where marks have to run together. Measured for each pattern, so that marks cover what they are asked to.
float stipple_growth(StipplePattern pattern, float cover, float rank);

}  // namespace loom
