// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/channel_choice.h"

#include <cmath>

#include "core/colour/gamut.h"

namespace loom {

float lightness_tone(const Colour& colour) {
    // OKLab's lightness of a grey is the cube root of its light.
    const float lightness = to_oklab(colour).lightness;
    return to_encoded(lightness * lightness * lightness);
}

Colour with_lightness_tone(const Colour& colour, float tone) {
    Lch lch = to_lch(to_oklab(colour));
    lch.lightness = std::cbrt(to_linear(tone));
    return into_gamut(lch);
}

}  // namespace loom
