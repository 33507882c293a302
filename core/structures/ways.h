// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A picture bent by a grid over the tile that says from how far away each place is read.
#pragma once

#include "core/catalogue/context.h"
#include "core/image/footprint.h"
#include "core/structures/beyond_edge.h"

namespace loom {

/// `across` and `down`: design px, on a grid of any size, read smoothly between its places; `strength` times as far. The wanted
/// rows.
Bundle bent_by(const Plane& across, const Plane& down, double strength, Edge edge, const StepContext& context);
/// From how far it reads at most.
Footprint bent_footprint(const Plane& across, const Plane& down, double strength, const Scales& at);

}  // namespace loom
