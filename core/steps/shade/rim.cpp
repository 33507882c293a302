// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/surface.h"
#include "core/structures/edge.h"
#include "core/structures/edge_line.h"
#include "core/structures/filled.h"

namespace loom {

namespace rim_step {
namespace {

enum class Where { in, on, out };
enum class Run { line, dashes, motif };

struct Settings {
    Where place = Where::in;
    double inset = 8, width = 4;
    Run run = Run::line;
    double dash = 20, gap = 10, start = 0;
    bool round_ends = true;
    std::string motif;
    double length = 32, spacing = 0;
    Colour colour{1, 1, 1};
    Blend blend = Blend::normal;
    double strength = 100;
    double move_x = 0, move_y = 0;
    double rise = 0, dent = 0;  ///< px
};

EdgeLine line_of(const Settings& s, bool motif) {
    EdgeLine line;
    line.width = s.width;
    // `inset` lies between the edge and the line's nearer side.
    const double away = s.place == Where::on ? s.inset : s.inset + s.width / 2;
    line.at = s.place == Where::out ? -away : away;
    if (s.run != Run::line) line.dash = motif ? s.length : s.dash, line.gap = motif ? s.spacing : s.gap;
    line.start = s.start / 100, line.round_ends = s.round_ends;
    line.move_x = s.move_x, line.move_y = s.move_y;
    return line;
}

/// A motif may have any colours.
bool grey(const Settings& s) { return s.run != Run::motif && is_grey(s.colour); }
bool meets_beneath(const Settings& s) { return s.place == Where::out && s.blend != Blend::normal; }

bool has_height(const Settings& s) { return s.rise != 0 || s.dent != 0; }

/// The height with the line on it: round in section, and what it lies on drawn down beside it.
Plane raised(const Settings& s, const Plane& cover, const StepContext& context) {
    const Bundle& in = *context.input;
    const PlaneRef base = in.plane(height_plane) ? in.plane(height_plane) : covered_tone_of(in, *context.job);
    const double soft = std::max(0.3, s.width / 5), wide = std::max(0.6, s.width * 0.7);
    const Plane dome = gaussian_blur(cover, soft * context.scale_x(), soft * context.scale_y(), *context.job);
    const Plane around =
        s.dent != 0 ? gaussian_blur(cover, wide * context.scale_x(), wide * context.scale_y(), *context.job) : Plane();
    const auto high = static_cast<float>(s.rise / height_range_px), deep = static_cast<float>(s.dent / height_range_px);
    Plane out = context.plane();
    for_values(*context.job, out, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            const float on = cover.data()[i], rise = high * dome.data()[i] * on;
            const float dent = s.dent != 0 ? deep * around.data()[i] * (1 - on) : 0.0f;
            out.data()[i] = base->data()[i] + rise - dent;
        }
    });
    return out;
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    const Bundle& in = *context.input;
    if (!form_of(context) || s.width <= 0) return in;
    const Bundle* motif = s.run == Run::motif ? context.other("motif") : nullptr;
    if (motif && motif->empty()) motif = nullptr;
    const EdgeLine line = line_of(s, motif != nullptr);
    const Plane distance = edge_distance(std::abs(line.at) + s.width / 2 + 4, context);
    const Bundle layer =
        motif ? edge_motif(line, distance, *motif, context) : layer_of(s.colour, edge_line(line, distance, context), context);
    const BlendSettings settings{s.blend, static_cast<float>(s.strength / 100), context.linear_light};
    Bundle out = s.place == Where::in    ? laid_within(in, layer, settings, context)
                 : s.place == Where::out ? laid_under(in, layer, settings, context)
                                         : blended(in, layer, settings, nullptr, *context.job);
    out.named = in.named;
    if (has_height(s) && context.wants(height_plane))
        out.named[std::string(height_plane)] = share(raised(s, *layer.coverage, context));
    return edge_picture(std::move(out), in, grey(s), meets_beneath(s));
}

}  // namespace
}  // namespace rim_step

StepDescription describe_rim() {
    using namespace rim_step;
    const When plain = !When{"run", {"motif"}}, dashed{"run", {"dashes"}}, moves = !When{"run", {"line"}};
    StepDescription base;
    base.id = "rim", base.title = "Rim line", base.family = Family::shade;
    base.summary = "A line that follows the edge: an outline, stitches, studs, a rope.";
    base.words = "outline stroke border edge glow line contour";
    base.headline = {"place", "width"};
    base.blends = true;
    base.planes = {height_plane};
    return Describe<Settings>(std::move(base))
        .choice("place", "Place", &Settings::place, {{"in", "Inside"}, {"on", "On the edge"}, {"out", "Outside"}},
                "Where it runs; outside it goes under the form.")
        .choice("run", "Runs as", &Settings::run, {{"line", "Line"}, {"dashes", "Dashes"}, {"motif", "Motif"}},
                "One line, dashes such as stitches, or copies of a strand: studs, rope, chain.")
        .number("inset", "Inset", &Settings::inset, {0, 1024, Unit::px, 128, Scale::root}, "How far from the edge.")
        .number("width", "Width", &Settings::width, {0, 512, Unit::px, 64, Scale::root}, "How wide it is.")
        .colour("colour", "Colour", &Settings::colour, "Its colour.", plain)
        .choice("blend", "Blend", &Settings::blend, blend_choices(), "How it is mixed with what it lies on.")
        .number("strength", "Strength", &Settings::strength, {0, 100, Unit::percent}, "How much of it.")
        .number("move-x", "Moved across", &Settings::move_x, {-256, 256, Unit::px, 16},
                "Moves all of it, as for the shadow line of stitches.")
        .number("move-y", "Moved down", &Settings::move_y, {-256, 256, Unit::px, 16}, "Moves all of it; above 0 is down.")
        .pair("Moved", "move-x", "move-y")
        .section("Height")
        .number("rise", "Rise", &Settings::rise, {-64, 64, Unit::px, 8},
                "How high it stands in the strand's height; below 0 it is pressed in.")
        .number("dent", "Dent", &Settings::dent, {0, 64, Unit::px, 8}, "How far it draws down what it lies on, as stitches do.")
        .section("Along the line")
        .number("dash", "Dash", &Settings::dash, {1, 1024, Unit::px, 64, Scale::root},
                "Length of a dash. Drawn out a little, so that whole ones close.", dashed)
        .number("gap", "Gap", &Settings::gap, {0, 1024, Unit::px, 64, Scale::root}, "From dash to dash.", dashed)
        .toggle("round-ends", "Round ends", &Settings::round_ends, "Whether dashes end round.", dashed)
        .strand("motif", "Motif", &Settings::motif,
                "A strand whose tile is laid along the line and turned with it, its upper side outward.", !plain)
        .number("length", "Length", &Settings::length, {1, 1024, Unit::px, 128, Scale::root}, "Length of one.", !plain)
        .number("spacing", "Spacing", &Settings::spacing, {0, 1024, Unit::px, 128, Scale::root}, "From one to the next.", !plain)
        .number("start", "Start", &Settings::start, {0, 100, Unit::percent},
                "Moves dashes or motifs along the line, by so much of one.", moves)
        .shape([](const Settings& s, Shape in) { return edge_shape(in, grey(s), meets_beneath(s)); })
        .reads_beneath(meets_beneath)
        .makes_planes(has_height)
        .notice([](const Settings& s) {
            return std::string(s.width <= 0 ? "Its width is 0, so that nothing is to be seen of it." : "");
        })
        .reads([](const Settings&) { return reads_form(); })
        .scratch([](const Settings& s, const Scales&, const PlaneCounts&) {
            return (meets_beneath(s) ? 8.5 : grey(s) ? 3.4 : 5.4) + (has_height(s) ? 2.5 : 0.0);
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
