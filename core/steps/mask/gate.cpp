// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/shoulder.h"
#include "core/steps/mask/meets.h"

namespace loom {

namespace gate_step {
namespace {

struct Settings {
    LookAt look = LookAt::beneath;
    double from = 0.35, to = 0.65;
    double soft_from = 0.1, soft_to = 0.1;
    Meets meets = Meets::alone;
};

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    const Bundle* picture = looked_at(s.look, context);
    Plane found = context.plane(0);
    if (!picture) return met(s.meets, std::move(found), context);
    const PlaneRef tone = tone_of(*picture, *context.job);
    // At black and white the end is open: what runs over shows too.
    const Shoulders gate{static_cast<float>(s.from),
                         static_cast<float>(s.to),
                         static_cast<float>(s.soft_from),
                         static_cast<float>(s.soft_to),
                         s.from <= 0,
                         s.to >= 1};
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) found.row(y)[x] = gate(tone->row(y)[x]);
    });
    return met(s.meets, std::move(found), context);
}

}  // namespace
}  // namespace gate_step

StepDescription describe_gate() {
    using namespace gate_step;
    StepDescription base;
    base.id = "gate", base.title = "Gate", base.family = Family::mask;
    base.summary = "Shows only where a tone lies between two soft shoulders.";
    base.words = "threshold range tone select where dark light luminosity";
    base.headline = {"from", "to"};
    const Range tone{0, 1, Unit::tone};
    return Describe<Settings>(std::move(base))
        .choice("look", "Looks at", &Settings::look, look_choices(), look_help)
        .number("from", "From", &Settings::from, tone, "The darkest tone that shows whole; at black everything darker does.")
        .number("to", "To", &Settings::to, tone, "The lightest tone that shows whole; at white everything lighter does.")
        .number("soft-from", "Soft below", &Settings::soft_from, tone, "Over how many darker tones it fades away.")
        .number("soft-to", "Soft above", &Settings::soft_to, tone, "Over how many lighter tones it fades away.")
        .choice("meets", "Meets the mask", &Settings::meets, meets_choices(), meets_help)
        .shape([](const Settings&, Shape in) { return mask_shape(in); })
        .notice([](const Settings& s) {
            return std::string(s.from > s.to ? "From is above to: only where both fades meet does anything show." : "");
        })
        .reads_beneath([](const Settings& s) { return s.look == LookAt::beneath; })
        .pixelwise()
        .run(run);
}

}  // namespace loom
