// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"

namespace loom {

namespace flat_step {
namespace {

struct Settings {
    Colour colour{0.72f, 0.54f, 0.36f};
};

Bundle run(const Settings& s, const StepContext& context) {
    return Bundle::of(context.plane(s.colour.red), context.plane(s.colour.green), context.plane(s.colour.blue));
}

}  // namespace
}  // namespace flat_step

StepDescription describe_flat() {
    using namespace flat_step;
    StepDescription base;
    base.id = "flat", base.title = "Flat colour", base.family = Family::make;
    base.summary = "One even colour over the whole tile.";
    base.words = "fill solid plain colour tint uniform";
    base.headline = {"colour"};
    return Describe<Settings>(std::move(base))
        .colour("colour", "Colour", &Settings::colour, "The colour.")
        .shape([](const Settings&, Shape) {
            return Shape{3, false};
        })
        .pixelwise()
        .run(run);
}

}  // namespace loom
