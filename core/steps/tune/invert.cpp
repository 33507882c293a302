// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/steps/height_follows.h"
#include "core/steps/channel_choice.h"

namespace loom {

namespace invert_step {
namespace {

struct Settings {
    Channels channel = Channels::all;
    bool height_follows = true;
};

class Invert final : public PixelStep {
public:
    explicit Invert(const Settings& s) : channel_(s.channel) {}
    void apply(PixelRow& row) const override {
        for_chosen(channel_, row, [&](float* values) {
            for (int x = 0; x < row.count; ++x) values[x] = 1 - values[x];
        });
    }

private:
    Channels channel_;
};

}  // namespace
}  // namespace invert_step

StepDescription describe_invert() {
    using namespace invert_step;
    StepDescription base;
    base.id = "invert", base.title = "Invert", base.family = Family::tune;
    base.summary = "Turns light to dark and dark to light.";
    base.words = "negative reverse opposite flip tones";
    Describe<Settings> describe(std::move(base));
    describe.choice("channel", "Channel", &Settings::channel, channel_choices(), channel_help)
        .shape([](const Settings& s, Shape in) { return chosen_shape(s.channel, in); });
    return describe_height_follows(describe)
        .carries_height([](const Settings& s) { return s.height_follows && s.channel == Channels::all; })
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<Invert>(s); });
}

}  // namespace loom
