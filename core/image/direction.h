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

/// The same with how sure it is. `power` becomes the mean square of the slopes, which is the field's length where all lines run
/// one way. Slopes at or beside places without coverage do not count; `cover` may be null.
DirectionField directions_of(const Plane& tone, const Plane* cover, double soft, Plane& power, const Job& job);

}  // namespace loom
