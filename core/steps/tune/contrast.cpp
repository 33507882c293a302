// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/height_follows.h"

namespace loom {

namespace contrast_step {
namespace {

struct Settings {
    double exposure = 0, brightness = 0, contrast = 0;
    double pivot = 0.5;
    bool soft = true;
    bool height_follows = true;
};

class Contrast final : public PixelStep {
public:
    explicit Contrast(const Settings& s)
        : s_(s),
          gain_(static_cast<float>(std::exp2(s.exposure))),
          add_(static_cast<float>(s.brightness / 100)),
          // -100 % flattens everything to the pivot, 100 % is ten times as steep.
          slope_(static_cast<float>(s.contrast < 0 ? 1 + s.contrast / 100 : 1 / (1 - 0.9 * s.contrast / 100))),
          pivot_(static_cast<float>(s.pivot)) {}

    void apply(PixelRow& row) const override {
        for (int c = 0; c < row.channels; ++c)
            for (int x = 0; x < row.count; ++x) {
                float value = row.channel[c][x];
                if (s_.exposure != 0) value = to_encoded(to_linear(value) * gain_);
                value = pivot_ + slope_ * (value + add_ - pivot_);
                row.channel[c][x] = s_.soft ? softened(value) : value;
            }
    }

private:
    /// Straight through the middle, bent towards black and white in the last quarter on either side.
    static float softened(float value) {
        constexpr float knee = 0.25f;
        if (value > 1 - knee) return 1 - knee * std::exp(-(value - (1 - knee)) / knee);
        if (value < knee) return knee * std::exp((value - knee) / knee);
        return value;
    }
    Settings s_;
    float gain_, add_, slope_, pivot_;
};

}  // namespace
}  // namespace contrast_step

StepDescription describe_contrast() {
    using namespace contrast_step;
    StepDescription base;
    base.id = "contrast", base.title = "Exposure and contrast", base.family = Family::tune;
    base.summary = "Light, brightness and contrast around a tone that stays.";
    base.words = "brightness lighter darker exposure gamma punch";
    base.headline = {"contrast", "exposure"};
    const Range share{-100, 100, Unit::percent};
    Describe<Settings> describe(std::move(base));
    describe.number("exposure", "Exposure", &Settings::exposure, {-10, 10, Unit::stops, 3}, "Doubles the light with each stop.")
        .number("brightness", "Brightness", &Settings::brightness, share, "Adds the same to every tone.")
        .number("contrast", "Contrast", &Settings::contrast, share, "Spreads tones from the pivot or draws them to it.")
        .number("pivot", "Pivot", &Settings::pivot, {0, 1, Unit::tone}, "The tone that contrast leaves alone.")
        .toggle("soft", "Soft limits", &Settings::soft,
                "Bends tones gently towards black and white instead of letting them run over.");
    return describe_height_follows(describe)
        .carries_height([](const Settings& s) { return s.height_follows; })
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<Contrast>(s); });
}

}  // namespace loom
