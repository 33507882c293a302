// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Few colours that stand for a picture's many.
#pragma once

#include <vector>

#include "core/colour/colour.h"
#include "core/image/bundle.h"

namespace loom {

struct PaletteColour {
    Colour colour;
    double share = 0;  ///< of the area that is covered, 0..1
};

/// The means of `count` groups of like colours, dark to light: k-means (Lloyd 1982) in OKLab, begun at even shares of lightness,
/// so that the same picture has the same palette. Fewer where there are fewer colours; none where nothing is covered.
std::vector<PaletteColour> palette_of(const Bundle& picture, int count, const Job& job);
/// The mean colours of `count` equal shares of the area, from the darkest to the lightest.
std::vector<PaletteColour> tones_of(const Bundle& picture, int count, const Job& job);

}  // namespace loom
