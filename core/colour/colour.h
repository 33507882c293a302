// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Colour: sRGB transfer (IEC 61966-2-1), OKLab and OKLCh (Ottosson 2020), CIE LCh.
// Encoded values are 0..1 for what a screen can show and may lie outside; the transfer is odd-symmetric.
#pragma once

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace loom {

/// sRGB-encoded red, green, blue, 0..1.
struct Colour {
    float red = 0, green = 0, blue = 0;
    bool operator==(const Colour&) const = default;
};

struct Lab {
    float lightness = 0, a = 0, b = 0;
};

/// Hue in radians; chroma as in OKLab (about 0..0.37 for screens).
struct Lch {
    float lightness = 0, chroma = 0, hue = 0;
};

float to_linear(float encoded);
float to_encoded(float linear);
/// Many values in place, within 1e-7 (from a table) where they lie from -1 to 2.
void make_linear(float* values, std::size_t count);
void make_encoded(float* values, std::size_t count);

/// OKLab of an sRGB-encoded colour; lightness 0..1.
Lab to_oklab(Colour encoded);
Colour from_oklab(Lab lab);
/// In linear light.
Colour linear_from_oklab(Lab lab);

Lch to_lch(Lab lab);
Lab from_lch(Lch lch);

/// CIE L*a*b* (D65, as sRGB's white) scaled by 1/100, so lightness is 0..1.
Lab to_cielab(Colour encoded);
Colour from_cielab(Lab lab);

/// "#rrggbb" or "#rgb"; nothing if it is not one.
std::optional<Colour> parse_colour(std::string_view text);
/// "#rrggbb"; values outside 0..1 are clamped.
std::string write_colour(Colour colour);

}  // namespace loom
