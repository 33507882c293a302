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
    double reach = 16;      ///< px away from the lamp
    double x = 11, y = 11;  ///< px, on a way of its own
    double softness = 24, growth = 0, fade = 0;
    Colour colour{0, 0, 0};
    Blend blend = Blend::multiply;
    double strength = 55;
};

bool meets_beneath(const Settings& s) { return s.side == Side::outside && s.blend != Blend::normal; }

/// Where it falls, in design px: away from the lamp, or its own way.
std::pair<double, double> way_of(const Settings& s, const StepContext& context) {
    if (s.lamp == LampOf::own) return {s.x, s.y};
    const double angle = (context.lamp_direction + 180) * std::numbers::pi / 180;
    return {s.reach * std::cos(angle), -s.reach * std::sin(angle)};
}

/// The farther from the edge that casts it, the more of it is filled by light from the sides.
void fade_away(Plane& cover, const Settings& s, double length, const StepContext& context) {
    const double far = std::max(1.0, length + s.softness);
    const Plane away = edge_distance(far + 2, context);
    const float side = s.side == Side::inside ? 1 : -1, share = static_cast<float>(s.fade / 100),
                scale = static_cast<float>(1 / far);
    for_values(*context.job, cover, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            const float t = std::clamp(side * away.data()[i] * scale, 0.0f, 1.0f);
            cover.data()[i] *= 1 - share * t * t * (3 - 2 * t);
        }
    });
}

/// Earlier files said where it falls by a direction and a distance.
void renew(const std::map<std::string, double, std::less<>>& old, Values& set) {
    const auto before = [&](std::string_view id, double otherwise, double least, double most) {
        const auto found = old.find(id);
        return std::clamp(found == old.end() || !std::isfinite(found->second) ? otherwise : found->second, least, most);
    };
    const double distance = before("distance", 16, 0, 2048), angle = before("direction", -45, -360, 360) * std::numbers::pi / 180;
    set["reach"] = distance;
    set["x"] = distance * std::cos(angle), set["y"] = -distance * std::sin(angle);
    set["softness"] = before("size", 24, 0, 1024), set["growth"] = before("spread", 0, -256, 256);
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    if (!form_of(context)) return *context.input;
    const bool inside = s.side == Side::inside;
    PlaneRef form = form_of(context);
    if (s.growth != 0) {
        // As much larger all round, with an edge as crisp as a pixel.
        Plane grown = edge_distance(std::abs(s.growth) + 2, context);
        const auto by = static_cast<float>(inside ? -s.growth : s.growth),
                   pixel = static_cast<float>(std::sqrt(context.scale_x() * context.scale_y()));
        for_values(*context.job, grown, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i)
                grown.data()[i] = std::clamp(0.5f + (grown.data()[i] + by) * pixel, 0.0f, 1.0f);
        });
        form = share(std::move(grown));
    }
    // The deviation is half of the softness: beyond it less than a twentieth is left.
    if (s.softness > 0)
        form = share(gaussian_blur(*form, s.softness / 2 * context.scale_x(), s.softness / 2 * context.scale_y(), *context.job));
    const auto [across, down] = way_of(s, context);
    const auto way_x = static_cast<float>(across * context.scale_x()), way_y = static_cast<float>(down * context.scale_y());
    Bundle moved;
    moved.colour = {form};
    if (way_x != 0 || way_y != 0)
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
    if (s.fade > 0) fade_away(cover, s, std::hypot(across, down), context);
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
    const When own{"lamp", {"own"}}, shared{"lamp", {"shared"}};
    StepDescription base;
    base.id = "shadow", base.title = "Shadow", base.family = Family::shade;
    base.summary = "The shadow that a form casts on what lies beneath, or that falls into it from its edge.";
    base.words = "drop cast dark below depth float soft";
    base.headline = {"side", "reach"};
    base.blends = true;
    return Describe<Settings>(std::move(base))
        .choice("side", "Side", &Settings::side, {{"outside", "Outside"}, {"inside", "Inside"}},
                "Outside it falls on what lies beneath; inside the form lies deep and its edge casts it.")
        .choice("lamp", "Falls", &Settings::lamp, {{"shared", "Away from the lamp"}, {"own", "Its own way"}},
                "Whether it falls away from the recipe's lamp.")
        .number("reach", "Reach", &Settings::reach, {0, 2048, Unit::px, 128, Scale::root}, "How far it falls.", shared)
        .formerly("distance")
        .number("x", "Falls across", &Settings::x, {-2048, 2048, Unit::px, 128}, "How far to the right it falls.", own)
        .number("y", "Falls down", &Settings::y, {-2048, 2048, Unit::px, 128}, "How far down it falls.", own)
        .offset("Shadow", "x", "y")
        .number("softness", "Softness", &Settings::softness, {0, 1024, Unit::px, 128, Scale::root}, "How softly it ends.")
        .formerly("size")
        .number("fade", "Fades", &Settings::fade, {0, 100, Unit::percent},
                "How much of it is lost on the way from the edge that casts it to its end.")
        .number("growth", "Larger by", &Settings::growth, {-256, 256, Unit::px, 64},
                "How much larger than the form it is all round.")
        .formerly("spread")
        .earlier({"direction", "distance", "size", "spread"}, renew)
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
                   (s.growth != 0 ? 2.1 : 0.0) + (s.fade > 0 ? 2.1 : 0.0) + (is_grey(s.colour) ? 0.0 : 2.0);
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
