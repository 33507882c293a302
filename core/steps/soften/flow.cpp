// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Line integral convolution along the lines of a picture.
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/direction.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace flow_step {
namespace {

enum class From { own, strand };

struct Settings {
    double length = 40;
    From from = From::own;
    std::string strand;
    double across = 90;
    double smoothness = 6;
};

/// Long means are made of short ones: pixels are averaged over a few along the line, and those means that many pixels apart.
Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return *context.input;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const double smoothness = std::max(0.7, s.smoothness * scale);
    const DirectionField field = directions_of(*tone_of(*source, *context.job), smoothness, *context.job, s.across - 90);
    const double half = s.length * scale / 2;
    const int apart = half < 16 ? 1 : half < 64 || smoothness < 16 ? 3 : 5;
    std::vector<float> weights;
    for (int at = 0; at == 0 || at < half; at += apart) weights.push_back(static_cast<float>(half > 0 ? 1 - at / half : 1));
    return all_planes(context, [&](const std::vector<const Plane*>& planes) {
        if (apart == 1) return stream_means(planes, field, 1, weights, *context.job);
        const std::vector<Plane> means =
            stream_means(planes, field, 1, std::vector<float>(static_cast<std::size_t>(apart / 2 + 1), 1.0f), *context.job);
        std::vector<const Plane*> short_means;
        for (const Plane& plane : means) short_means.push_back(&plane);
        return stream_means(short_means, field, apart, weights, *context.job);
    });
}

}  // namespace
}  // namespace flow_step

StepDescription describe_flow() {
    using namespace flow_step;
    StepDescription base;
    base.id = "flow", base.title = "Flow blur", base.family = Family::soften;
    base.summary = "Blurs along the lines of a picture, or across them.";
    base.words = "smear drag along paint oil hair comb blur";
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
        .needs_whole()
        .scratch([](const Settings&, const Scales&, const PlaneCounts& planes) { return planes.in + 2.0; })
        .run(run);
}

}  // namespace loom
