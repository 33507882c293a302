// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The formulas of all blends for straight colours, one by one; docs/blending.md lists them. Private to blend.cpp.
#pragma once

#include <algorithm>
#include <cmath>

#include "core/colour/blend.h"
#include "core/colour/colour.h"
#include "core/colour/gamut.h"

namespace loom::blending {

inline float unit(float value) { return std::min(1.0f, std::max(0.0f, value)); }

// The separable formulas of section 10.1; `under` is the backdrop Cb, `over` the source Cs.
/// The polynomial smooth minimum (Quilez 2008): a quarter of `width` lower where both are the same.
inline float smooth_minimum(float a, float b, float width) {
    const float h = std::max(width - std::abs(a - b), 0.0f);
    return std::min(a, b) - (width > 0 ? h * h / (4 * width) : 0.0f);
}

/// `width` in tones, for smooth blends.
template <Blend B>
float channel(float under, float over, float width = 0) {
    if constexpr (B == Blend::normal) return over;
    if constexpr (B == Blend::plus) return under + over;
    if constexpr (B == Blend::multiply) return under * over;
    if constexpr (B == Blend::screen) return under + over - under * over;
    if constexpr (B == Blend::overlay) return channel<Blend::hard_light>(over, under);
    if constexpr (B == Blend::darken) return std::min(under, over);
    if constexpr (B == Blend::lighten) return std::max(under, over);
    if constexpr (B == Blend::colour_dodge) return under <= 0 ? 0.0f : over >= 1 ? 1.0f : std::min(1.0f, under / (1 - over));
    if constexpr (B == Blend::colour_burn) return under >= 1 ? 1.0f : over <= 0 ? 0.0f : 1 - std::min(1.0f, (1 - under) / over);
    if constexpr (B == Blend::hard_light)
        return over <= 0.5f ? under * 2 * over : under + (2 * over - 1) - under * (2 * over - 1);
    if constexpr (B == Blend::soft_light) {
        const float d = under <= 0.25f ? ((16 * under - 12) * under + 4) * under : std::sqrt(under);
        const float darker = under - (1 - 2 * over) * under * (1 - under), lighter = under + (2 * over - 1) * (d - under);
        return over <= 0.5f ? darker : lighter;
    }
    if constexpr (B == Blend::difference) return std::abs(under - over);
    if constexpr (B == Blend::exclusion) return under + over - 2 * under * over;
    // Of the trade; docs/blending.md tells where they come from.
    if constexpr (B == Blend::linear_burn) return std::max(0.0f, under + over - 1);
    if constexpr (B == Blend::linear_light) return unit(under + 2 * over - 1);
    if constexpr (B == Blend::vivid_light)
        return over <= 0.5f ? channel<Blend::colour_burn>(under, 2 * over) : channel<Blend::colour_dodge>(under, 2 * over - 1);
    if constexpr (B == Blend::pin_light) return over <= 0.5f ? std::min(under, 2 * over) : std::max(under, 2 * over - 1);
    if constexpr (B == Blend::hard_mix) return under + over >= 1 ? 1.0f : 0.0f;
    if constexpr (B == Blend::subtract) return std::max(0.0f, under - over);
    if constexpr (B == Blend::divide) return under <= 0 ? 0.0f : under >= over ? 1.0f : under / over;
    if constexpr (B == Blend::add_relief) return under + over - 0.5f;
    if constexpr (B == Blend::minimum) return std::min(under, over);
    if constexpr (B == Blend::maximum) return std::max(under, over);
    if constexpr (B == Blend::smooth_minimum) return smooth_minimum(under, over, width);
    if constexpr (B == Blend::smooth_maximum) return -smooth_minimum(-under, -over, width);
    if constexpr (B == Blend::reflect) return under <= 0 ? 0.0f : over >= 1 ? 1.0f : std::min(1.0f, under * under / (1 - over));
}

// The non-separable formulas of section 10.2.
inline float lum(Rgb c) { return 0.3f * c.red + 0.59f * c.green + 0.11f * c.blue; }

inline Rgb clip_colour(Rgb c) {
    const float l = lum(c);
    const float n = std::min({c.red, c.green, c.blue}), x = std::max({c.red, c.green, c.blue});
    auto pull = [&](float factor) { c = {l + (c.red - l) * factor, l + (c.green - l) * factor, l + (c.blue - l) * factor}; };
    // Of a grey, rounding alone may lie outside.
    if (n < 0) pull(l > n ? l / (l - n) : 0.0f);
    if (x > 1) pull(x > l ? (1 - l) / (x - l) : 0.0f);
    return c;
}

inline Rgb set_lum(Rgb c, float l) {
    const float d = l - lum(c);
    return clip_colour({c.red + d, c.green + d, c.blue + d});
}

inline float sat(Rgb c) { return std::max({c.red, c.green, c.blue}) - std::min({c.red, c.green, c.blue}); }

inline Rgb set_sat(Rgb c, float s) {
    const float low = std::min({c.red, c.green, c.blue}), range = sat(c);
    if (range <= 0) return {0, 0, 0};
    const float factor = s / range;
    return {(c.red - low) * factor, (c.green - low) * factor, (c.blue - low) * factor};
}

/// Lightness, chroma and hue from one or the other, in OKLCh or CIE LCh.
template <Blend B>
Rgb perceptual(Rgb under, Rgb over) {
    const Colour below{under.red, under.green, under.blue}, above{over.red, over.green, over.blue};
    if constexpr (B == Blend::cielch_colour) {
        const Lab a = to_cielab(below), b = to_cielab(above);
        const Colour shown = from_cielab({a.lightness, b.a, b.b});
        return {unit(shown.red), unit(shown.green), unit(shown.blue)};
    }
    const Lab a = to_oklab(below), b = to_oklab(above);
    const float under_chroma = std::sqrt(a.a * a.a + a.b * a.b), over_chroma = std::sqrt(b.a * b.a + b.b * b.b);
    Lab mixed = a;
    if constexpr (B == Blend::oklch_lightness) mixed.lightness = b.lightness;
    // Greys have no hue that could be taken or given.
    constexpr float no_chroma = 1e-4f;
    if constexpr (B == Blend::oklch_hue) {
        const float share = over_chroma > no_chroma ? under_chroma / over_chroma : 0.0f;
        if (share > 0) mixed.a = share * b.a, mixed.b = share * b.b;
    }
    if constexpr (B == Blend::oklch_chroma) {
        const float share = under_chroma > no_chroma ? over_chroma / under_chroma : 1.0f;
        mixed.a *= share, mixed.b *= share;
    }
    if constexpr (B == Blend::oklch_colour) mixed.a = b.a, mixed.b = b.b;
    const Colour shown = into_gamut(mixed);
    return {shown.red, shown.green, shown.blue};
}

constexpr bool is_perceptual(Blend blend) { return blend >= Blend::cielch_colour && blend <= Blend::oklch_lightness; }
constexpr bool non_separable(Blend blend) { return (blend >= Blend::hue && blend <= Blend::luminosity) || is_perceptual(blend); }
constexpr bool any_range(Blend blend) { return blend == Blend::normal || blend == Blend::plus || sums_heights(blend); }

template <Blend B>
Rgb formula(Rgb under, Rgb over, float width = 0) {
    if constexpr (is_perceptual(B))
        return perceptual<B>(under, over);
    else if constexpr (B == Blend::hue)
        return set_lum(set_sat(over, sat(under)), lum(under));
    else if constexpr (B == Blend::saturation)
        return set_lum(set_sat(under, sat(over)), lum(under));
    else if constexpr (B == Blend::colour)
        return set_lum(over, lum(under));
    else if constexpr (B == Blend::luminosity)
        return set_lum(under, lum(over));
    else
        return {channel<B>(under.red, over.red, width), channel<B>(under.green, over.green, width),
                channel<B>(under.blue, over.blue, width)};
}

}  // namespace loom::blending
