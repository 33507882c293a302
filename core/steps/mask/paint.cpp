// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/steps/mask/meets.h"
#include "core/structures/hand_planes.h"

namespace loom {

namespace paint_step {
namespace {

enum class Begins { mask, shown, hidden };

struct Settings {
    Begins begins = Begins::mask;
    Strokes strokes;
};

/// A tool that looks at more than the pixel it changes.
bool looks_around(const Stroke& stroke) { return stroke.tool == "soften"; }

PlaneRef begun(const Settings& s, const StepContext& context) {
    if (s.begins == Begins::mask) return covered_tone_of(part_of(*context.input, context.wanted_rows()), *context.job);
    return share(context.plane(s.begins == Begins::shown ? 1.0f : 0.0f));
}

Bundle carry(const Settings& s, const StepContext& context, std::size_t first, std::size_t last) {
    HandPlanes planes;
    planes.push_back((context.carried ? context.carried->colour.front() : begun(s, context))->clone());
    for (std::size_t k = first; k < last;) {
        context.job->check();
        if (s.strokes[k].muted) {
            ++k;
        } else if (looks_around(s.strokes[k])) {
            brush_blur(planes, s.strokes[k], context);
            ++k;
        } else {
            std::vector<StrokePath> paths;
            std::vector<bool> shows;
            for (; k < last && !looks_around(s.strokes[k]); ++k)
                if (!s.strokes[k].muted)
                    paths.emplace_back(s.strokes[k]),
                        shows.push_back((s.strokes[k].tool == "show") == (s.strokes[k].strength >= 0));
            brush_pixels(paths, context, [&](std::size_t path, int y, int x, int count, const float* how_much) {
                float* row = planes.front().row(y) + x;
                const float to = shows[path] ? 1 : 0;
                for (int n = 0; n < count; ++n) row[n] += how_much[n] * (to - row[n]);
            });
        }
    }
    return Bundle::of(std::move(planes.front()));
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    Bundle result;
    if (s.strokes.empty())
        result.colour = {begun(s, context)};
    else
        result = context.carried ? part_of(*context.carried, context.wanted_rows()) : carry(s, context, 0, s.strokes.size());
    result.named = part_of(context.input->named, context.wanted_rows());
    return result;
}

}  // namespace
}  // namespace paint_step

StepDescription describe_paint() {
    using namespace paint_step;
    StepDescription base;
    base.id = "paint", base.title = "Paint", base.family = Family::mask;
    base.alone_in_mask = {{"begins", std::string("hidden")}};
    base.summary = "Shows and hides by hand: strokes that stay, and can be taken back one by one.";
    base.words = "brush draw by hand stroke erase reveal hide";
    base.headline = {"strokes"};
    base.scratch_planes = 0.1;
    return Describe<Settings>(std::move(base))
        .choice(
            "begins", "Begins with", &Settings::begins,
            {{"mask", "The mask before it"}, {"shown", "All shown"}, {"hidden", "All hidden"}},
            "What strokes work on: the mask that came in, as the first step of a mask the strand's own tones, or all or nothing.")
        .strokes("strokes", "Strokes", &Settings::strokes, {{"show", "Show"}, {"hide", "Hide"}, {"soften", "Soften"}},
                 "Drawn on the cloth.")
        .shape([](const Settings&, Shape in) { return mask_shape(in); })
        .carry(carry)
        .footprint([](const Settings& s, const Scales&) { return strokes_footprint(s.strokes, looks_around); })
        .run(run);
}

}  // namespace loom
