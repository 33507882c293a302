// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a strand meets what lies left of it: the blends of core/colour/blend.h, and two that are more than a formula for a pixel.
// Stipple: what covers in part becomes dots that cover whole. Height-aware: the higher of both shows, with a soft edge.
#pragma once

#include <cstdint>

#include "core/colour/blend.h"
#include "core/image/footprint.h"

namespace loom {

struct Joining {
    BlendSettings settings;
    Size tile;               ///< design pixels
    std::uint64_t seed = 0;  ///< of the dots
    StippleDots dots = {};
};

/// `over` over `under`, as blended() does it.
Bundle joined(const Bundle& under, const Bundle& over, const Joining& joining, const PlaneRef& within, const Job& job);

Footprint join_footprint(Blend blend);
/// Planes that it needs besides its result.
double join_scratch(Blend blend, const Scales& at, double dot_px = StippleDots{}.size);
/// Whether it looks at heights, so that strands have to make them.
constexpr bool reads_height(Blend blend) { return blend == Blend::height_aware; }

}  // namespace loom
