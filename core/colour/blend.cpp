// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/colour/blend.h"

#include <algorithm>

#include "core/colour/blend_formulas.h"

namespace loom {

namespace {

constexpr BlendName names[] = {
    {Blend::normal, "normal", "Normal", BlendWant::cover, "Lies on top and hides what is beneath as far as it covers."},
    {Blend::multiply, "multiply", "Multiply", BlendWant::shade, "Darkens by its own tone, as a dye does; white does nothing."},
    {Blend::screen, "screen", "Screen", BlendWant::light_up,
     "Lightens by its own tone, as a second lamp does; black does nothing."},
    {Blend::overlay, "overlay", "Overlay", BlendWant::texture,
     "Darkens the dark and lightens the light of what is beneath by its own tone."},
    {Blend::darken, "darken", "Darken", BlendWant::shade, "Keeps whichever of both is darker, channel by channel."},
    {Blend::lighten, "lighten", "Lighten", BlendWant::light_up, "Keeps whichever of both is lighter, channel by channel."},
    {Blend::colour_dodge, "colour-dodge", "Colour dodge", BlendWant::light_up,
     "Lets light tones flare up to white and leaves black alone."},
    {Blend::colour_burn, "colour-burn", "Colour burn", BlendWant::shade,
     "Lets dark tones burn in down to black and leaves white alone."},
    {Blend::hard_light, "hard-light", "Hard light", BlendWant::texture,
     "Presses its own lights and darks onto what is beneath; middle grey does nothing."},
    {Blend::soft_light, "soft-light", "Soft light", BlendWant::texture,
     "The gentlest way to lay lights and darks on; middle grey does nothing."},
    {Blend::difference, "difference", "Difference", BlendWant::take_apart,
     "Shows how far both are apart: lines where noises cross, black where they agree."},
    {Blend::exclusion, "exclusion", "Exclusion", BlendWant::take_apart,
     "As difference, but softer: grey where both are in the middle."},
    {Blend::hue, "hue", "Hue", BlendWant::tint, "Takes its hue and leaves saturation and luma as they are."},
    {Blend::saturation, "saturation", "Saturation", BlendWant::tint, "Takes how colourful it is and leaves hue and luma."},
    {Blend::colour, "colour", "Colour", BlendWant::tint, "Takes hue and saturation and leaves luma: a glaze of colour."},
    {Blend::luminosity, "luminosity", "Luminosity", BlendWant::tint, "Takes its luma and leaves the colours beneath."},
    {Blend::plus, "plus", "Plus", BlendWant::light_up,
     "Adds both, premultiplied; what is laid beside each other without overlap stays exact."},
    {Blend::linear_burn, "linear-burn", "Linear burn", BlendWant::shade,
     "Takes away what it lacks to white: an even, deep shade."},
    {Blend::linear_light, "linear-light", "Linear light", BlendWant::texture,
     "Adds twice its distance from middle grey: strong and even."},
    {Blend::vivid_light, "vivid-light", "Vivid light", BlendWant::texture,
     "Burns below middle grey and flares above it: contrast with colour."},
    {Blend::pin_light, "pin-light", "Pin light", BlendWant::texture,
     "Replaces only where it is far darker or far lighter than what is beneath."},
    {Blend::hard_mix, "hard-mix", "Hard mix", BlendWant::texture, "Only full or empty channels are left: eight flat colours."},
    {Blend::subtract, "subtract", "Subtract", BlendWant::take_apart,
     "Takes its tone away from what is beneath; what falls below black is black."},
    {Blend::divide, "divide", "Divide", BlendWant::take_apart, "Divides by its tone: takes an even cast or a vignette out."},
    {Blend::reflect, "reflect", "Reflect", BlendWant::light_up, "Lights grow steeply, as on polish; the darks stay."},
    {Blend::cielch_colour, "cielch-colour", "CIE LCh colour", BlendWant::tint,
     "Takes hue and chroma as CIE measures them and leaves lightness."},
    {Blend::oklch_hue, "oklch-hue", "OKLCh hue", BlendWant::tint,
     "Takes its hue as the eye tells hues, and leaves chroma and lightness."},
    {Blend::oklch_chroma, "oklch-chroma", "OKLCh chroma", BlendWant::tint,
     "Takes how colourful it looks, and leaves hue and lightness."},
    {Blend::oklch_colour, "oklch-colour", "OKLCh colour", BlendWant::tint,
     "Takes hue and chroma as the eye sees them and leaves lightness: the cleanest tint."},
    {Blend::oklch_lightness, "oklch-lightness", "OKLCh lightness", BlendWant::tint,
     "Takes lightness as the eye sees it and leaves the colours."},
    {Blend::stipple, "stipple", "Stipple", BlendWant::cover,
     "Covers in dots instead of evenly: whole pixels of one or the other."},
    {Blend::height_aware, "height-aware", "Height-aware", BlendWant::heights,
     "The higher of both is seen: sand in the joints, moss between stones."},
    {Blend::add_relief, "add-relief", "Add relief", BlendWant::heights,
     "Adds how far it rises above or falls below middle grey: small bumps on large ones."},
    {Blend::minimum, "minimum", "Minimum", BlendWant::heights, "Keeps whichever is lower, also beyond black and white."},
    {Blend::maximum, "maximum", "Maximum", BlendWant::heights, "Keeps whichever is higher, also beyond black and white."},
    {Blend::smooth_minimum, "smooth-minimum", "Smooth minimum", BlendWant::heights,
     "Keeps whichever is lower, with a groove instead of an edge where the two meet."},
    {Blend::smooth_maximum, "smooth-maximum", "Smooth maximum", BlendWant::heights,
     "Keeps whichever is higher, with a fillet instead of a crease where the two meet."},
};

using namespace blending;

/// Calls `work` with the blend as a compile-time constant, so that the choice is made once and not per pixel.
template <class Work>
auto dispatch(Blend blend, Work&& work) {
    switch (blend) {
#define KEEN_LOOM_CASE(B) \
    case Blend::B: return work(std::integral_constant<Blend, Blend::B>{})
        KEEN_LOOM_CASE(multiply);
        KEEN_LOOM_CASE(screen);
        KEEN_LOOM_CASE(overlay);
        KEEN_LOOM_CASE(darken);
        KEEN_LOOM_CASE(lighten);
        KEEN_LOOM_CASE(colour_dodge);
        KEEN_LOOM_CASE(colour_burn);
        KEEN_LOOM_CASE(hard_light);
        KEEN_LOOM_CASE(soft_light);
        KEEN_LOOM_CASE(difference);
        KEEN_LOOM_CASE(exclusion);
        KEEN_LOOM_CASE(hue);
        KEEN_LOOM_CASE(saturation);
        KEEN_LOOM_CASE(colour);
        KEEN_LOOM_CASE(luminosity);
        KEEN_LOOM_CASE(plus);
        KEEN_LOOM_CASE(linear_burn);
        KEEN_LOOM_CASE(linear_light);
        KEEN_LOOM_CASE(vivid_light);
        KEEN_LOOM_CASE(pin_light);
        KEEN_LOOM_CASE(hard_mix);
        KEEN_LOOM_CASE(subtract);
        KEEN_LOOM_CASE(divide);
        KEEN_LOOM_CASE(reflect);
        KEEN_LOOM_CASE(cielch_colour);
        KEEN_LOOM_CASE(oklch_hue);
        KEEN_LOOM_CASE(oklch_chroma);
        KEEN_LOOM_CASE(oklch_colour);
        KEEN_LOOM_CASE(oklch_lightness);
        KEEN_LOOM_CASE(add_relief);
        KEEN_LOOM_CASE(minimum);
        KEEN_LOOM_CASE(maximum);
        KEEN_LOOM_CASE(smooth_minimum);
        KEEN_LOOM_CASE(smooth_maximum);
        case Blend::normal:
        case Blend::stipple:
        case Blend::height_aware: break;
#undef KEEN_LOOM_CASE
    }
    return work(std::integral_constant<Blend, Blend::normal>{});
}

struct BlendRows {
    const float* under[3];
    const float* over[3];
    const float* under_cover;  // null: opaque
    const float* over_cover;   // null: opaque
    const float* within;       // null: everywhere
    float* out[3];
    float* out_cover;  // null: opaque

    /// From column x on.
    BlendRows from(int x) const {
        BlendRows rest = *this;
        for (const float** row : {&rest.under[0], &rest.under[1], &rest.under[2], &rest.over[0], &rest.over[1], &rest.over[2],
                                  &rest.under_cover, &rest.over_cover, &rest.within})
            if (*row) *row += x;
        for (float** row : {&rest.out[0], &rest.out[1], &rest.out[2], &rest.out_cover})
            if (*row) *row += x;
        return rest;
    }
    /// Columns [first, last) beside which the upper one covers nothing.
    std::pair<int, int> touched(int count) const {
        const auto bare = [&](int x) { return (over_cover && over_cover[x] == 0) || (within && within[x] == 0); };
        int first = 0, last = count;
        while (first < last && bare(first)) ++first;
        while (last > first && bare(last - 1)) --last;
        return {first, last};
    }
    /// As what lies beneath.
    void keep(int channels, int first, int last) const {
        for (int c = 0; c < channels; ++c) std::copy(under[c] + first, under[c] + last, out[c] + first);
        if (out_cover) std::copy(under_cover + first, under_cover + last, out_cover + first);
    }
};

template <Blend B>
void blend_row(const BlendRows& rows, int channels, int count, float amount, bool linear, float width) {
    for (int x = 0; x < count; ++x) {
        const float under_cover = rows.under_cover ? rows.under_cover[x] : 1.0f;
        const float over_cover = rows.over_cover ? rows.over_cover[x] : 1.0f;
        const float share = amount * (rows.within ? rows.within[x] : 1.0f);
        const float cover = over_cover * share;
        float below[3] = {}, above[3] = {}, mixed[3];
        for (int c = 0; c < channels; ++c) {
            below[c] = under_cover > 0 ? rows.under[c][x] / under_cover : 0.0f;
            above[c] = over_cover > 0 ? rows.over[c][x] / over_cover : 0.0f;
            if (linear) {
                below[c] = to_linear(below[c]);
                above[c] = to_linear(above[c]);
            }
        }
        auto ready = [](float value) { return any_range(B) ? value : unit(value); };
        if constexpr (non_separable(B)) {
            // Lightness, chroma and hue are those of encoded colours, whatever light is mixed.
            const bool decode = is_perceptual(B) && linear;
            const auto colour = [&](const float* of) {
                const auto part = [&](int c) { return decode ? unit(to_encoded(of[c])) : ready(of[c]); };
                return Rgb{part(0), part(channels > 1 ? 1 : 0), part(channels > 1 ? 2 : 0)};
            };
            const Rgb result = formula<B>(colour(below), colour(above));
            const float parts[3] = {result.red, result.green, result.blue};
            for (int c = 0; c < channels; ++c) mixed[c] = decode ? to_linear(parts[c]) : parts[c];
        } else {
            for (int c = 0; c < channels; ++c) mixed[c] = channel<B>(ready(below[c]), ready(above[c]), width);
        }
        // "lighter" adds premultiplied values; all others are source-over of the mixed colour (section 5).
        const float out_cover = B == Blend::plus ? std::min(1.0f, cover + under_cover) : cover + under_cover * (1 - cover);
        for (int c = 0; c < channels; ++c) {
            float value;
            if constexpr (B == Blend::plus)
                value = cover * above[c] + under_cover * below[c];
            else
                value =
                    cover * (1 - under_cover) * above[c] + cover * under_cover * mixed[c] + (1 - cover) * under_cover * below[c];
            if (linear) value = out_cover > 0 ? to_encoded(value / out_cover) * out_cover : 0.0f;
            rows.out[c][x] = value;
        }
        if (rows.out_cover) rows.out_cover[x] = out_cover;
    }
}

/// The common case: everything opaque, separable, encoded; simple enough for the compiler to vectorise.
template <Blend B>
void blend_row_opaque(const BlendRows& rows, int channels, int count, float amount, float width) {
    for (int c = 0; c < channels; ++c) {
        const float *under = rows.under[c], *over = rows.over[c];
        float* out = rows.out[c];
        for (int x = 0; x < count; ++x) {
            const float below = any_range(B) ? under[x] : unit(under[x]), above = any_range(B) ? over[x] : unit(over[x]);
            const float mixed = channel<B>(below, above, width);
            // Exact at both ends: object numbers pass through a join unharmed.
            out[x] = B == Blend::plus ? under[x] + amount * above : amount * mixed + (1 - amount) * under[x];
        }
    }
}

/// Row by row of one channel and without branches, so that it is a vector; the same sums as blend_row.
template <Blend B>
void blend_row_covered(const BlendRows& rows, int channels, int count, float amount, float width) {
    constexpr int most = 256;
    static const std::vector<float> whole(most, 1.0f);
    for (int begin = 0; begin < count; begin += most) {
        const BlendRows at = rows.from(begin);
        const int some = std::min(most, count - begin);
        const float *under_cover = at.under_cover ? at.under_cover : whole.data(),
                    *over_cover = at.over_cover ? at.over_cover : whole.data(), *within = at.within ? at.within : whole.data();
        for (int c = 0; c < channels; ++c) {
            const float *under = at.under[c], *over = at.over[c];
            float* out = at.out[c];
            for (int x = 0; x < some; ++x) {
                const float below_cover = under_cover[x], cover = over_cover[x] * (amount * within[x]);
                const float below = below_cover > 0 ? under[x] / below_cover : 0.0f,
                            above = over_cover[x] > 0 ? over[x] / over_cover[x] : 0.0f;
                const float mixed = channel<B>(any_range(B) ? below : unit(below), any_range(B) ? above : unit(above), width);
                out[x] = cover * (1 - below_cover) * above + cover * below_cover * mixed + (1 - cover) * below_cover * below;
            }
        }
        if (at.out_cover)
            for (int x = 0; x < some; ++x) {
                const float cover = over_cover[x] * (amount * within[x]);
                at.out_cover[x] = cover + under_cover[x] * (1 - cover);
            }
    }
}

}  // namespace

std::span<const BlendName> blend_names() { return names; }

std::span<const Blend> blends_by_want() {
    static constexpr Blend order[] = {Blend::normal,       Blend::stipple,         Blend::darken,       Blend::multiply,
                                      Blend::linear_burn,  Blend::colour_burn,     Blend::lighten,      Blend::screen,
                                      Blend::plus,         Blend::reflect,         Blend::colour_dodge, Blend::soft_light,
                                      Blend::overlay,      Blend::hard_light,      Blend::pin_light,    Blend::vivid_light,
                                      Blend::linear_light, Blend::hard_mix,        Blend::exclusion,    Blend::difference,
                                      Blend::subtract,     Blend::divide,          Blend::oklch_hue,    Blend::hue,
                                      Blend::oklch_chroma, Blend::saturation,      Blend::oklch_colour, Blend::cielch_colour,
                                      Blend::colour,       Blend::oklch_lightness, Blend::luminosity,   Blend::height_aware,
                                      Blend::add_relief,   Blend::smooth_minimum,  Blend::minimum,      Blend::smooth_maximum,
                                      Blend::maximum};
    static_assert(std::size(order) == std::size(names));
    return order;
}

std::optional<Blend> find_blend(std::string_view id) {
    for (const BlendName& name : names)
        if (name.id == id) return name.blend;
    return std::nullopt;
}

std::string_view blend_id(Blend blend) { return names[static_cast<std::size_t>(blend)].id; }
std::string_view blend_title(Blend blend) { return names[static_cast<std::size_t>(blend)].title; }

Rgb blend_opaque(Blend blend, Rgb under, Rgb over, float width) {
    auto ready = [&](Rgb c) { return any_range(blend) ? c : Rgb{unit(c.red), unit(c.green), unit(c.blue)}; };
    return dispatch(blend, [&](auto b) { return formula<decltype(b)::value>(ready(under), ready(over), width); });
}

namespace {

/// Both heights as the pictures are joined; a picture without a height is as high as it is light.
PlaneRef joined_height(const Bundle& under, const Bundle& over, BlendSettings settings, const PlaneRef& within, const Job& job) {
    const auto height_of = [&](const Bundle& of) {
        const PlaneRef height = of.plane(height_plane);
        return height ? height : tone_of(of, job);
    };
    Bundle below, above;
    below.colour = {height_of(under)}, above.colour = {height_of(over)};
    if (over.coverage) {
        Plane seen = over.coverage->clone();
        for_rows(job, seen, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < seen.width(); ++x) seen.row(y)[x] *= above.colour.front()->row(y)[x];
        });
        above.colour.front() = share(std::move(seen));
    }
    above.coverage = over.coverage;
    settings.linear = false, settings.planes = BlendSettings::Planes::picture;
    return blended(below, above, settings, within, job).colour.front();
}

/// What both hand on by name: the upper one's where it covers at least half, the lower one's elsewhere.
NamedPlanes joined_planes(const Bundle& under, const Bundle& over, const BlendSettings& settings, const PlaneRef& within,
                          const Job& job) {
    if (settings.planes == BlendSettings::Planes::picture) return {};
    auto result = over.named;
    result.insert(under.named.begin(), under.named.end());
    // What has no height lies flat on what has one.
    const bool high = under.plane(height_plane) != nullptr, rises = over.plane(height_plane) != nullptr;
    const bool whole = !over.coverage && !within && settings.amount >= 0.5f;
    const float amount = settings.amount;
    for (auto& [name, plane] : result) {
        const PlaneRef below = under.plane(name), above = over.plane(name);
        if (name == height_plane && !rises) continue;
        if (name == height_plane && (!high || sums_heights(settings.blend))) {
            plane = joined_height(under, over, settings, within, job);
            continue;
        }
        if (whole) continue;
        Plane out = (above ? above : below)->alike();
        for_rows(job, out, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < out.width(); ++x) {
                    const float cover =
                        amount * (over.coverage ? over.coverage->row(y)[x] : 1.0f) * (within ? within->row(y)[x] : 1.0f);
                    const PlaneRef& from = cover >= 0.5f ? above : below;
                    out.row(y)[x] = from ? from->row(y)[x] : 0.0f;
                }
        });
        plane = share(std::move(out));
    }
    return result;
}

}  // namespace

Bundle blended(const Bundle& under, const Bundle& over, const BlendSettings& given, const PlaneRef& within, const Job& job) {
    BlendSettings settings = given;
    if (sums_heights(settings.blend)) settings.linear = false;
    const Size size = under.size();
    const int channels = under.grey() && over.grey() ? 1 : 3;
    const bool covered = static_cast<bool>(under.coverage);
    const bool opaque = !covered && !over.coverage && !within && !settings.linear;
    std::vector<Plane> out;
    for (int c = 0; c < channels; ++c) out.push_back(under.channel(0).alike());
    Plane out_cover = covered ? under.channel(0).alike() : Plane();

    for_rows(job, out.front(), [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            BlendRows rows{};
            for (int c = 0; c < channels; ++c) {
                rows.under[c] = under.channel(c).row(y);
                rows.over[c] = over.channel(c).row(y);
                rows.out[c] = out[static_cast<std::size_t>(c)].row(y);
            }
            rows.under_cover = under.coverage ? under.coverage->row(y) : nullptr;
            rows.over_cover = over.coverage ? over.coverage->row(y) : nullptr;
            rows.within = within ? within->row(y) : nullptr;
            rows.out_cover = covered ? out_cover.row(y) : nullptr;
            const auto [left, right] = rows.touched(size.width);
            rows.keep(channels, 0, left), rows.keep(channels, right, size.width);
            const BlendRows some = rows.from(left);
            const int count = right - left;
            dispatch(settings.blend, [&](auto b) {
                if constexpr (!non_separable(decltype(b)::value)) {
                    if (opaque)
                        return blend_row_opaque<decltype(b)::value>(some, channels, count, settings.amount, settings.width);
                    if constexpr (decltype(b)::value != Blend::plus)
                        if (!settings.linear)
                            return blend_row_covered<decltype(b)::value>(some, channels, count, settings.amount, settings.width);
                }
                blend_row<decltype(b)::value>(some, channels, count, settings.amount, settings.linear, settings.width);
            });
        }
    });

    Bundle result;
    for (Plane& plane : out) result.colour.push_back(share(std::move(plane)));
    if (covered) result.coverage = share(std::move(out_cover));
    result.named = joined_planes(under, over, settings, within, job);
    return result;
}

}  // namespace loom
