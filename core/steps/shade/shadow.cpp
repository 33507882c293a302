// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/image/gaussian.h"
#include "core/image/resample.h"
#include "core/structures/edge.h"
#include "core/structures/filled.h"

namespace loom {

namespace shadow_step {
namespace {

enum class Side { outside, inside };
enum class LampOf { shared, own };

struct Settings {
    Side side = Side::outside;
    LampOf lamp = LampOf::shared;
    double direction = -45;
    double distance = 16, size = 24, spread = 0;
    Colour colour{0, 0, 0};
    Blend blend = Blend::multiply;
    double strength = 55;
};

bool meets_beneath(const Settings& s) { return s.side == Side::outside && s.blend != Blend::normal; }

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    if (!form_of(context)) return *context.input;
    const bool inside = s.side == Side::inside;
    PlaneRef form = form_of(context);
    if (s.spread != 0) {
        // As much larger all round, with an edge as crisp as a pixel.
        Plane grown = edge_distance(std::abs(s.spread) + 2, context);
        const auto by = static_cast<float>(inside ? -s.spread : s.spread),
                   pixel = static_cast<float>(std::sqrt(context.scale_x() * context.scale_y()));
        for_values(*context.job, grown, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i)
                grown.data()[i] = std::clamp(0.5f + (grown.data()[i] + by) * pixel, 0.0f, 1.0f);
        });
        form = share(std::move(grown));
    }
    // The deviation is half of the size: beyond it less than a twentieth is left.
    if (s.size > 0)
        form = share(gaussian_blur(*form, s.size / 2 * context.scale_x(), s.size / 2 * context.scale_y(), *context.job));
    // Away from the lamp.
    const double angle = (s.lamp == LampOf::shared ? context.lamp_direction + 180 : s.direction) * std::numbers::pi / 180;
    const auto way_x = static_cast<float>(s.distance * std::cos(angle) * context.scale_x()),
               way_y = static_cast<float>(-s.distance * std::sin(angle) * context.scale_y());
    Bundle moved;
    moved.colour = {form};
    if (s.distance != 0)
        moved = resampled(
            moved, context.wanted_rows(),
            [&](int y, float* px, float* py) {
                for (int x = 0; x < context.size.width; ++x)
                    px[x] = static_cast<float>(x) - way_x, py[x] = static_cast<float>(y) - way_y;
            },
            *context.job, PixelReading::straight);
    Plane cover = moved.colour.front()->clone();
    if (inside)
        for_values(*context.job, cover, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) cover.data()[i] = 1 - cover.data()[i];
        });
    const Bundle layer = layer_of(s.colour, std::move(cover), context);
    const BlendSettings settings{s.blend, static_cast<float>(s.strength / 100), context.linear_light};
    Bundle out =
        inside ? laid_within(*context.input, layer, settings, context) : laid_under(*context.input, layer, settings, context);
    return edge_picture(std::move(out), *context.input, is_grey(s.colour), meets_beneath(s));
}

}  // namespace
}  // namespace shadow_step

StepDescription describe_shadow() {
    using namespace shadow_step;
    const When own{"lamp", {"own"}};
    StepDescription base;
    base.id = "shadow", base.title = "Shadow", base.family = Family::shade;
    base.summary = "The shadow that a form casts on what lies beneath, or that falls into it from its edge.";
    base.headline = {"side", "distance"};
    base.blends = true;
    return Describe<Settings>(std::move(base))
        .choice("side", "Side", &Settings::side, {{"outside", "Outside"}, {"inside", "Inside"}},
                "Outside it falls on what lies beneath; inside the form lies deep and its edge casts it.")
        .choice("lamp", "Falls", &Settings::lamp, {{"shared", "Away from the lamp"}, {"own", "Its own way"}},
                "Whether it falls away from the recipe's lamp.")
        .number("direction", "Direction", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Where it falls to: 0 is right, 90 above.", own)
        .direction("Shadow", "direction")
        .number("distance", "Distance", &Settings::distance, {0, 2048, Unit::px, 128, Scale::root}, "How far it falls.")
        .number("size", "Size", &Settings::size, {0, 1024, Unit::px, 128, Scale::root}, "How softly it ends.")
        .number("spread", "Spread", &Settings::spread, {-256, 256, Unit::px, 64},
                "How much larger than the form it is all round.")
        .colour("colour", "Colour", &Settings::colour, "Its colour.")
        .choice("blend", "Blend", &Settings::blend, blend_choices(), "How it is mixed with what it falls on.")
        .number("strength", "Strength", &Settings::strength, {0, 100, Unit::percent}, "How much of it.")
        .shape([](const Settings& s, Shape in) { return edge_shape(in, is_grey(s.colour), meets_beneath(s)); })
        .reads_beneath(meets_beneath)
        .follows_lamp([](const Settings& s) { return s.lamp == LampOf::shared; })
        .reads([](const Settings&) { return reads_form(); })
        .scratch([](const Settings& s, const Scales&, const PlaneCounts&) {
            return (s.side == Side::inside ? 4.4
                    : meets_beneath(s)     ? 8.5
                                           : 6.4) +
                   (s.spread != 0 ? 2.1 : 0.0) + (is_grey(s.colour) ? 0.0 : 2.0);
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
