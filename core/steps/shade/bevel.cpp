// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/image/gaussian.h"
#include "core/image/surface.h"
#include "core/structures/edge.h"
#include "core/structures/filled.h"
#include "core/structures/tone_curve.h"

namespace loom {

namespace bevel_step {
namespace {

enum class Side { inner, outer, both };
enum class LampOf { shared, own };

struct Settings {
    Side side = Side::inner;
    double width = 24, rise = 24, rounding = 1;  ///< px
    CurvePoints profile{{0, 0}, {0.15, 0.45}, {0.45, 0.85}, {1, 1}};
    LampOf lamp = LampOf::shared;
    double direction = 135, elevation = 45;
    Colour light{1, 1, 1}, dark{0, 0, 0};
    Blend light_blend = Blend::soft_light, dark_blend = Blend::soft_light;
    enum class Ground { level, tone } ground = Ground::level;
    double light_amount = 100, dark_amount = 100;
};

/// Where the slope lies, in design px from the edge, inside positive.
double begin_of(const Settings& s) { return s.side == Side::inner ? 0 : s.side == Side::outer ? -s.width : -s.width / 2; }

/// Design px above what lies around.
Plane height_of(const Settings& s, const StepContext& context) {
    Plane height = edge_distance(s.width + 2, context);
    const ToneCurve profile(s.profile);
    const auto begin = static_cast<float>(begin_of(s)), width = static_cast<float>(s.width), high = static_cast<float>(s.rise);
    for_values(*context.job, height, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i)
            height.data()[i] = high * profile(std::clamp((height.data()[i] - begin) / width, 0.0f, 1.0f));
    });
    if (s.rounding > 0)
        height = gaussian_blur(height, s.rounding * context.scale_x(), s.rounding * context.scale_y(), *context.job);
    return height;
}

/// Share of the light tone and of the dark one, each 0..1.
struct Lit {
    Plane light, dark;
};

/// Lambert's law: what a slope gets beyond what a level surface gets, or less.
Lit lit(const Settings& s, const Plane& height, const StepContext& context) {
    const bool own = s.lamp == LampOf::own;
    const double a = (own ? s.direction : context.lamp_direction) * std::numbers::pi / 180,
                 e = std::clamp(own ? s.elevation : context.lamp_elevation, 1.0, 89.0) * std::numbers::pi / 180;
    const auto lx = static_cast<float>(std::cos(a) * std::cos(e)), ly = static_cast<float>(-std::sin(a) * std::cos(e)),
               lz = static_cast<float>(std::sin(e));
    const auto px = static_cast<float>(context.scale_x() / 2), py = static_cast<float>(context.scale_y() / 2);
    Lit result{context.plane(), context.plane()};
    const int width = context.size.width;
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float *above = height.row(wrap(y - 1, context.size.height)), *here = height.row(y),
                        *below = height.row(wrap(y + 1, context.size.height));
            float *light = result.light.row(y), *dark = result.dark.row(y);
            for (int x = 0; x < width; ++x) {
                const float rise_x = px * (here[x + 1 < width ? x + 1 : 0] - here[x > 0 ? x - 1 : width - 1]),
                            rise_y = py * (below[x] - above[x]);
                const float facing = (lz - rise_x * lx - rise_y * ly) / std::sqrt(1 + rise_x * rise_x + rise_y * rise_y);
                light[x] = std::clamp((facing - lz) / (1 - lz), 0.0f, 1.0f);
                dark[x] = std::clamp(1 - std::max(facing, 0.0f) / lz, 0.0f, 1.0f);
            }
        }
    });
    return result;
}

/// Earlier files gave the rise as a share of the width.
void renew(const std::map<std::string, double, std::less<>>& old, Values& set) {
    const auto before = [&](std::string_view id, double otherwise) {
        const auto found = old.find(id);
        return found == old.end() || !std::isfinite(found->second) ? otherwise : found->second;
    };
    const double width = std::clamp(before("size", 24), 0.0, 1024.0);
    set["width"] = width;
    set["rise"] = std::clamp(width * before("depth", 100) / 100, 0.0, 4096.0);
    set["rounding"] = std::clamp(before("soften", 1), 0.0, 128.0);
}

bool grey(const Settings& s) { return is_grey(s.light) && is_grey(s.dark); }
bool meets_beneath(const Settings& s) {
    return s.side != Side::inner && (s.light_blend != Blend::normal || s.dark_blend != Blend::normal);
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    if (!form_of(context) || s.width <= 0) return *context.input;
    const PlaneRef height = share(height_of(s, context));
    Lit shares = lit(s, *height, context);
    const BlendSettings lights{s.light_blend, static_cast<float>(s.light_amount / 100), context.linear_light},
        darks{s.dark_blend, static_cast<float>(s.dark_amount / 100), context.linear_light};
    Bundle out = *context.input;
    // Where the slope lies outside it is shown by tones under the form, inside by tones over it. One after the other, so that the
    // layer of one is gone when the next is made.
    const auto lay = [&](const Colour& colour, Plane& cover, const BlendSettings& how) {
        const Bundle layer = layer_of(colour, std::move(cover), context);
        if (s.side != Side::outer) out = laid_within(out, layer, how, context);
        if (s.side != Side::inner) out = laid_under(out, layer, how, context);
    };
    lay(s.dark, shares.dark, darks);
    lay(s.light, shares.light, lights);
    out = edge_picture(std::move(out), *context.input, grey(s), meets_beneath(s));
    if (context.wants(height_plane)) {
        const PlaneRef own = context.input->plane(height_plane);
        // A form is as high as its slope rises, from level ground.
        const PlaneRef base = own                                  ? own
                              : s.ground == Settings::Ground::tone ? covered_tone_of(*context.input, *context.job)
                                                                   : share(Plane(context.size, context.wanted_rows(), 0.0f));
        Plane raised = context.plane();
        for_values(*context.job, raised, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i)
                raised.data()[i] = base->data()[i] + height->data()[i] / static_cast<float>(height_range_px);
        });
        out.named[std::string(height_plane)] = share(std::move(raised));
    }
    return out;
}

}  // namespace
}  // namespace bevel_step

StepDescription describe_bevel() {
    using namespace bevel_step;
    const When own{"lamp", {"own"}};
    StepDescription base;
    base.id = "bevel", base.title = "Bevel", base.family = Family::shade;
    base.summary = "A slope along the edge of what is covered, with a light and a dark side.";
    base.words = "emboss rounded edge 3d chamfer raised button cushion";
    base.headline = {"side", "width"};
    base.planes = {height_plane};
    base.blends = true;
    const Range percent{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .choice("side", "Lies", &Settings::side,
                {{"inner", "Within the edge"}, {"outer", "Around it"}, {"both", "On both sides"}},
                "Whether the slope lies inside of the edge, outside, or half and half. What lies outside goes under the form.")
        .number("width", "Width", &Settings::width, {0, 1024, Unit::px, 128, Scale::root}, "How wide the slope is.")
        .formerly("size")
        .number("rise", "Rise", &Settings::rise, {0, 4096, Unit::px, 128, Scale::root},
                "How high it rises; it is in the strand's height too.")
        .number("rounding", "Rounding", &Settings::rounding, {0, 128, Unit::px, 16, Scale::root},
                "Rounds what is hard in it, at its foot and at its top.")
        .formerly("soften")
        .earlier({"size", "depth", "soften"}, renew)
        .points("profile", "Profile", &Settings::profile,
                "The slope seen from the side: from the foot at the left to the top at the right.")
        .choice<Settings::Ground>(
            "ground", "Height from", &Settings::ground, {{"level", "Level ground"}, {"tone", "Its tone"}},
            "What the slope stands on in the strand's height, where nothing that came in has one: level ground, "
            "so that it is all of the height, or how light the picture is.")
        .once(1, Value(std::string("tone")))
        .section("Lamp")
        .choice("lamp", "Lamp", &Settings::lamp, {{"shared", "The recipe's"}, {"own", "Its own"}}, "Which lamp lights it.")
        .number("direction", "From", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Where its lamp stands: 0 is right, 90 above.", own)
        .direction("Lamp", "direction")
        .number("elevation", "Elevation", &Settings::elevation, {1, 89, Unit::degrees}, "How high the lamp stands.", own)
        .section("Tones")
        .number("light-amount", "Lit side", &Settings::light_amount, percent, "How much lighter what faces the lamp is.")
        .once(1, Value(70.0))
        .number("dark-amount", "Far side", &Settings::dark_amount, percent, "How much darker what faces away is.")
        .once(1, Value(70.0))
        .colour("light", "Tone of the lit side", &Settings::light, "What it goes towards.")
        .colour("dark", "Tone of the far side", &Settings::dark, "What it goes towards.")
        .choice("light-blend", "Lit side laid on by", &Settings::light_blend, blend_choices(),
                "How its tone meets what is there.")
        .once(1, Value(std::string("screen")))
        .choice("dark-blend", "Far side laid on by", &Settings::dark_blend, blend_choices(), "How its tone meets what is there.")
        .once(1, Value(std::string("multiply")))
        .shape([](const Settings& s, Shape in) { return edge_shape(in, grey(s), meets_beneath(s)); })
        .reads_beneath(meets_beneath)
        .follows_lamp([](const Settings& s) { return s.lamp == LampOf::shared; })
        .reads([](const Settings&) { return reads_form(); })
        .scratch([](const Settings& s, const Scales&, const PlaneCounts&) {
            return (s.side == Side::inner ? 5.5 : 10.6) + (grey(s) ? 0.0 : 2.0);
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
