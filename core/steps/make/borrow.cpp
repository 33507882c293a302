// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"

namespace loom {

namespace {

enum class Output { picture, tone, coverage, height };

struct Settings {
    std::string strand;
    Output output = Output::picture;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = context.other("strand");
    if (!source || source->empty()) return Bundle::nothing(context.size);
    Bundle result;
    switch (s.output) {
        case Output::picture: return *source;
        case Output::tone: result.colour = {tone_of(*source)}; break;
        case Output::coverage: result.colour = {coverage_of(*source)}; break;
        case Output::height: {
            const auto height = source->named.find("height");
            result.colour = {height == source->named.end() ? tone_of(*source) : height->second};
            break;
        }
    }
    return result;
}

}  // namespace

StepDescription describe_borrow() {
    StepDescription base;
    base.id = "borrow", base.title = "Borrowed strand", base.family = Family::make;
    base.summary = "Another strand's result, used here without copying it.";
    base.headline = {"strand", "output"};
    return Describe<Settings>(std::move(base))
        .strand("strand", "Strand", &Settings::strand, "The strand to borrow; one that is switched off can be borrowed too.")
        .choice("output", "Output", &Settings::output,
                {{"picture", "Picture"}, {"tone", "Tone"}, {"coverage", "Coverage"}, {"height", "Height"}},
                "What to take of it: the picture, its tone as grey, where it shows, or its height.")
        .shape([](const Settings& s, Shape) {
            return s.output == Output::picture ? Shape{3, true} : Shape{1, false};
        })
        .run(run);
}

}  // namespace loom
