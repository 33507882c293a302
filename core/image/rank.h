// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Rank filters over rectangles, wrapping at the tile edge.
#pragma once

#include "core/base/job.h"
#include "core/image/footprint.h"
#include "core/image/plane.h"

namespace loom {

/// The value of `rank` (0 to 1: darkest to lightest) among the (2 rx + 1) (2 ry + 1) nearest. Up to 4 pixels exact, between
/// two neighbours in order by a straight line; beyond, tones are counted in 256 even bins over the plane's range and read
/// evenly within one, at a cost that hardly grows with the radius.
Plane ranked(const Plane& plane, int rx, int ry, double rank, Rows rows, const Job& job);
Footprint ranked_footprint(int rx, int ry, Size size);

}  // namespace loom
