// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/catalogue/describe.h"
#include "core/steps/channel_choice.h"

namespace loom {

namespace balance_step {
namespace {

struct Settings {
    double dark_red = 0, dark_green = 0, dark_blue = 0;
    double middle_red = 0, middle_green = 0, middle_blue = 0;
    double light_red = 0, light_green = 0, light_blue = 0;
    bool keep = true;
};

class Balance final : public PixelStep {
public:
    explicit Balance(const Settings& s)
        : add_{{share(s.dark_red), share(s.dark_green), share(s.dark_blue)},
               {share(s.middle_red), share(s.middle_green), share(s.middle_blue)},
               {share(s.light_red), share(s.light_green), share(s.light_blue)}},
          keep_(s.keep) {}

    void apply(PixelRow& row) const override {
        row.to_colour();
        for (int x = 0; x < row.count; ++x) {
            const Colour before{row.channel[0][x], row.channel[1][x], row.channel[2][x]};
            const float tone = lightness_tone(before), t = std::clamp(tone, 0.0f, 1.0f);
            // Bernstein's polynomials of degree 2: smooth, and 1 together at every tone.
            const float weights[3] = {(1 - t) * (1 - t), 2 * t * (1 - t), t * t};
            Colour after = before;
            for (int range = 0; range < 3; ++range) {
                const Colour& add = add_[range];
                after.red += weights[range] * add.red;
                after.green += weights[range] * add.green;
                after.blue += weights[range] * add.blue;
            }
            if (after == before) continue;
            if (keep_) after = with_lightness_tone(after, tone);
            row.channel[0][x] = after.red, row.channel[1][x] = after.green, row.channel[2][x] = after.blue;
        }
    }

private:
    /// At 100 % half of all tones.
    static float share(double percent) { return static_cast<float>(percent / 200); }
    Colour add_[3];
    bool keep_;
};

}  // namespace
}  // namespace balance_step

StepDescription describe_balance() {
    using namespace balance_step;
    StepDescription base;
    base.id = "balance", base.title = "Colour balance", base.family = Family::tune;
    base.summary = "Moves colour towards red, green or blue and away from it, in shadows, middles and lights apart.";
    base.words = "tint warm cool colour cast temperature shadows highlights";
    const Range axis{-100, 100, Unit::percent};
    constexpr std::string_view red = "Towards red, or below 0 towards cyan.",
                               green = "Towards green, or below 0 towards magenta.",
                               blue = "Towards blue, or below 0 towards yellow.";
    return Describe<Settings>(std::move(base))
        .toggle("keep", "Keep lightness", &Settings::keep, "Gives every place the lightness back that it had.")
        .section("Shadows")
        .number("dark-red", "Red", &Settings::dark_red, axis, red)
        .number("dark-green", "Green", &Settings::dark_green, axis, green)
        .number("dark-blue", "Blue", &Settings::dark_blue, axis, blue)
        .section("Middles")
        .number("middle-red", "Red", &Settings::middle_red, axis, red)
        .number("middle-green", "Green", &Settings::middle_green, axis, green)
        .number("middle-blue", "Blue", &Settings::middle_blue, axis, blue)
        .section("Lights")
        .number("light-red", "Red", &Settings::light_red, axis, red)
        .number("light-green", "Green", &Settings::light_green, axis, green)
        .number("light-blue", "Blue", &Settings::light_blue, axis, blue)
        .shape([](const Settings&, Shape in) {
            return Shape{3, in.coverage};
        })
        .per_pixel(
            [](const Settings& s, const StepContext&) -> std::unique_ptr<PixelStep> { return std::make_unique<Balance>(s); });
}

}  // namespace loom
