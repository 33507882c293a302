// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/structures/ramp.h"

namespace loom {

namespace static_step {
namespace {

enum class Colouring { grey, coloured };

struct Settings {
    Spread spread = Spread::gaussian;
    double strength = 60;
    double share = 4;
    double grain_x = 1, grain_y = 1;
    int slant = 0;
    Colouring colouring = Colouring::grey;
    double centre = 0.5;
    double tails = 0;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const int planes = s.colouring == Colouring::coloured ? 3 : 1;
    const bool sparse = s.spread == Spread::sparse;
    const float factor = static_cast<float>(s.strength / 100) * (sparse ? 1.0f : full_deviation);
    const auto centre = static_cast<float>(sparse ? 0.0 : s.centre);
    std::vector<Plane> out;
    for (int c = 0; c < planes; ++c) {
        GrainSettings grains;
        grains.spread = s.spread;
        grains.across = std::max(1, static_cast<int>(std::lround(context.tile.width / s.grain_x)));
        grains.down = std::max(1, static_cast<int>(std::lround(context.tile.height / s.grain_y)));
        grains.seed = mix64(context.seed, static_cast<std::uint64_t>(c));
        grains.tails = static_cast<float>(s.tails / 100);
        grains.share = static_cast<float>(s.share / 100);
        grains.slant = s.slant;
        const GrainField field(grains, size);
        Plane plane = context.plane();
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y) field.row(y, 0, size.width, plane.row(y), factor, centre);
        });
        out.push_back(std::move(plane));
    }
    return planes == 1 ? Bundle::of(std::move(out[0])) : Bundle::of(std::move(out[0]), std::move(out[1]), std::move(out[2]));
}

}  // namespace
}  // namespace static_step

StepDescription describe_static() {
    using namespace static_step;
    StepDescription base;
    base.id = "static", base.title = "Static", base.family = Family::make;
    base.summary = "White noise: every grain has a tone of its own.";
    base.words = "noise white grain random dots speckle sand";
    base.seeded = true;
    base.headline = {"spread"};
    const When toned{"spread", {"even", "gaussian"}};
    return Describe<Settings>(std::move(base))
        .choice("spread", "Spread", &Settings::spread, {{"even", "Even"}, {"gaussian", "Gaussian"}, {"sparse", "Sparse"}},
                "How the tones are spread: all alike often, mostly near the centre, or few lit grains on black.")
        .visual({{"grain-x", 8.0}, {"grain-y", 8.0}})
        .number("strength", "Strength", &Settings::strength, {0, 400, Unit::percent, 100},
                "How far tones stray; at 100 % even static covers every tone from black to white.")
        .formerly("amount")
        .number("share", "Share lit", &Settings::share, {0, 100, Unit::percent, 50, Scale::root},
                "How many of the grains are lit.", {"spread", {"sparse"}})
        .number("grain-x", "Grain across", &Settings::grain_x, {1, 512, Unit::px, 32, Scale::root},
                "Width of a grain; whole grains fill the tile.")
        .number("grain-y", "Grain down", &Settings::grain_y, {1, 512, Unit::px, 32, Scale::root},
                "Height of a grain; whole grains fill the tile.")
        .count("slant", "Slant", &Settings::slant, {-8, 8, Unit::none, 4},
               "Tiles that columns of grains move across on their way down one, so that long grains run aslant.")
        .choice("colour", "Colour", &Settings::colouring, {{"grey", "Grey"}, {"coloured", "Coloured"}},
                "One tone per grain, or red, green and blue each by itself.")
        .number("centre", "Centre tone", &Settings::centre, {0, 1, Unit::tone}, "The tone that grains stray from.", toned)
        .number("tails", "Heavy tails", &Settings::tails, {0, 300, Unit::percent, 100},
                "Makes most grains calmer and a few much stronger.", toned)
        .shape([](const Settings& s, Shape) {
            return Shape{s.colouring == Colouring::coloured ? 3 : 1, false};
        })
        .rounded([](const Settings& s, Size tile) {
            const double across = tile.width / std::max(1.0, std::round(tile.width / s.grain_x));
            const double down = tile.height / std::max(1.0, std::round(tile.height / s.grain_y));
            const bool same = std::abs(across - s.grain_x) < 0.05 && std::abs(down - s.grain_y) < 0.05;
            return same ? std::string() : "Whole grains fill the tile at " + show_pixels(across, down) + ".";
        })
        .pixelwise()
        .run(run);
}

}  // namespace loom
