// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/distance.h"
#include "core/image/tally.h"

namespace loom {

namespace distance_step {
namespace {

enum class Of { coverage, tone };
enum class Side { inside, outside, both };
enum class Measure { px, share };

struct Settings {
    Of of = Of::coverage;
    double level = 0.5;
    Side side = Side::inside;
    Measure measure = Measure::px;
    double reach = 48;
};

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    const Bundle& in = *context.input;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const PlaneRef from = s.of == Of::tone ? covered_tone_of(in, *context.job) : coverage_of(in);
    const double all = std::max(context.size.width, context.size.height), own = s.reach * scale;
    const bool shared = s.measure == Measure::share;
    Plane distance =
        distance_to_level(*from, s.of == Of::tone ? static_cast<float>(s.level) : 0.5f, shared ? all : own, *context.job);
    double within = own, beyond = own;
    if (shared) {
        // The thickest place is white. A plane without an edge is as far away as can be.
        const ToneSpan span = tone_span_of(distance, nullptr, *context.job);
        within = std::max(1e-3, static_cast<double>(span.greatest)), beyond = std::max(1e-3, -static_cast<double>(span.least));
    }
    const auto in_by = static_cast<float>(1 / within), out_by = static_cast<float>(1 / beyond);
    for_values(*context.job, distance, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            const float d = distance.data()[i], share = std::clamp(d > 0 ? d * in_by : d * out_by, -1.0f, 1.0f);
            distance.data()[i] = s.side == Side::inside    ? std::max(0.0f, share)
                                 : s.side == Side::outside ? std::max(0.0f, -share)
                                                           : 0.5f + 0.5f * share;
        }
    });
    Bundle result = Bundle::of(std::move(distance));
    result.named = in.named;
    return result;
}

}  // namespace
}  // namespace distance_step

StepDescription describe_distance() {
    using namespace distance_step;
    StepDescription base;
    base.id = "distance", base.title = "Distance from edge", base.family = Family::shade;
    base.summary = "How far each place lies from an edge, as a grey: for masks, heights, and wear that begins at edges.";
    base.words = "offset contour inset outline border falloff field sdf edge wear gradient";
    base.headline = {"side", "reach"};
    return Describe<Settings>(std::move(base))
        .choice("of", "Edge of", &Settings::of, {{"coverage", "What is covered"}, {"tone", "A tone"}},
                "Whether the edge is that of what is covered, or runs where a tone is crossed.")
        .number("level", "Tone", &Settings::level, {0, 1, Unit::tone}, "The tone at which the edge runs.", {"of", {"tone"}})
        .choice("side", "Side", &Settings::side, {{"inside", "Inside"}, {"outside", "Outside"}, {"both", "Both"}},
                "Where it is told; on both sides the edge itself is middle grey.")
        .choice("measure", "Measured in", &Settings::measure, {{"px", "Pixels"}, {"share", "Shares of the greatest"}},
                "Whether white is so many pixels away, or wherever the edge is farthest.")
        .number("reach", "Reach", &Settings::reach, {0.5, 4096, Unit::px, 256, Scale::root}, "At which distance it is white.",
                {"measure", {"px"}})
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .scratch([](const Settings&, const Scales&, const PlaneCounts&) { return 3.2; })
        .needs_whole()
        .run(run);
}

}  // namespace loom
