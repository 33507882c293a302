// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A base, which the edge-keeping smooth leaves, and the detail upon it (Durand & Dorsey 2002, with the guided filter of He, Sun &
// Tang 2010): detail is strengthened, the base drawn together, and what changes in tone is added to all channels alike.
#include <algorithm>

#include "core/catalogue/describe.h"
#include "core/image/guided.h"
#include "core/image/tally.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace localcontrast_step {
namespace {

struct Settings {
    double radius = 24;
    double strength = 60;
    double compress = 0;
    double lights = 100, darks = 100;
};

constexpr float edge_tone = 0.12f;

double mean_of(const Plane& plane, const PlaneRef& coverage) {
    double sum = 0, weight = 0;
    for (std::size_t i = 0; i < plane.count(); ++i) {
        const double cover = coverage ? static_cast<double>(coverage->data()[i]) : 1.0;
        sum += cover * static_cast<double>(plane.data()[i]), weight += cover;
    }
    return weight > 0 ? sum / weight : 0;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Job& job = *context.job;
    const PlaneRef tone = tone_of(in, job);
    const Plane base = guided_smooth(*tone, s.radius * context.scale_x(), s.radius * context.scale_y(), edge_tone, job);
    const auto middle = static_cast<float>(mean_of(base, in.coverage));
    const auto strength = static_cast<float>(s.strength / 100), compress = static_cast<float>(s.compress / 100);
    const auto lights = static_cast<float>(s.lights / 100), darks = static_cast<float>(s.darks / 100);
    std::vector<Plane> out;
    for (std::size_t c = 0; c < in.colour.size(); ++c) out.push_back(context.plane());
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const float low = base.row(y)[x], detail = tone->row(y)[x] - low;
                // From the share of the darks to that of the lights as the base grows lighter.
                const float t = std::clamp(low, 0.0f, 1.0f), share = darks + t * t * (3 - 2 * t) * (lights - darks);
                const float more = share * strength * detail + compress * (middle - low);
                const float cover = in.coverage ? in.coverage->row(y)[x] : 1.0f;
                for (std::size_t c = 0; c < in.colour.size(); ++c) out[c].row(y)[x] = in.colour[c]->row(y)[x] + more * cover;
            }
    });
    return recoloured(in, std::move(out));
}

}  // namespace
}  // namespace localcontrast_step

StepDescription describe_localcontrast() {
    using namespace localcontrast_step;
    StepDescription base;
    base.id = "localcontrast", base.title = "Local contrast", base.family = Family::tune;
    base.summary = "Strengthens or calms fine contrast, and draws light and dark areas together.";
    base.words = "crisp clarity sharpen sharper detail punch";
    base.headline = {"strength", "radius"};
    base.scratch_planes = 4;
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .number("radius", "Radius", &Settings::radius, {0.5, 1024, Unit::px, 200, Scale::root},
                "What is finer than this counts as detail.")
        .number("strength", "Strength", &Settings::strength, {-100, 400, Unit::percent, 100},
                "How much detail is added; -100 % leaves none.")
        .number("compress", "Compress range", &Settings::compress, share, "Draws what is no detail to its mean tone.")
        .number("lights", "In lights", &Settings::lights, share, "How much of the strength light areas take.")
        .number("darks", "In darks", &Settings::darks, share, "How much of the strength dark areas take.")
        .needs_whole()
        .run(run);
}

}  // namespace loom
