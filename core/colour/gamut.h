// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "core/colour/colour.h"

namespace loom {

/// The sRGB-encoded colour of an OKLCh colour, which is drawn into what a screen can show where it lies outside: along a line to
/// a grey that gives way in lightness the more, the more chroma is asked for, so that hue stays and strong colours on white or
/// black do not fade away (Ottosson 2021, "sRGB gamut clipping", adaptive L0 with alpha 0.5). Lightness is 0..1 or is cut to
/// that.
Colour into_gamut(Lch oklch);
/// The same by OKLab's axes.
Colour into_gamut(Lab oklab);

}  // namespace loom
