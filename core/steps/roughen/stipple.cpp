// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Dots by thresholds that belong to the tile: white noise, blue noise (Ulichney 1993), a clustered
// screen at 45 degrees, or strokes.
#include <algorithm>

#include "core/catalogue/describe.h"
#include "core/structures/stippled.h"

namespace loom {

namespace stipple_step {
namespace {

enum class Drive { automatic, tone, coverage };
struct Settings {
    Drive drive = Drive::automatic;
    StipplePattern pattern = StipplePattern::blue;
    double dot = 3;
    double density = 100;
    double direction = 45;
};

/// What covers in part says by that where dots are to be.
bool by_tone(const Settings& s, bool covered) { return s.drive == Drive::tone || (s.drive == Drive::automatic && !covered); }

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    const Bundle& in = *context.input;
    const bool tones = by_tone(s, in.coverage != nullptr);
    const Size size = context.size;
    const PlaneRef drive = tones ? tone_of(in, *context.job) : coverage_of(in);
    const auto density = static_cast<float>(s.density / 100);
    Plane wanted(size);
    for_values(*context.job, wanted, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            const float value = std::clamp(drive->data()[i], 0.0f, 1.0f);
            wanted.data()[i] = tones ? 1 - density * (1 - value) : density * value;
        }
    });
    Plane lit = stippled({s.pattern, s.dot, s.direction}, wanted, context.tile, context.seed, *context.job);
    Bundle result;
    result.named = in.named;
    if (tones) {
        // Dots of light on dark, as far as the picture covers.
        if (in.coverage)
            for_values(*context.job, lit, [&](std::size_t first, std::size_t last) {
                for (std::size_t i = first; i < last; ++i) lit.data()[i] *= in.coverage->data()[i];
            });
        result.colour = {share(std::move(lit))};
        result.coverage = in.coverage;
        return result;
    }
    for (const PlaneRef& plane : in.colour) {
        Plane cut(size);
        for_values(*context.job, cut, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) {
                const float cover = drive->data()[i];
                cut.data()[i] = cover > 0 ? plane->data()[i] / cover * lit.data()[i] : 0.0f;
            }
        });
        result.colour.push_back(share(std::move(cut)));
    }
    result.coverage = share(std::move(lit));
    return result;
}

}  // namespace
}  // namespace stipple_step

StepDescription describe_stipple() {
    using namespace stipple_step;
    StepDescription base;
    base.id = "stipple", base.title = "Stipple", base.family = Family::roughen;
    base.summary = "Turns tone, or soft coverage, to dots.";
    base.words = "dots halftone print screen newspaper dither worn";
    base.seeded = true;
    base.headline = {"pattern", "dot"};
    const When turned{"pattern", {"clustered", "strokes"}};
    return Describe<Settings>(std::move(base))
        .choice("drive", "Driven by", &Settings::drive,
                {{"automatic", "As it comes"}, {"tone", "Tone"}, {"coverage", "Coverage"}},
                "What becomes dots: how light it is, or how much it covers; as it comes, soft forms by how much they cover.")
        .once(1, Value(std::string("tone")))
        .choice("pattern", "Pattern", &Settings::pattern,
                {{"white", "White noise"}, {"blue", "Blue noise"}, {"clustered", "Screen"}, {"strokes", "Strokes"}},
                "How dots lie: by chance, evenly apart, as a turned screen whose dots grow, or as short strokes.")
        .visual({{"dot", 6.0}})
        .number("dot", "Dot", &Settings::dot, {1, 128, Unit::px, 16, Scale::root}, "Width of a dot.")
        .number("density", "Density", &Settings::density, {0, 100, Unit::percent},
                "For tone how many dark dots are left; for coverage how many dots there are.")
        .number("direction", "Direction", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "The way along the strokes or the screen's rows, bent to what closes; 0 is right, 90 is up.", turned)
        .shape([](const Settings& s, Shape in) {
            return by_tone(s, in.coverage) ? Shape{1, in.coverage} : Shape{in.channels, true};
        })
        .draws([](const Settings& s) { return s.pattern != StipplePattern::clustered; })
        .direction("Strokes", "direction")
        .needs_whole()
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts&) { return stippled_scratch(s.dot, at); })
        .run(run);
}

}  // namespace loom
