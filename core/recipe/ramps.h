// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A small library of ramps, from black to white, each one a material's own colours.
#pragma once

#include <span>
#include <string_view>

#include "core/catalogue/kinds/stops.h"
#include "core/colour/palette.h"

namespace loom {

struct NamedRamp {
    std::string_view name;
    Stops stops;
};

std::span<const NamedRamp> ramp_library();

/// Every stop with the grain of `like` at its strongest.
Stops with_grain_of(Stops stops, const Stops& like);
Stops turned_round(Stops stops);
/// Their places at equal steps, from end to end.
Stops evenly_spaced(Stops stops);
/// Colours in order, each in the middle of its share of the ramp; the first and the last reach to its ends. With the grain of
/// `like`.
Stops ramp_of(const std::vector<PaletteColour>& colours, const Stops& like);

}  // namespace loom
