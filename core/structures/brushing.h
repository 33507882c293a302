// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a surface is brushed: which way its fine scratches run, and how much they count. A strand's lines tell it by the structure
// tensor of its tone (Bigun & Granlund 1987): the direction along them, and as its strength their coherence, 1 where all run one
// way and 0 where they run any.
#pragma once

#include "core/structures/join.h"

namespace loom {

/// Lines are looked at one design pixel wide, and taken together over so many (standard deviations).
constexpr double brushing_soft_px = 6;

/// In its three planes cosine and sine of twice the direction (0: right, growing against the clock) times the strength, and the
/// strength; multiplied by the strand's coverage. `strand` is whole, `soft` in pixels.
Bundle brushing_of(const Bundle& strand, double soft, const Job& job);
/// Planes that it needs besides its result.
constexpr double brushing_scratch = 3;

/// Strengths meet by the blend. Directions are mixed by share, and where they cross they take strength from each other.
Bundle brushings_joined(const Bundle& under, const Bundle& over, const Joining& joining, const Job& job);

/// As it is shown and written: the direction's x (right) and y (up), packed to 0..1, and the strength.
Bundle brushing_map(const Bundle& brushing, const Job& job);

}  // namespace loom
