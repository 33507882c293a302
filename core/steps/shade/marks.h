// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What steps have in common that find a part of a surface by its height and mark it: laid over what came in, or handed on as a
// mask. Their settings have `from`, `strand`, `output`, `colour` and `strength`.
#pragma once

#include "core/steps/height_source.h"
#include "core/structures/causes.h"
#include "core/structures/filled.h"

namespace loom {

enum class MarkOutput { picture, mask };

inline When marks_painted() { return {"output", {"picture"}}; }

/// What such a step begins with where nothing else is there, and in a mask.
inline void begin_marks(StepDescription& step) {
    step.alone = {{"height", std::string("strand")}, {"output", std::string("mask")}};
    step.alone_in_mask = {{"height", std::string("tone")}, {"output", std::string("mask")}};
}

/// The parameters "output", "colour" and "strength", and what comes out; `colour` and `strength` are their sentences.
template <class Settings>
Describe<Settings>& describe_marks(Describe<Settings>& describe, std::string_view colour, std::string_view strength) {
    const When painted = marks_painted();
    return describe
        .choice("output", "Result", &Settings::output, {{"picture", "Picture"}, {"mask", "Mask"}},
                "Whether what came in is changed there, or the place handed on as a grey for masks and maps.")
        .colour("colour", "Colour", &Settings::colour, colour, painted)
        .number("strength", "Strength", &Settings::strength, {0, 100, Unit::percent}, strength, painted)
        .takes_input(painted || !When("height", {"strand"}))
        .shape([](const Settings& s, Shape in) {
            if (s.output == MarkOutput::mask) return Shape{1, false};
            return Shape{in.channels == 1 && is_grey(s.colour) ? 1 : 3, in.coverage};
        })
        .reads([](const Settings& s) { return height_source_reads(s.from); })
        .needs_whole();
}

/// The step's result; `find` makes the mask from a height. `raised` is what a height that comes along gains, `plane` the name of
/// the mask among named planes.
template <class Settings>
Bundle marks_of(const Settings& s, const StepContext& context, double raised, std::string_view plane,
                Plane (*find)(const Settings&, const Plane& height, const StepContext&)) {
    context.job->check();
    const PlaneRef height = height_source(s.from, context);
    Plane mask = height ? find(s, *height, context) : Plane(context.size, 0.0f);
    if (s.output == MarkOutput::picture)
        return marked(*context.input, mask, {s.colour, s.strength / 100, raised, plane}, context);
    Bundle result = Bundle::of(std::move(mask));
    if (context.input) result.named = context.input->named;
    if (context.wants(plane)) result.named[std::string(plane)] = result.colour[0];
    return result;
}

}  // namespace loom
