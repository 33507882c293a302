// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/catalogue/describe.h"
#include "core/steps/height_follows.h"
#include "core/image/tally.h"

namespace loom {

namespace threshold_step {
namespace {

enum class By { tone, share };

struct Settings {
    By by = By::tone;
    double tone = 0.5;
    double share = 50;
    double softness = 4;
    bool height_follows = true;
};

constexpr int bins = 4096;

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const PlaneRef tone = tone_of(in, *context.job);
    const double at =
        s.by == By::tone ? s.tone : Tally::of(*tone, in.coverage, 0, 1, bins, *context.job).tone_above(s.share / 100);
    const auto soft = static_cast<float>(std::max(1e-4, s.softness / 100)), edge = static_cast<float>(at) - soft / 2;
    const auto cut = [&](const Plane& plane, const Plane* cover) {
        Plane out = context.plane();
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < context.size.width; ++x) {
                    const float t = std::clamp((plane.row(y)[x] - edge) / soft, 0.0f, 1.0f);
                    out.row(y)[x] = t * t * (3 - 2 * t) * (cover ? cover->row(y)[x] : 1.0f);
                }
        });
        return out;
    };
    Bundle result = Bundle::of(cut(*tone, in.coverage.get()));
    result.coverage = in.coverage;
    result.named = in.named;
    if (const PlaneRef height = in.plane(height_plane); height && s.height_follows)
        result.named[std::string(height_plane)] = share(cut(*height, nullptr));
    return result;
}

}  // namespace
}  // namespace threshold_step

StepDescription describe_threshold() {
    using namespace threshold_step;
    StepDescription base;
    base.id = "threshold", base.title = "Threshold", base.family = Family::roughen;
    base.summary = "White where the picture is lighter than a tone, black where it is darker.";
    base.words = "black and white cut hard binary two tones";
    base.scratch_planes = 0;
    base.headline = {"by"};
    const When by_tone{"by", {"tone"}}, by_share{"by", {"share"}};
    Describe<Settings> describe(std::move(base));
    describe
        .choice("by", "Cut at", &Settings::by, {{"tone", "Tone"}, {"share", "Share of area"}},
                "Whether the tone is given, or how much of the area is to be white.")
        .number("tone", "Tone", &Settings::tone, {0, 1, Unit::tone}, "What is lighter becomes white.", by_tone)
        .number("share", "White share", &Settings::share, {0, 100, Unit::percent}, "How much of the area becomes white.",
                by_share)
        .number("softness", "Softness", &Settings::softness, {0, 100, Unit::percent},
                "Over how many tones black goes over into white.")
        .shape([](const Settings&, Shape in) {
            return Shape{1, in.coverage};
        });
    return describe_height_follows(describe)
        // A share is counted over the whole picture.
        .footprint([](const Settings& s, const Scales&) { return s.by == By::tone ? Footprint::pixel() : Footprint::whole(); })
        .run(run);
}

}  // namespace loom
