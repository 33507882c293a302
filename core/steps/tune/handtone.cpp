// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/structures/hand_planes.h"

namespace loom {

namespace handtone_step {
namespace {

struct Settings {
    Strokes strokes;
};

bool is_coloured(const Stroke& stroke) {
    return stroke.tool == "colour" && (stroke.colour.red != stroke.colour.green || stroke.colour.green != stroke.colour.blue);
}
/// Tools that look at more than the pixel they change.
bool looks_around(const Stroke& stroke) { return stroke.tool == "blur" || stroke.tool == "smudge"; }

Shape shape(const Settings& s, Shape in) {
    bool coloured = in.channels == 3;
    for (std::size_t k = 0; k < s.strokes.size() && !coloured; ++k) coloured = is_coloured(s.strokes[k]);
    return {coloured ? 3 : 1, in.coverage};
}

/// One straight colour after the brush went over it with `w`, -1..1.
Colour touched(const Stroke& stroke, Colour colour, float w) {
    if (stroke.tool == "colour") {
        const float by = std::abs(w);
        return {colour.red + by * (stroke.colour.red - colour.red), colour.green + by * (stroke.colour.green - colour.green),
                colour.blue + by * (stroke.colour.blue - colour.blue)};
    }
    Lab lab = to_oklab(colour);
    if (stroke.tool == "lighten" || stroke.tool == "darken") {
        constexpr float most = 0.4f;  // of OKLab's lightness
        lab.lightness += stroke.tool == "lighten" ? most * w : -most * w;
    } else {
        // Twice the chroma at most, or none.
        const float by = stroke.tool == "more-colour" ? w : -w, factor = std::max(0.0f, 1 + by);
        lab.a *= factor, lab.b *= factor;
    }
    return from_oklab(lab);
}

void apply(const Stroke& stroke, HandPlanes& planes, bool covered, int y, int x, int count, const float* how_much) {
    const std::size_t channels = planes.size() - (covered ? 1 : 0);
    const float sign = stroke.strength < 0 ? -1 : 1;
    for (int k = 0; k < count; ++k) {
        if (how_much[k] <= 0) continue;
        const float cover = covered ? planes.back().row(y)[x + k] : 1;
        if (cover <= 0) continue;
        float straight[3];
        for (std::size_t c = 0; c < 3; ++c) straight[c] = planes[std::min(c, channels - 1)].row(y)[x + k] / cover;
        const Colour after = touched(stroke, {straight[0], straight[1], straight[2]}, sign * how_much[k]);
        const float values[3] = {after.red, after.green, after.blue};
        // Grey stays grey to the last bit, whatever rounding would make of it.
        for (std::size_t c = 0; c < channels; ++c) planes[c].row(y)[x + k] = values[channels == 1 ? 1 : c] * cover;
    }
}

Bundle carry(const Settings& s, const StepContext& context, std::size_t first, std::size_t last) {
    const Bundle in = part_of(*context.input, context.wanted_rows());
    const Bundle& before = context.carried ? *context.carried : in;
    const int channels = shape(s, {in.grey() ? 1 : 3, false}).channels;
    HandPlanes planes;
    for (int c = 0; c < channels; ++c) planes.push_back(before.channel(c).clone());
    const bool covered = static_cast<bool>(in.coverage);
    if (covered) planes.push_back(before.coverage->clone());
    for (std::size_t k = first; k < last;) {
        context.job->check();
        if (s.strokes[k].muted) {
            ++k;
        } else if (looks_around(s.strokes[k])) {
            (s.strokes[k].tool == "blur" ? brush_blur : brush_smudge)(planes, s.strokes[k], context);
            ++k;
        } else {
            // As many as follow each other go over the picture together.
            std::vector<StrokePath> paths;
            std::vector<const Stroke*> strokes;
            for (; k < last && !looks_around(s.strokes[k]); ++k)
                if (!s.strokes[k].muted) paths.emplace_back(s.strokes[k]), strokes.push_back(&s.strokes[k]);
            brush_pixels(paths, context, [&](std::size_t path, int y, int x, int count, const float* how_much) {
                apply(*strokes[path], planes, covered, y, x, count, how_much);
            });
        }
    }
    Bundle result;
    if (covered) result.coverage = share(std::move(planes.back())), planes.pop_back();
    for (Plane& plane : planes) result.colour.push_back(share(std::move(plane)));
    return result;
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    if (s.strokes.empty()) return part_of(*context.input, context.wanted_rows());
    Bundle result = context.carried ? part_of(*context.carried, context.wanted_rows()) : carry(s, context, 0, s.strokes.size());
    result.named = part_of(context.input->named, context.wanted_rows());
    return result;
}

}  // namespace
}  // namespace handtone_step

StepDescription describe_handtone() {
    using namespace handtone_step;
    StepDescription base;
    base.id = "handtone", base.title = "Hand tone", base.family = Family::tune;
    base.summary =
        "Changes tone and colour by hand: strokes that lighten, darken, colour, blur and smudge, and stay to be changed.";
    base.words = "dodge burn brush paint lighten darken by hand stain dirt";
    base.headline = {"strokes"};
    base.scratch_planes = 0.1;
    return Describe<Settings>(std::move(base))
        .strokes("strokes", "Strokes", &Settings::strokes,
                 {{"lighten", "Lighten"},
                  {"darken", "Darken"},
                  {"more-colour", "More colour"},
                  {"less-colour", "Less colour"},
                  {"blur", "Blur"},
                  {"smudge", "Smudge"},
                  {"colour", "Lay on colour"}},
                 "Drawn on the cloth. Lightness and colour are those of OKLab; a strength below 0 works the other way round.")
        .shape(shape)
        .carry(carry)
        .footprint([](const Settings& s, const Scales&) { return strokes_footprint(s.strokes, looks_around); })
        .run(run);
}

}  // namespace loom
