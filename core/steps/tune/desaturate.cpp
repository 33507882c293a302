// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/steps/channel_choice.h"

namespace loom {

namespace desaturate_step {
namespace {

enum class By { lightness, luma, mean };

struct Settings {
    By by = By::lightness;
};

class Desaturate final : public PixelStep {
public:
    explicit Desaturate(const Settings& s) : by_(s.by) {}

    void apply(PixelRow& row) const override {
        // What is grey already stays exactly.
        if (row.channels == 1) return;
        for (int x = 0; x < row.count; ++x) {
            const Colour colour{row.channel[0][x], row.channel[1][x], row.channel[2][x]};
            float grey = 0;
            switch (by_) {
                case By::lightness: grey = lightness_tone(colour); break;
                case By::luma: grey = 0.2126f * colour.red + 0.7152f * colour.green + 0.0722f * colour.blue; break;
                case By::mean: grey = (colour.red + colour.green + colour.blue) / 3; break;
            }
            for (int c = 0; c < 3; ++c) row.channel[c][x] = grey;
        }
    }

private:
    By by_;
};

}  // namespace
}  // namespace desaturate_step

StepDescription describe_desaturate() {
    using namespace desaturate_step;
    StepDescription base;
    base.id = "desaturate", base.title = "Desaturate", base.family = Family::tune;
    base.summary = "Takes colour away and leaves how light it is.";
    base.words = "grey gray black and white monochrome colourless";
    return Describe<Settings>(std::move(base))
        .choice("by", "By", &Settings::by, {{"lightness", "Lightness"}, {"luma", "Luma"}, {"mean", "Mean"}},
                "As light as it looks (OKLab); by the weights of video (Rec. 709), which makes blue dark; or the mean of the "
                "channels.")
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<Desaturate>(s); });
}

}  // namespace loom
