// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"

namespace loom {

namespace vignette_step {
namespace {

enum class Form { round, tile };

struct Settings {
    double size = 70;
    double softness = 100;
    double strength = 60;
    Colour colour{0, 0, 0};
    Form form = Form::round;
    bool soft_ends = true;
};

class Vignette final : public PixelStep {
public:
    Vignette(const Settings& s, const StepContext& context) : s_(s), size_(context.size) {
        grey_ = s.colour.red == s.colour.green && s.colour.green == s.colour.blue;
    }
    void apply(PixelRow& row) const override {
        if (!grey_) row.to_colour();
        const float colour[3] = {s_.colour.red, s_.colour.green, s_.colour.blue};
        for (int x = 0; x < row.count; ++x) {
            // 1 at the middle of each edge.
            const double u = std::abs(2 * (row.x + x + 0.5) / size_.width - 1),
                         v = std::abs(2 * (row.y + 0.5) / size_.height - 1);
            const double distance =
                s_.form == Form::round ? std::hypot(u, v) : std::pow(std::pow(u, 6) + std::pow(v, 6), 1.0 / 6);
            const double soft = std::max(1e-3, s_.softness / 100),
                         t = std::clamp((distance - s_.size / 100 + soft / 2) / soft, 0.0, 1.0);
            // Perlin's quintic begins and ends without a bend, so that neither end is seen.
            const double come = s_.soft_ends ? t * t * t * (t * (6 * t - 15) + 10) : t * t * (3 - 2 * t);
            const auto share = static_cast<float>(s_.strength / 100 * come);
            for (int c = 0; c < row.channels; ++c) row.channel[c][x] += share * (colour[c] - row.channel[c][x]);
        }
    }

private:
    Settings s_;
    Size size_;
    bool grey_;
};

}  // namespace
}  // namespace vignette_step

StepDescription describe_vignette() {
    using namespace vignette_step;
    StepDescription base;
    base.id = "vignette", base.title = "Vignette", base.family = Family::shade;
    base.summary = "Darkens the picture towards its edges, or lays a colour there.";
    base.words = "dark corners frame border edges spotlight";
    base.tiles = Tiling::breaks, base.tiles_note = "dark edges show as a grid when the tile is repeated";
    base.headline = {"strength"};
    return Describe<Settings>(std::move(base))
        .number("size", "Size", &Settings::size, {0, 200, Unit::percent},
                "How far out it begins; 100 % is the middle of an edge.")
        .number("softness", "Softness", &Settings::softness, {0, 200, Unit::percent}, "Over how far it comes.")
        .once(1, Value(60.0))
        .toggle("soft-ends", "Soft at both ends", &Settings::soft_ends,
                "Begins and ends without a bend, so that the eye finds neither.")
        .once(1, Value(false))
        .number("strength", "Strength", &Settings::strength, {0, 100, Unit::percent}, "How strong it is at the edges.")
        .formerly("amount")
        .colour("colour", "Colour", &Settings::colour, "What is laid over the edges.")
        .choice("form", "Form", &Settings::form, {{"round", "Round"}, {"tile", "As the tile"}}, "Its outline.")
        .visual({{"strength", 100.0}, {"softness", 25.0}, {"size", 80.0}})
        .shape([](const Settings& s, Shape in) {
            const bool grey = s.colour.red == s.colour.green && s.colour.green == s.colour.blue;
            return Shape{grey ? in.channels : 3, in.coverage};
        })
        .per_pixel([](const Settings& s, const StepContext& c) -> std::unique_ptr<PixelStep> {
            return std::make_unique<Vignette>(s, c);
        });
}

}  // namespace loom
