// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/structures/ramp.h"

namespace loom {

namespace grain_step {
namespace {

enum class Noise { even, gaussian };
enum class Colouring { grey, coloured };

struct Settings {
    double strength = 12;
    Noise spread = Noise::gaussian;
    Colouring colouring = Colouring::grey;
    double lightness = 100, chroma = 0, hue = 0;
    double size = 1;
    double dark = 100, mid = 100, light = 100;
};

class Grain final : public PixelStep {
public:
    Grain(const Settings& s, const StepContext& context) : s_(s) {
        const int fields = s.colouring == Colouring::coloured ? 3 : 1;
        for (int k = 0; k < fields + 2; ++k) {
            GrainSettings grains;
            grains.spread = s.spread == Noise::even ? Spread::even : Spread::gaussian;
            grains.across = std::max(1, static_cast<int>(std::lround(context.tile.width / s.size)));
            grains.down = std::max(1, static_cast<int>(std::lround(context.tile.height / s.size)));
            grains.seed = mix64(context.seed, static_cast<std::uint64_t>(k));
            fields_.emplace_back(grains, context.size);
        }
    }

    void apply(PixelRow& row) const override {
        const auto count = static_cast<std::size_t>(row.count);
        std::vector<float> weight(count), noise(count);
        weigh(row, weight);
        const float add = strength(s_.lightness);
        if (add > 0) {
            if (s_.colouring == Colouring::coloured) row.to_colour();
            for (int c = 0; c < row.channels; ++c) {
                if (c == 0 || s_.colouring == Colouring::coloured)
                    fields_[static_cast<std::size_t>(c)].row(row.y, row.x, row.count, noise.data());
                for (std::size_t x = 0; x < count; ++x) row.channel[c][x] += add * weight[x] * noise[x];
            }
        }
        if (s_.chroma > 0 || s_.hue > 0) stray_in_colour(row, weight);
    }

private:
    float strength(double share) const { return full_deviation * static_cast<float>(s_.strength / 100 * share / 100); }

    /// How much grain each pixel takes by its tone: soft thirds.
    void weigh(const PixelRow& row, std::vector<float>& weight) const {
        const auto dark = static_cast<float>(s_.dark / 100), mid = static_cast<float>(s_.mid / 100),
                   light = static_cast<float>(s_.light / 100);
        if (dark == 1 && mid == 1 && light == 1) {
            std::fill(weight.begin(), weight.end(), 1.0f);
            return;
        }
        for (std::size_t x = 0; x < weight.size(); ++x) {
            const float tone = row.channels == 1
                                   ? row.channel[0][x]
                                   : 0.3f * row.channel[0][x] + 0.59f * row.channel[1][x] + 0.11f * row.channel[2][x];
            const float t = std::clamp(tone, 0.0f, 1.0f);
            const float d = std::max(0.0f, 1 - 2 * t), l = std::max(0.0f, 2 * t - 1);
            weight[x] = dark * d + light * l + mid * (1 - d - l);
        }
    }

    void stray_in_colour(PixelRow& row, const std::vector<float>& weight) const {
        row.to_colour();
        std::vector<float> chroma(weight.size()), hue(weight.size());
        fields_[fields_.size() - 2].row(row.y, row.x, row.count, chroma.data());
        fields_[fields_.size() - 1].row(row.y, row.x, row.count, hue.data());
        // Full strength moves chroma by a quarter of what screens show and hue by a sixth of the circle.
        const float by_chroma = strength(s_.chroma) * 0.3f, by_hue = strength(s_.hue) * 3.6f;
        for (std::size_t x = 0; x < weight.size(); ++x) {
            Lch lch = to_lch(to_oklab({row.channel[0][x], row.channel[1][x], row.channel[2][x]}));
            lch.chroma = std::max(0.0f, lch.chroma + by_chroma * weight[x] * chroma[x]);
            lch.hue += by_hue * weight[x] * hue[x];
            const Colour colour = from_oklab(from_lch(lch));
            row.channel[0][x] = colour.red, row.channel[1][x] = colour.green, row.channel[2][x] = colour.blue;
        }
    }

    Settings s_;
    std::vector<GrainField> fields_;
};

}  // namespace
}  // namespace grain_step

StepDescription describe_grain() {
    using namespace grain_step;
    StepDescription base;
    base.id = "grain", base.title = "Grain", base.family = Family::roughen;
    base.summary = "Adds noise to the picture, in tone or in colour.";
    base.words = "noise film speckle dust dirt texture sand";
    base.seeded = true;
    base.headline = {"strength"};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("strength", "Strength", &Settings::strength, {0, 400, Unit::percent, 100, Scale::root},
                "How strong the grain is; 100 % even grain covers all tones.")
        .formerly("amount")
        .choice("spread", "Spread", &Settings::spread, {{"even", "Even"}, {"gaussian", "Gaussian"}},
                "All strengths alike often, or mostly weak ones.")
        .choice("colour", "Colour", &Settings::colouring, {{"grey", "Grey"}, {"coloured", "Coloured"}},
                "The same for red, green and blue, or each by itself.")
        .number("lightness", "Lightness share", &Settings::lightness, share, "How much of the grain goes into tone.")
        .number("chroma", "Chroma share", &Settings::chroma, share, "How much of the grain goes into strength of colour.")
        .number("hue", "Hue share", &Settings::hue, share, "How much of the grain goes into hue.")
        .number("size", "Size", &Settings::size, {1, 256, Unit::px, 16, Scale::root}, "Size of a grain.")
        .number("dark", "On darks", &Settings::dark, share, "How much grain dark tones take.")
        .number("mid", "On mid tones", &Settings::mid, share, "How much grain middle tones take.")
        .number("light", "On lights", &Settings::light, share, "How much grain light tones take.")
        .shape([](const Settings& s, Shape in) {
            const bool colour = s.colouring == Colouring::coloured || s.chroma > 0 || s.hue > 0;
            return Shape{colour ? 3 : in.channels, in.coverage};
        })
        .per_pixel(
            [](const Settings& s, const StepContext& c) -> std::unique_ptr<PixelStep> { return std::make_unique<Grain>(s, c); });
}

}  // namespace loom
