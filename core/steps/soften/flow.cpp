// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Line integral convolution along the lines of a picture.
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/direction.h"
#include "core/steps/all_steps.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace {

enum class From { own, strand };

struct Settings {
    double length = 40;
    From from = From::own;
    std::string strand;
    double across = 90;
    double smoothness = 6;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return *context.input;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const DirectionField field =
        directions_of(*tone_of(*source), std::max(0.7, s.smoothness * scale), *context.job, s.across - 90);
    const double half = s.length * scale / 2;
    const int steps = std::max(1, static_cast<int>(std::lround(half)));
    std::vector<float> weights{1};
    for (int k = 0; k < steps; ++k) weights.push_back(1 - static_cast<float>(k) / static_cast<float>(steps));
    return all_planes(*context.input, [&](const std::vector<const Plane*>& planes) {
        return stream_means(planes, field, half / steps, weights, *context.job);
    });
}

}  // namespace

StepDescription describe_flow() {
    StepDescription base;
    base.id = "flow", base.title = "Flow blur", base.family = Family::soften;
    base.summary = "Blurs along the lines of a picture, or across them.";
    base.scratch_planes = 6;
    base.headline = {"length"};
    const When strand{"from", {"strand"}};
    return Describe<Settings>(std::move(base))
        .number("length", "Length", &Settings::length, {0, 512, Unit::px, 128, Scale::root},
                "How long the lines are that are averaged.")
        .choice("from", "Direction from", &Settings::from, {{"own", "This strand"}, {"strand", "Strand"}},
                "Whose lines are followed.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose lines are followed.", strand)
        .number("turn", "Turn", &Settings::across, {0, 180, Unit::degrees},
                "90 follows the lines of equal tone, 0 and 180 run straight across them.")
        .number("smoothness", "Smoothness", &Settings::smoothness, {0, 256, Unit::px, 48, Scale::root},
                "Over how far directions are evened out.")
        .reach([](const Settings& s) { return s.length; })
        .run(run);
}

}  // namespace loom
