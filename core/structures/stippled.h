// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Tone drawn as dots or strokes.
#pragma once

#include "core/image/footprint.h"
#include "core/structures/stipple_marks.h"

namespace loom {

struct Stippling {
    StipplePattern pattern = StipplePattern::blue;
    double dot = 3;         ///< design pixels: width of a dot
    double direction = 45;  ///< degrees, of screens and strokes
};

/// Marks that cover as much as `wanted` says, 0..1, of a whole tile; each is grown to what lies under its middle.
Plane stippled(const Stippling& stippling, const Plane& wanted, Size tile, std::uint64_t seed, const Job& job);
/// Planes that it needs besides its result.
double stippled_scratch(double dot_px, const Scales& at);

}  // namespace loom
