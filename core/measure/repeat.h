// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What is drawn over a repeated cloth: the difference along the seam, where it is light and dark, and how much of its contrast
// repeats.
#pragma once

#include <vector>

#include "core/measure/measure.h"

namespace loom {

struct RepeatMarks {
    /// Difference across the edge in a sixty-fourth of it each, over what it is usually between neighbours inside: along the edge
    /// between right and left from the top, and along that between bottom and top from the left.
    std::vector<double> across, down;
    /// Lightness after a blur at tile/6, less its mean; 64 pixels on the longer side.
    Plane light;
    /// Share of the tile's contrast (deviation of lightness) that is broad enough, after a blur at tile/24, to be seen as a grid
    /// when the repeat is looked at from afar; 0..1.
    double grid = 0;
};
constexpr int marks_along = 64;

RepeatMarks repeat_marks(const Bundle& picture, const Job& job);

}  // namespace loom
