// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/colour/blend.h"

#include <algorithm>
#include <cmath>

#include "core/colour/colour.h"

namespace loom {

namespace {

constexpr BlendName names[] = {
    {Blend::normal, "normal", "Normal"},
    {Blend::multiply, "multiply", "Multiply"},
    {Blend::screen, "screen", "Screen"},
    {Blend::overlay, "overlay", "Overlay"},
    {Blend::darken, "darken", "Darken"},
    {Blend::lighten, "lighten", "Lighten"},
    {Blend::colour_dodge, "colour-dodge", "Colour dodge"},
    {Blend::colour_burn, "colour-burn", "Colour burn"},
    {Blend::hard_light, "hard-light", "Hard light"},
    {Blend::soft_light, "soft-light", "Soft light"},
    {Blend::difference, "difference", "Difference"},
    {Blend::exclusion, "exclusion", "Exclusion"},
    {Blend::hue, "hue", "Hue"},
    {Blend::saturation, "saturation", "Saturation"},
    {Blend::colour, "colour", "Colour"},
    {Blend::luminosity, "luminosity", "Luminosity"},
    {Blend::plus, "plus", "Plus"},
};

float unit(float value) { return std::min(1.0f, std::max(0.0f, value)); }

// The separable formulas of section 10.1; `under` is the backdrop Cb, `over` the source Cs.
template <Blend B>
float channel(float under, float over) {
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
}

// The non-separable formulas of section 10.2.
float lum(Rgb c) { return 0.3f * c.red + 0.59f * c.green + 0.11f * c.blue; }

Rgb clip_colour(Rgb c) {
    const float l = lum(c);
    const float n = std::min({c.red, c.green, c.blue}), x = std::max({c.red, c.green, c.blue});
    auto pull = [&](float factor) { c = {l + (c.red - l) * factor, l + (c.green - l) * factor, l + (c.blue - l) * factor}; };
    if (n < 0) pull(l / (l - n));
    if (x > 1) pull((1 - l) / (x - l));
    return c;
}

Rgb set_lum(Rgb c, float l) {
    const float d = l - lum(c);
    return clip_colour({c.red + d, c.green + d, c.blue + d});
}

float sat(Rgb c) { return std::max({c.red, c.green, c.blue}) - std::min({c.red, c.green, c.blue}); }

Rgb set_sat(Rgb c, float s) {
    const float low = std::min({c.red, c.green, c.blue}), range = sat(c);
    if (range <= 0) return {0, 0, 0};
    const float factor = s / range;
    return {(c.red - low) * factor, (c.green - low) * factor, (c.blue - low) * factor};
}

template <Blend B>
Rgb formula(Rgb under, Rgb over) {
    if constexpr (B == Blend::hue)
        return set_lum(set_sat(over, sat(under)), lum(under));
    else if constexpr (B == Blend::saturation)
        return set_lum(set_sat(under, sat(over)), lum(under));
    else if constexpr (B == Blend::colour)
        return set_lum(over, lum(under));
    else if constexpr (B == Blend::luminosity)
        return set_lum(under, lum(over));
    else
        return {channel<B>(under.red, over.red), channel<B>(under.green, over.green), channel<B>(under.blue, over.blue)};
}

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
        KEEN_LOOM_CASE(normal);
#undef KEEN_LOOM_CASE
    }
    return work(std::integral_constant<Blend, Blend::normal>{});
}

constexpr bool non_separable(Blend blend) { return blend >= Blend::hue && blend <= Blend::luminosity; }
constexpr bool any_range(Blend blend) { return blend == Blend::normal || blend == Blend::plus; }

struct BlendRows {
    const float* under[3];
    const float* over[3];
    const float* under_cover;  // null: opaque
    const float* over_cover;   // null: opaque
    const float* within;       // null: everywhere
    float* out[3];
    float* out_cover;  // null: opaque
};

template <Blend B>
void blend_row(const BlendRows& rows, int channels, int count, float amount, bool linear) {
    for (int x = 0; x < count; ++x) {
        const float under_cover = rows.under_cover ? rows.under_cover[x] : 1.0f;
        const float over_cover = rows.over_cover ? rows.over_cover[x] : 1.0f;
        const float share = amount * (rows.within ? rows.within[x] : 1.0f);
        const float cover = over_cover * share;
        float below[3], above[3], mixed[3];
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
            const Rgb result =
                formula<B>({ready(below[0]), ready(below[channels > 1 ? 1 : 0]), ready(below[channels > 1 ? 2 : 0])},
                           {ready(above[0]), ready(above[channels > 1 ? 1 : 0]), ready(above[channels > 1 ? 2 : 0])});
            const float parts[3] = {result.red, result.green, result.blue};
            for (int c = 0; c < channels; ++c) mixed[c] = parts[c];
        } else {
            for (int c = 0; c < channels; ++c) mixed[c] = channel<B>(ready(below[c]), ready(above[c]));
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
void blend_row_opaque(const BlendRows& rows, int channels, int count, float amount) {
    for (int c = 0; c < channels; ++c) {
        const float *under = rows.under[c], *over = rows.over[c];
        float* out = rows.out[c];
        for (int x = 0; x < count; ++x) {
            const float below = any_range(B) ? under[x] : unit(under[x]), above = any_range(B) ? over[x] : unit(over[x]);
            const float mixed = channel<B>(below, above);
            // Exact at both ends: object numbers pass through a join unharmed.
            out[x] = B == Blend::plus ? under[x] + amount * above : amount * mixed + (1 - amount) * under[x];
        }
    }
}

}  // namespace

std::span<const BlendName> blend_names() { return names; }

std::optional<Blend> find_blend(std::string_view id) {
    for (const BlendName& name : names)
        if (name.id == id) return name.blend;
    return std::nullopt;
}

std::string_view blend_id(Blend blend) { return names[static_cast<std::size_t>(blend)].id; }
std::string_view blend_title(Blend blend) { return names[static_cast<std::size_t>(blend)].title; }

Rgb blend_opaque(Blend blend, Rgb under, Rgb over) {
    auto ready = [&](Rgb c) { return any_range(blend) ? c : Rgb{unit(c.red), unit(c.green), unit(c.blue)}; };
    return dispatch(blend, [&](auto b) { return formula<decltype(b)::value>(ready(under), ready(over)); });
}

namespace {

/// What both hand on by name: the upper one's where it covers at least half, the lower one's elsewhere.
NamedPlanes joined_planes(const Bundle& under, const Bundle& over, float amount, const PlaneRef& within, const Job& job) {
    auto result = over.named;
    result.insert(under.named.begin(), under.named.end());
    if (!over.coverage && !within && amount >= 0.5f) return result;
    for (auto& [name, plane] : result) {
        const PlaneRef below = under.plane(name), above = over.plane(name);
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

Bundle blended(const Bundle& under, const Bundle& over, const BlendSettings& settings, const PlaneRef& within, const Job& job) {
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
            dispatch(settings.blend, [&](auto b) {
                if constexpr (!non_separable(decltype(b)::value)) {
                    if (opaque) return blend_row_opaque<decltype(b)::value>(rows, channels, size.width, settings.amount);
                }
                blend_row<decltype(b)::value>(rows, channels, size.width, settings.amount, settings.linear);
            });
        }
    });

    Bundle result;
    for (Plane& plane : out) result.colour.push_back(share(std::move(plane)));
    if (covered) result.coverage = share(std::move(out_cover));
    result.named = joined_planes(under, over, settings.amount, within, job);
    return result;
}

}  // namespace loom
