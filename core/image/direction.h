// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Directions of a picture's lines from its structure tensor (Bigun & Granlund 1987).
#pragma once

#include "core/image/stream.h"

namespace loom {

/// Along the lines of equal tone, evened out over `soft` pixels so that opposite slopes do not cancel; `turn` degrees (against
/// the clock) away from them.
DirectionField directions_of(const Plane& tone, double soft, const Job& job, double turn = 0);

}  // namespace loom
