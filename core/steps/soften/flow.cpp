// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Directions from the structure tensor (Bigun & Granlund 1987), followed by line integral convolution.
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/stream.h"
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

/// Directions along the lines of equal tone, turned by `turn` degrees less 90; from a smoothed structure tensor, so that
/// opposite slopes do not cancel.
DirectionField field_of(const Plane& tone, double soft, double turn, const Job& job) {
    const Size size = tone.size();
    // The tensor's main direction is that of the steepest change: twice its angle has the cosine xx - yy and the sine 2 xy.
    DirectionField field{Plane(size), Plane(size)};
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float *here = tone.row(y), *above = tone.row(wrap(y - 1, size.height)), *below = tone.row(wrap(y + 1, size.height));
            float *difference = field.cosine.row(y), *product = field.sine.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float gx = here[x + 1 == size.width ? 0 : x + 1] - here[x == 0 ? size.width - 1 : x - 1],
                            gy = below[x] - above[x];
                difference[x] = gx * gx - gy * gy, product[x] = 2 * gx * gy;
            }
        }
    });
    field.cosine = gaussian_blur(field.cosine, soft, soft, job), field.sine = gaussian_blur(field.sine, soft, soft, job);
    // Turned by a quarter the lines run across the change; twice that is half a turn.
    const double more = 2 * (turn - 90) * 3.14159265358979323846 / 180;
    const auto c = static_cast<float>(-std::cos(more)), s = static_cast<float>(std::sin(more));
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            float *cosine = field.cosine.row(y), *sine = field.sine.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float turned = c * cosine[x] - s * sine[x];
                sine[x] = c * sine[x] + s * cosine[x], cosine[x] = turned;
            }
        }
    });
    return field;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return *context.input;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const DirectionField field =
        field_of(*tone_of(*source), std::max(0.7, s.smoothness * scale), s.across, *context.job);
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
