// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/steps/height_source.h"

namespace loom {

namespace hollows_step {
namespace {

struct Settings {
    HeightFrom from = HeightFrom::tone;
    std::string strand;
    double radius = 16;
    double bias = 0;
    double spread = 300;
};

Bundle run(const Settings& s, const StepContext& context) {
    const PlaneRef height = height_source(s.from, context);
    if (!height) return Bundle::of(Plane(context.size, 0.5f));
    const Plane soft = gaussian_blur(*height, s.radius * context.scale_x(), s.radius * context.scale_y(), *context.job);
    Plane out(context.size);
    const auto gain = static_cast<float>(s.spread / 100 * 2), centre = static_cast<float>(0.5 + s.bias / 200);
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x)
                out.row(y)[x] = std::clamp(centre + gain * (height->row(y)[x] - soft.row(y)[x]), 0.0f, 1.0f);
    });
    Bundle result = Bundle::of(std::move(out));
    if (context.input) result.named = context.input->named;
    return result;
}

}  // namespace
}  // namespace hollows_step

StepDescription describe_hollows() {
    using namespace hollows_step;
    StepDescription base;
    base.id = "hollows", base.title = "Tops and hollows", base.family = Family::shade;
    base.summary = "Tops light and hollows dark, as a grey for masks: wear on the one, dirt in the other.";
    base.words = "cavity dirt crevices worn wear highlights ambient occlusion dust rust grime";
    base.scratch_planes = 0;
    base.headline = {"radius"};
    base.alone = {{"height", std::string("strand")}};
    const When strand{"height", {"strand"}};
    Describe<Settings> describe(std::move(base));
    describe_height_source(describe)
        .number("radius", "Radius", &Settings::radius, {0.5, 1024, Unit::px, 128, Scale::root}, "How large a top or hollow is.")
        .number("bias", "Bias", &Settings::bias, {-100, 100, Unit::percent}, "Lighter or darker as a whole.")
        .number("spread", "Spread", &Settings::spread, {0, 2000, Unit::percent, 600, Scale::root},
                "How strongly tops and hollows differ.")
        .once(1, Value(100.0))
        .takes_input(!strand)
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .reads([](const Settings& s) { return height_source_reads(s.from); })
        .needs_whole();
    return describe.run(run);
}

}  // namespace loom
