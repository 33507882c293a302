// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/structures/ramp.h"

namespace loom {

namespace gradientmap_step {
namespace {

enum class Source { luma, lightness, red, green, blue };

struct Settings {
    Stops stops{{0, {0.20f, 0.12f, 0.08f}, 0}, {0.5, {0.66f, 0.45f, 0.27f}, 0}, {1, {0.95f, 0.86f, 0.70f}, 0}};
    bool reverse = false;
    Source source = Source::luma;
    Interpolation interpolation = Interpolation::oklab;
};

/// A ramp of greys leaves a grey picture grey.
bool all_grey(const Settings& s) {
    return std::all_of(s.stops.begin(), s.stops.end(), [](const Stop& stop) {
        return stop.colour.red == stop.colour.green && stop.colour.green == stop.colour.blue;
    });
}

class GradientMap final : public PixelStep {
public:
    GradientMap(const Settings& s, const StepContext& context)
        : s_(s), ramp_(s.stops, s.interpolation), grey_(all_grey(s)), grains_(stop_grains(context)) {}

    void apply(PixelRow& row) const override {
        std::vector<float> noise;
        if (ramp_.has_grain()) {
            noise.resize(static_cast<std::size_t>(row.count));
            grains_.row(row.y, row.x, row.count, noise.data());
        }
        if (grey_ && row.channels == 1) return map_grey(row, noise);
        row.to_colour();
        for (int x = 0; x < row.count; ++x) {
            const float tone = tone_at(row, x);
            const float place = s_.reverse ? 1 - tone : tone;
            const Colour colour = ramp_.colour(place);
            const float add = noise.empty() ? 0 : noise[static_cast<std::size_t>(x)] * ramp_.grain(place) * full_deviation;
            row.channel[0][x] = colour.red + add, row.channel[1][x] = colour.green + add, row.channel[2][x] = colour.blue + add;
        }
    }

private:
    void map_grey(PixelRow& row, const std::vector<float>& noise) const {
        for (int x = 0; x < row.count; ++x) {
            float tone = row.channel[0][x];
            if (s_.source == Source::lightness) tone = to_oklab({tone, tone, tone}).lightness;
            const float place = s_.reverse ? 1 - tone : tone;
            const float add = noise.empty() ? 0 : noise[static_cast<std::size_t>(x)] * ramp_.grain(place) * full_deviation;
            row.channel[0][x] = ramp_.colour(place).green + add;
        }
    }
    float tone_at(const PixelRow& row, int x) const {
        const float r = row.channel[0][x], g = row.channel[1][x], b = row.channel[2][x];
        switch (s_.source) {
            case Source::luma: return 0.3f * r + 0.59f * g + 0.11f * b;
            case Source::lightness: return to_oklab({r, g, b}).lightness;
            case Source::red: return r;
            case Source::green: return g;
            case Source::blue: return b;
        }
        return 0;
    }
    Settings s_;
    Ramp ramp_;
    bool grey_;
    GrainField grains_;
};

}  // namespace
}  // namespace gradientmap_step

StepDescription describe_gradientmap() {
    using namespace gradientmap_step;
    StepDescription base;
    base.id = "gradientmap", base.title = "Gradient map", base.family = Family::tune;
    base.summary = "Gives every tone the colour that a ramp has there.";
    base.words = "tint colourise recolour duotone ramp palette gold wood colour warm";
    base.seeded = true;
    base.headline = {"stops"};
    return Describe<Settings>(std::move(base))
        .stops("stops", "Stops", &Settings::stops, "Colours from black to white; each has a place and a grain amount.")
        .toggle("reverse", "Reverse", &Settings::reverse, "Reads the ramp from its other end.")
        .choice("channel", "Tone from", &Settings::source,
                {{"luma", "Luma"}, {"lightness", "Lightness"}, {"red", "Red"}, {"green", "Green"}, {"blue", "Blue"}},
                "Which tone is looked up.")
        .choice(interpolation_id, interpolation_title, &Settings::interpolation, interpolation_choices(), interpolation_help)
        .shape([](const Settings& s, Shape in) {
            return Shape{in.channels == 1 && all_grey(s) ? 1 : 3, in.coverage};
        })
        .draws([](const Settings& s) {
            return std::any_of(s.stops.begin(), s.stops.end(), [](const Stop& stop) { return stop.grain > 0; });
        })
        .per_pixel([](const Settings& s, const StepContext& c) -> std::unique_ptr<PixelStep> {
            return std::make_unique<GradientMap>(s, c);
        });
}

}  // namespace loom
