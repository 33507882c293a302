// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"

namespace loom {

namespace hollows_step {
namespace {

enum class From { tone, height, strand };

struct Settings {
    From from = From::tone;
    std::string strand;
    double radius = 16;
    double bias = 0;
    double spread = 300;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return Bundle::of(Plane(context.size, 0.5f));
    const PlaneRef named = s.from == From::tone ? nullptr : source->plane(height_plane);
    const PlaneRef height = named ? named : tone_of(*source, *context.job);
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
    return Describe<Settings>(std::move(base))
        .choice("height", "Height from", &Settings::from, {{"tone", "Tone"}, {"height", "Height"}, {"strand", "Strand"}},
                "What is high: light tones, the height that came in, or another strand.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose height or tone is read.", strand)
        .number("radius", "Radius", &Settings::radius, {0.5, 1024, Unit::px, 128, Scale::root}, "How large a top or hollow is.")
        .number("bias", "Bias", &Settings::bias, {-100, 100, Unit::percent}, "Lighter or darker as a whole.")
        .number("spread", "Spread", &Settings::spread, {0, 2000, Unit::percent, 600, Scale::root},
                "How strongly tops and hollows differ.")
        .once(1, Value(100.0))
        .takes_input(!strand)
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .reads([](const Settings& s) {
            return s.from == From::tone ? std::vector<std::string>{} : std::vector<std::string>{std::string(height_plane)};
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
