// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"

namespace loom {

namespace beneath_step {
namespace {

struct Settings {};

Bundle run(const Settings&, const StepContext& context) {
    const Bundle* beneath = context.other("beneath");
    return beneath && !beneath->empty() ? *beneath : Bundle::nothing(context.size, context.wanted_rows());
}

}  // namespace
}  // namespace beneath_step

StepDescription describe_beneath() {
    using namespace beneath_step;
    StepDescription base;
    base.id = "beneath", base.title = "Beneath", base.family = Family::make;
    base.summary = "What the strands to the left have joined to, to be worked on here.";
    base.words = "below underneath everything so far merged result";
    return Describe<Settings>(std::move(base))
        .shape([](const Settings&, Shape) {
            return Shape{3, true};
        })
        .reads_beneath([](const Settings&) { return true; })
        .pixelwise()
        .scratch([](const Settings&, const Scales&, const PlaneCounts& planes) { return -1.0 * planes.out; })
        .run(run);
}

}  // namespace loom
