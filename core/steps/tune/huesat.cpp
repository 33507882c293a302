// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"

namespace loom {

namespace huesat_step {
namespace {

struct Settings {
    double hue = 0, saturation = 0, lightness = 0;
    bool near = false;
    Colour like{0.70f, 0.24f, 0.16f};
    double within = 40;
    bool colourise = false;
    Colour tint{0.62f, 0.42f, 0.24f};
};

constexpr float degree = 3.14159265f / 180;

class HueSat final : public PixelStep {
public:
    explicit HueSat(const Settings& s) : s_(s), tint_(to_lch(to_oklab(s.tint))), like_(to_lch(to_oklab(s.like))) {}

    void apply(PixelRow& row) const override {
        row.to_colour();
        const auto turn = static_cast<float>(s_.hue) * degree;
        const auto saturation = static_cast<float>(s_.saturation / 100), lightness = static_cast<float>(s_.lightness / 100);
        for (int x = 0; x < row.count; ++x) {
            Lch lch = to_lch(to_oklab({row.channel[0][x], row.channel[1][x], row.channel[2][x]}));
            if (s_.colourise)
                lch.hue = tint_.hue,
                lch.chroma = tint_.chroma * std::clamp(4 * lch.lightness * (1 - 0.5f * lch.lightness) / 1.5f, 0.0f, 1.0f);
            const float share = weight(lch);
            lch.hue += share * turn;
            lch.chroma *= 1 + share * saturation;
            // Towards white or black, so that both ends stay in range.
            lch.lightness += share * (lightness >= 0 ? lightness * (1 - lch.lightness) : lightness * lch.lightness);
            const Colour colour = from_oklab(from_lch(lch));
            row.channel[0][x] = colour.red, row.channel[1][x] = colour.green, row.channel[2][x] = colour.blue;
        }
    }

private:
    /// 1 at the hue of the colour that is meant, falling smoothly to 0; greys have no hue.
    float weight(Lch lch) const {
        if (!s_.near) return 1;
        float off = (lch.hue - like_.hue) / degree;
        off -= 360 * std::round(off / 360);
        const float t = std::clamp(1 - std::abs(off) / static_cast<float>(s_.within), 0.0f, 1.0f);
        return t * t * (3 - 2 * t) * std::min(1.0f, lch.chroma / 0.02f);
    }

    Settings s_;
    Lch tint_, like_;
};

}  // namespace
}  // namespace huesat_step

StepDescription describe_huesat() {
    using namespace huesat_step;
    StepDescription base;
    base.id = "huesat", base.title = "Hue, saturation, lightness", base.family = Family::tune;
    base.summary = "Turns hues, strengthens or calms colour, lightens or darkens; in OKLCh.";
    base.words = "tint recolour warm cool vivid muted colour cast sepia";
    base.headline = {"hue", "saturation"};
    base.shows_range = {{"near", true}, {"colourise", false}, {"hue", 0.0}, {"saturation", -100.0}, {"lightness", 100.0}};
    const Range share{-100, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("hue", "Hue", &Settings::hue, {-180, 180, Unit::degrees}, "How far hues are turned.")
        .number("saturation", "Saturation", &Settings::saturation, {-100, 400, Unit::percent, 100},
                "Stronger or calmer colour; -100 % is grey.")
        .number("lightness", "Lightness", &Settings::lightness, share, "Towards white or towards black.")
        .toggle("near", "Only like a colour", &Settings::near,
                "Changes only what has about the hue of one colour; W, held, shows what that is on the cloth.")
        .colour("like", "Like", &Settings::like, "The colour whose like change.", {"near", {"on"}})
        .number("within", "Within", &Settings::within, {2, 180, Unit::degrees},
                "How far round the circle of hues the change reaches, fading on the way.", {"near", {"on"}})
        .toggle("colourise", "Colourise", &Settings::colourise, "Gives everything the hue and strength of one colour first.")
        .colour("tint", "Colour", &Settings::tint, "The colour that everything is given.", {"colourise", {"on"}})
        .shape([](const Settings&, Shape in) {
            return Shape{3, in.coverage};
        })
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<HueSat>(s); });
}

}  // namespace loom
