// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"

namespace loom {

namespace {

enum class Colours { all, reds, yellows, greens, cyans, blues, magentas };

struct Settings {
    double hue = 0, saturation = 0, lightness = 0;
    Colours range = Colours::all;
    bool colourise = false;
    Colour tint{0.62f, 0.42f, 0.24f};
};

constexpr float degree = 3.14159265f / 180;
/// OKLCh hues of the sRGB primaries and secondaries, in degrees.
constexpr float centres[] = {29.2f, 109.8f, 142.5f, 194.8f, 264.1f, 328.4f};

class HueSat final : public PixelStep {
public:
    explicit HueSat(const Settings& s) : s_(s), tint_(to_lch(to_oklab(s.tint))) {}

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
    /// 1 at the centre of the chosen colours, falling smoothly to 0 at the neighbouring centres; greys have no hue.
    float weight(Lch lch) const {
        if (s_.range == Colours::all) return 1;
        const int own = static_cast<int>(s_.range) - 1;
        float off = lch.hue / degree - centres[own];
        off -= 360 * std::round(off / 360);
        const float next = off >= 0 ? centres[(own + 1) % 6] - centres[own] : centres[own] - centres[(own + 5) % 6];
        const float width = next < 0 ? next + 360 : next;
        const float t = std::clamp(1 - std::abs(off) / width, 0.0f, 1.0f);
        return t * t * (3 - 2 * t) * std::min(1.0f, lch.chroma / 0.02f);
    }

    Settings s_;
    Lch tint_;
};

}  // namespace

StepDescription describe_huesat() {
    StepDescription base;
    base.id = "huesat", base.title = "Hue, saturation, lightness", base.family = Family::tune;
    base.summary = "Turns hues, strengthens or calms colour, lightens or darkens; in OKLCh.";
    base.headline = {"hue", "saturation"};
    const Range share{-100, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("hue", "Hue", &Settings::hue, {-180, 180, Unit::degrees}, "How far hues are turned.")
        .number("saturation", "Saturation", &Settings::saturation, {-100, 400, Unit::percent, 100},
                "Stronger or calmer colour; -100 % is grey.")
        .number("lightness", "Lightness", &Settings::lightness, share, "Towards white or towards black.")
        .choice("range", "Colours", &Settings::range,
                {{"all", "All"},
                 {"reds", "Reds"},
                 {"yellows", "Yellows"},
                 {"greens", "Greens"},
                 {"cyans", "Cyans"},
                 {"blues", "Blues"},
                 {"magentas", "Magentas"}},
                "Which hues change.")
        .toggle("colourise", "Colourise", &Settings::colourise, "Gives everything the hue and strength of one colour first.")
        .colour("tint", "Colour", &Settings::tint, "The colour that everything is given.", {"colourise", {"on"}})
        .shape([](const Settings&, Shape in) {
            return Shape{3, in.coverage};
        })
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<HueSat>(s); });
}

}  // namespace loom
