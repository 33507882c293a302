// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/noise/grains.h"
#include "core/structures/edge.h"
#include "core/structures/filled.h"
#include "core/structures/tone_curve.h"

namespace loom {

namespace edgetone_step {
namespace {

enum class Side { inside, outside };

struct Settings {
    Side side = Side::inside;
    Colour colour{0, 0, 0};
    Blend blend = Blend::multiply;
    double strength = 60, size = 48, grain = 0;
    CurvePoints profile{{0, 1}, {0.35, 0.5}, {1, 0}};
};

bool meets_beneath(const Settings& s) { return s.side == Side::outside && s.blend != Blend::normal; }

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    if (!form_of(context) || s.size <= 0) return *context.input;
    Plane cover = edge_distance(s.size + 2, context);
    const ToneCurve profile(s.profile);
    const float inward = s.side == Side::inside ? 1 : -1, size = static_cast<float>(s.size),
                grain = static_cast<float>(s.grain / 100);
    const GrainField grains({Spread::gaussian, context.tile.width, context.tile.height, context.seed}, context.size);
    context.for_rows([&](int first, int last) {
        std::vector<float> lots(static_cast<std::size_t>(context.size.width));
        for (int y = first; y < last; ++y) {
            float* row = cover.row(y);
            if (grain > 0) grains.row(y, 0, context.size.width, lots.data(), grain, 1);
            for (int x = 0; x < context.size.width; ++x) {
                // Up to half a pixel beyond the edge counts as at it: the form's own coverage cuts it there.
                const float t = row[x] * inward / size;
                const float tone = t >= 1 ? 0.0f : profile(std::max(t, 0.0f));
                row[x] = grain > 0 ? std::clamp(tone * lots[static_cast<std::size_t>(x)], 0.0f, 1.0f) : tone;
            }
        }
    });
    const Bundle layer = layer_of(s.colour, std::move(cover), context);
    const BlendSettings settings{s.blend, static_cast<float>(s.strength / 100), context.linear_light};
    Bundle out = s.side == Side::inside ? laid_within(*context.input, layer, settings, context)
                                        : laid_under(*context.input, layer, settings, context);
    return edge_picture(std::move(out), *context.input, is_grey(s.colour), meets_beneath(s));
}

}  // namespace
}  // namespace edgetone_step

StepDescription describe_edgetone() {
    using namespace edgetone_step;
    StepDescription base;
    base.id = "edgetone", base.title = "Edge tone", base.family = Family::shade;
    base.summary = "A tone along the edge of what is covered: a dark inner edge, a light rim, a glow.";
    base.words = "dark edges burnt border worn inner shadow dirt rim";
    base.headline = {"side", "size"};
    base.blends = true, base.seeded = true;
    return Describe<Settings>(std::move(base))
        .choice("side", "Side", &Settings::side, {{"inside", "Inside"}, {"outside", "Outside"}},
                "On which side of the edge it lies; outside it goes under the form.")
        .colour("colour", "Colour", &Settings::colour, "The tone.")
        .choice("blend", "Blend", &Settings::blend, blend_choices(), "How it is mixed with the form, or with what lies beneath.")
        .number("strength", "Strength", &Settings::strength, {0, 100, Unit::percent}, "How much of it.")
        .number("size", "Size", &Settings::size, {0, 1024, Unit::px, 256, Scale::root}, "How far from the edge it reaches.")
        .points("profile", "Profile", &Settings::profile, "How strong it is, from the edge at the left to its end at the right.")
        .number("grain", "Grain", &Settings::grain, {0, 100, Unit::percent}, "How unevenly it lies, from grain to grain.")
        .shape([](const Settings& s, Shape in) { return edge_shape(in, is_grey(s.colour), meets_beneath(s)); })
        .draws([](const Settings& s) { return s.grain > 0; })
        .reads_beneath(meets_beneath)
        .reads([](const Settings&) { return reads_form(); })
        .scratch([](const Settings& s, const Scales&, const PlaneCounts&) {
            return (s.side == Side::inside ? 4.4 : meets_beneath(s) ? 8.5 : 6.4) + (is_grey(s.colour) ? 0.0 : 2.0);
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
