// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace evenout_step {
namespace {

enum class What { both, tone, colour };

struct Settings {
    double size = 12;
    double strength = 80;
    What what = What::both;
};

double mean_of(const Plane& plane) {
    double sum = 0;
    for (std::size_t i = 0; i < plane.size().pixels(); ++i) sum += static_cast<double>(plane.data()[i]);
    return sum / static_cast<double>(plane.size().pixels());
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Size size = context.size;
    const double rx = s.size / 100 * size.width, ry = s.size / 100 * size.height;
    const auto strength = static_cast<float>(s.strength / 100);
    const std::size_t channels = in.colour.size();
    // How far the surroundings of each pixel stray from the mean of the whole, covered parts counting alone.
    std::vector<Plane> stray;
    const PlaneRef cover = in.coverage;
    const Plane soft_cover = cover ? gaussian_blur(*cover, rx, ry, *context.job) : Plane();
    const double whole_cover = cover ? std::max(1e-6, mean_of(*cover)) : 1.0;
    for (const PlaneRef& plane : in.colour) {
        Plane soft = gaussian_blur(*plane, rx, ry, *context.job);
        const auto mean = static_cast<float>(mean_of(*plane) / whole_cover);
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const float c = cover ? soft_cover.data()[i] : 1.0f;
            soft.data()[i] = c > 1e-4f ? soft.data()[i] / c - mean : 0.0f;
        }
        stray.push_back(std::move(soft));
    }
    std::vector<Plane> out;
    for (std::size_t c = 0; c < channels; ++c) out.emplace_back(size);
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const float covered = cover ? cover->row(y)[x] : 1.0f;
                const float tone = channels == 1
                                       ? stray[0].row(y)[x]
                                       : 0.3f * stray[0].row(y)[x] + 0.59f * stray[1].row(y)[x] + 0.11f * stray[2].row(y)[x];
                for (std::size_t c = 0; c < channels; ++c) {
                    const float own = stray[c].row(y)[x];
                    const float off = s.what == What::both ? own : s.what == What::tone ? tone : own - tone;
                    out[c].row(y)[x] = in.colour[c]->row(y)[x] - strength * covered * off;
                }
            }
    });
    return recoloured(in, std::move(out));
}

}  // namespace
}  // namespace evenout_step

StepDescription describe_evenout() {
    using namespace evenout_step;
    StepDescription base;
    base.id = "evenout", base.title = "Even out", base.family = Family::finish;
    base.summary = "Takes uneven lighting and large stains away, so that no grid shows when the tile is repeated.";
    base.words = "uneven light dark patches flatten vignetting shading remove blotch";
    base.scratch_planes = 1;
    base.headline = {"size", "strength"};
    return Describe<Settings>(std::move(base))
        .number("size", "Size", &Settings::size, {1, 50, Unit::percent},
                "How large what is evened out is, as a share of the tile.")
        .number("strength", "Strength", &Settings::strength, {0, 100, Unit::percent}, "How much of it is taken away.")
        .choice("what", "What", &Settings::what, {{"both", "Tone and colour"}, {"tone", "Tone"}, {"colour", "Colour"}},
                "What is evened out.")
        .needs_whole()
        .run(run);
}

}  // namespace loom
