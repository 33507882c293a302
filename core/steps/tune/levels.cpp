// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/height_follows.h"
#include "core/steps/channel_choice.h"

namespace loom {

namespace levels_step {
namespace {

struct Settings {
    double in_black = 0, middle = 1, in_white = 1;
    double out_black = 0, out_white = 1;
    Channels channel = Channels::all;
    bool height_follows = true;
};

class Levels final : public PixelStep {
public:
    explicit Levels(const Settings& s) : s_(s) {
        for (int i = 0; i <= steps + 1; ++i)
            table_[static_cast<std::size_t>(i)] =
                static_cast<float>(std::pow(std::min(1.0, static_cast<double>(i) / steps), 1 / s.middle));
    }
    void apply(PixelRow& row) const override {
        const auto black = static_cast<float>(s_.in_black);
        // White at or below black makes a hard step.
        const auto factor = static_cast<float>(1 / std::max(1e-5, s_.in_white - s_.in_black));
        const auto low = static_cast<float>(s_.out_black), range = static_cast<float>(s_.out_white - s_.out_black);
        for_chosen(s_.channel, row, [&](float* values) {
            for (int x = 0; x < row.count; ++x) {
                const float t = std::clamp((values[x] - black) * factor, 0.0f, 1.0f);
                values[x] = low + range * bent(t);
            }
        });
    }

private:
    static constexpr int steps = 4096;
    float bent(float t) const {
        if (s_.middle == 1) return t;
        // Near black the curve is too steep for the table.
        if (!(t >= 0.02f)) return std::pow(t, static_cast<float>(1 / s_.middle));
        const float scaled = t * steps;
        const auto index = static_cast<std::size_t>(scaled);
        return table_[index] + (scaled - static_cast<float>(index)) * (table_[index + 1] - table_[index]);
    }
    Settings s_;
    float table_[steps + 2];
};

}  // namespace
}  // namespace levels_step

StepDescription describe_levels() {
    using namespace levels_step;
    StepDescription base;
    base.id = "levels", base.title = "Levels", base.family = Family::tune;
    base.summary = "Pulls tones tight: what becomes black, white and the middle. Clamps.";
    base.words = "black white point contrast tighten brightness darker lighter clip";
    base.headline = {"in-black", "in-white"};
    const Range tone{0, 1, Unit::tone};
    Describe<Settings> describe(std::move(base));
    describe.number("in-black", "Black from", &Settings::in_black, tone, "Tones up to this become black.")
        .on_histogram(ToneHandle::black)
        .number("middle", "Middle", &Settings::middle, {0.05, 20, Unit::none, 4, Scale::root},
                "Above 1 lightens the middle tones, below 1 darkens them.")
        .on_histogram(ToneHandle::middle)
        .number("in-white", "White from", &Settings::in_white, tone, "Tones from this on become white.")
        .on_histogram(ToneHandle::white)
        .number("out-black", "Black becomes", &Settings::out_black, tone, "The tone that black is given.")
        .on_histogram(ToneHandle::out_black)
        .number("out-white", "White becomes", &Settings::out_white, tone, "The tone that white is given.")
        .on_histogram(ToneHandle::out_white)
        .choice("channel", "Channel", &Settings::channel, channel_choices(), channel_help)
        .shape([](const Settings& s, Shape in) { return chosen_shape(s.channel, in); })
        .notice([](const Settings& s) {
            return s.in_white <= s.in_black
                       ? std::string("White from is at or below black from: every tone becomes black or white.")
                       : std::string();
        });
    return describe_height_follows(describe)
        .carries_height([](const Settings& s) { return s.height_follows && s.channel == Channels::all; })
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<Levels>(s); });
}

}  // namespace loom
