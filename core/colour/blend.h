// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How one picture lies over another: the sixteen blends of W3C Compositing and Blending Level 1, plus (its "lighter" without
// the clamp), those of the trade, and lightness, chroma and hue apart in OKLCh and CIE LCh. Stipple and height-aware
// are normal here; core/structures/join.h makes of them what they are. Source-over compositing,
// premultiplied. docs/blending.md has all formulas and their sources.
//
// Blends other than normal, plus and those that sum heights are defined for 0..1 only; colours are clamped to that before the
// formula.
#pragma once

#include <optional>
#include <span>
#include <string_view>

#include "core/base/job.h"
#include "core/image/bundle.h"

namespace loom {

enum class Blend {
    normal,
    multiply,
    screen,
    overlay,
    darken,
    lighten,
    colour_dodge,
    colour_burn,
    hard_light,
    soft_light,
    difference,
    exclusion,
    hue,
    saturation,
    colour,
    luminosity,
    plus,
    linear_burn,
    linear_light,
    vivid_light,
    pin_light,
    hard_mix,
    subtract,
    divide,
    reflect,
    cielch_colour,
    oklch_hue,
    oklch_chroma,
    oklch_colour,
    oklch_lightness,
    stipple,
    height_aware,
    add_relief,
    minimum,
    maximum,
    smooth_minimum,
    smooth_maximum,
};
/// Sums of heights: signed, never clamped, and of encoded values in linear light too, as they are data.
constexpr bool sums_heights(Blend blend) { return blend >= Blend::add_relief; }
constexpr bool is_smooth(Blend blend) { return blend == Blend::smooth_minimum || blend == Blend::smooth_maximum; }

/// What somebody wants of a blend.
enum class BlendWant { cover, shade, light_up, texture, take_apart, tint, heights };

struct BlendName {
    Blend blend;
    std::string_view id;     ///< the word in files and on the command line
    std::string_view title;  ///< what people read
    BlendWant want;
    std::string_view help;  ///< one sentence
};

/// All blends, in the order of their numbers.
std::span<const BlendName> blend_names();
/// In the order people meet them: by what they want, and within that from faint to strong as they usually come out.
std::span<const Blend> blends_by_want();
inline const BlendName& blend_name(Blend blend) { return blend_names()[static_cast<std::size_t>(blend)]; }
std::optional<Blend> find_blend(std::string_view id);
std::string_view blend_id(Blend blend);
std::string_view blend_title(Blend blend);

/// B(under, over) of the W3C document for opaque, straight colours, encoded.
struct Rgb {
    float red, green, blue;
};
Rgb blend_opaque(Blend blend, Rgb under, Rgb over, float width = 0.1f);

/// How stipple covers in part.
enum class StipplePattern { white, blue, clustered, strokes };
struct StippleDots {
    StipplePattern pattern = StipplePattern::blue;
    double size = 2.5;     ///< design px: width of a dot
    double density = 100;  ///< %: of the dots that coverage asks for
    bool operator==(const StippleDots&) const = default;
};

struct BlendSettings {
    Blend blend = Blend::normal;
    /// Share of `over` that counts, 0..1.
    float amount = 1;
    /// Blend in linear light instead of encoded values.
    bool linear = false;
    /// Tones over which smooth blends turn from one to the other.
    float width = 0.1f;
    /// What becomes of named planes.
    enum class Planes : int {
        joined,   ///< of whichever shows; a height is joined as the picture is
        picture,  ///< those of what lies beneath stay: only the picture is joined
    } planes = Planes::joined;
};

/// `over` over `under`, of the same size. `within` (may be null) multiplies the coverage of `over`.
/// Planes of objects are those of `over` where it covers at least half and has them, else of `under`. Where either has a height
/// the other's is its own or, without one, its tone: the two are joined as the picture is. Grey stays grey if both are.
Bundle blended(const Bundle& under, const Bundle& over, const BlendSettings& settings, const PlaneRef& within, const Job& job);

}  // namespace loom
