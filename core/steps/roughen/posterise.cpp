// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/height_follows.h"

namespace loom {

namespace posterise_step {
namespace {

struct Settings {
    int count = 5;
    double softness = 10;
    bool height_follows = true;
};

class Bands final : public PixelStep {
public:
    explicit Bands(const Settings& s) : count_(static_cast<float>(s.count)), soft_(static_cast<float>(s.softness / 100)) {}
    void apply(PixelRow& row) const override {
        // Bands of tone: all channels move alike, so that colours stay what they are.
        for (int x = 0; x < row.count; ++x) {
            const float tone = row.channels == 1
                                   ? row.channel[0][x]
                                   : 0.3f * row.channel[0][x] + 0.59f * row.channel[1][x] + 0.11f * row.channel[2][x];
            const float off = band(tone) - tone;
            for (int c = 0; c < row.channels; ++c) row.channel[c][x] += off;
        }
    }

private:
    /// Equal shares of the range become equally spaced tones; between them a soft way.
    float band(float value) const {
        const float t = std::clamp(value, 0.0f, 1.0f) * count_ - 0.5f, whole = std::floor(t), rest = t - whole;
        const float edge = soft_ > 0 ? std::clamp((rest - 0.5f) / soft_ + 0.5f, 0.0f, 1.0f) : (rest < 0.5f ? 0.0f : 1.0f);
        const float step = std::clamp(whole + edge * edge * (3 - 2 * edge), 0.0f, count_ - 1);
        return step / (count_ - 1);
    }
    float count_, soft_;
};

}  // namespace
}  // namespace posterise_step

StepDescription describe_posterise() {
    using namespace posterise_step;
    StepDescription base;
    base.id = "posterise", base.title = "Bands", base.family = Family::roughen;
    base.summary = "Gathers tones into a few even bands.";
    base.words = "bands steps levels flat fewer colours cartoon layers contour";
    base.headline = {"count"};
    Describe<Settings> describe(std::move(base));
    describe.count("count", "Count", &Settings::count, {2, 256, Unit::none, 16}, "How many tones are left.")
        .number("softness", "Softness", &Settings::softness, {0, 100, Unit::percent},
                "How softly one band goes over into the next.");
    return describe_height_follows(describe)
        .carries_height([](const Settings& s) { return s.height_follows; })
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<Bands>(s); });
}

}  // namespace loom
