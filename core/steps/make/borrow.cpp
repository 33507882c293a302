// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/structures/taken.h"

namespace loom {

namespace borrow_step {
namespace {

struct Settings {
    std::string strand;
    Taken output = Taken::picture;
    bool smooth = true;
};

bool smooths(const Settings& s) { return s.smooth && is_lot(s.output); }

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = context.other("strand");
    if (!source || source->empty()) return Bundle::nothing(context.size, context.wanted_rows());
    return taken_of(*source, s.output, s.smooth, context);
}

}  // namespace
}  // namespace borrow_step

StepDescription describe_borrow() {
    using namespace borrow_step;
    StepDescription base;
    base.id = "borrow", base.title = "Borrowed strand", base.family = Family::make;
    base.summary = "Another strand's result, used here without copying it.";
    base.words = "reuse copy link strand same again use";
    base.headline = {"strand", "output"};
    return Describe<Settings>(std::move(base))
        .strand("strand", "Strand", &Settings::strand, "The strand to borrow; one that is switched off can be borrowed too.")
        .choice("output", "Output", &Settings::output, taken_choices(), taken_help)
        .planes_of("strand")
        .toggle("smooth", "Smooth edges", &Settings::smooth,
                "Where two objects meet in a pixel, takes the mean of their lots instead of one of them.",
                {"output", {"lot-1", "lot-2", "lot-3"}})
        .once(1, Value(false))
        .shape([](const Settings& s, Shape) {
            return s.output == Taken::picture ? Shape{3, true} : Shape{1, false};
        })
        .reads([](const Settings& s) { return taken_reads(s.output, s.smooth); })
        .footprint([](const Settings& s, const Scales&) { return smooths(s) ? Footprint::near(1, 1) : Footprint::pixel(); })
        // What it takes on whole is the other strand's own.
        .scratch([](const Settings& s, const Scales&, const PlaneCounts& counts) {
            return s.output == Taken::picture ? -1.0 * counts.out : 1.0;
        })
        .run(run);
}

}  // namespace loom
