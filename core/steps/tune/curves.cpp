// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/tone_curve.h"

#include "core/catalogue/describe.h"
#include "core/steps/height_follows.h"
#include "core/steps/channel_choice.h"

namespace loom {

namespace curves_step {
namespace {

struct Settings {
    CurvePoints all = straight_curve();
    CurvePoints red = straight_curve(), green = straight_curve(), blue = straight_curve();
    CurvePoints lightness = straight_curve();
    bool height_follows = true;
};

bool bends(const CurvePoints& points) { return points != straight_curve(); }
bool bends_one(const Settings& s) { return bends(s.red) || bends(s.green) || bends(s.blue); }

class Curves final : public PixelStep {
public:
    explicit Curves(const Settings& s) {
        // Each channel by itself first, so that what all of them get works on the picture that was balanced.
        note(Channels::red, s.red), note(Channels::green, s.green), note(Channels::blue, s.blue);
        note(Channels::all, s.all), note(Channels::lightness, s.lightness);
    }
    void apply(PixelRow& row) const override {
        for (const auto& [channel, curve] : curves_)
            for_chosen(channel, row, [&, &through = curve](float* values) {
                for (int x = 0; x < row.count; ++x) values[x] = through(values[x]);
            });
    }

private:
    void note(Channels channel, const CurvePoints& points) {
        if (bends(points)) curves_.emplace_back(channel, ToneCurve(points));
    }
    std::vector<std::pair<Channels, ToneCurve>> curves_;
};

}  // namespace
}  // namespace curves_step

StepDescription describe_curves() {
    using namespace curves_step;
    StepDescription base;
    base.id = "curves", base.title = "Curves", base.family = Family::tune;
    base.summary = "Gives every tone another, by curves through points; clamps where a curve is bent.";
    base.words = "tone brightness contrast darker lighter gamma";
    base.headline = {"all"};
    Describe<Settings> describe(std::move(base));
    describe.points("all", "All", &Settings::all, "What each tone of every channel becomes.")
        .points("red", "Red", &Settings::red, "What each tone of red becomes, before the curve of all.")
        .points("green", "Green", &Settings::green, "What each tone of green becomes, before the curve of all.")
        .points("blue", "Blue", &Settings::blue, "What each tone of blue becomes, before the curve of all.")
        .points("lightness", "Lightness", &Settings::lightness,
                "What each lightness becomes, after all others; hue stays, and chroma as far as the screen can show it.")
        .shape([](const Settings& s, Shape in) {
            return Shape{bends_one(s) ? 3 : in.channels, in.coverage};
        });
    return describe_height_follows(describe)
        .carries_height([](const Settings& s) { return s.height_follows && !bends_one(s); })
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<Curves>(s); });
}

}  // namespace loom
