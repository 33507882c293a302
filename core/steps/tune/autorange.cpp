// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/catalogue/describe.h"
#include "core/image/tally.h"
#include "core/steps/channel_choice.h"
#include "core/steps/height_follows.h"
#include "core/steps/each_plane.h"

namespace loom {

namespace autorange_step {
namespace {

enum class Way { together, apart, lightness };

struct Settings {
    double clip = 0.5;
    Way way = Way::together;
    bool height_follows = true;
};

struct Span {
    float low = 0, high = 1;
    bool flat() const { return high - low < 1e-5f; }
    float of(float value) const { return std::clamp((value - low) / (high - low), 0.0f, 1.0f); }
};

/// From the darkest tone to the lightest, but for the share of the area that may be lost at either end.
Span span_of(const Plane& plane, const PlaneRef& coverage, double clip, const Job& job) {
    const ToneSpan extent = tone_span_of(plane, coverage, job);
    if (!(extent.greatest > extent.least)) return {extent.least, extent.greatest};
    constexpr int bins = 4096;
    const Tally tally =
        Tally::of(plane, coverage, static_cast<double>(extent.least), static_cast<double>(extent.greatest), bins, job);
    if (clip <= 0) return {extent.least, extent.greatest};
    return {static_cast<float>(tally.tone_above(1 - clip)), static_cast<float>(tally.tone_above(clip))};
}

Plane lightness_of(const std::vector<PlaneRef>& colour, const StepContext& context) {
    Plane tones(context.size);
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x)
                tones.row(y)[x] = lightness_tone({colour[0]->row(y)[x], colour[1]->row(y)[x], colour[2]->row(y)[x]});
    });
    return tones;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Job& job = *context.job;
    std::vector<PlaneRef> colour;
    for (const PlaneRef& plane : in.colour) colour.push_back(straight(plane, in.coverage, job));
    const bool by_lightness = s.way == Way::lightness && !in.grey();
    const Plane tones = by_lightness ? lightness_of(colour, context) : Plane();
    std::vector<Span> spans;
    if (by_lightness)
        spans.push_back(span_of(tones, in.coverage, s.clip / 100, job));
    else
        for (const PlaneRef& plane : colour) spans.push_back(span_of(*plane, in.coverage, s.clip / 100, job));
    if (s.way == Way::together)
        for (const Span& each : std::vector<Span>(spans))
            for (Span& span : spans) span = {std::min(span.low, each.low), std::max(span.high, each.high)};
    if (std::all_of(spans.begin(), spans.end(), [](const Span& span) { return span.flat(); })) return in;

    std::vector<Plane> out;
    for (std::size_t c = 0; c < colour.size(); ++c) out.push_back(context.plane());
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const float cover = in.coverage ? in.coverage->row(y)[x] : 1.0f;
                if (by_lightness) {
                    const Colour lit = with_lightness_tone({colour[0]->row(y)[x], colour[1]->row(y)[x], colour[2]->row(y)[x]},
                                                           spans[0].of(tones.row(y)[x]));
                    out[0].row(y)[x] = lit.red * cover, out[1].row(y)[x] = lit.green * cover, out[2].row(y)[x] = lit.blue * cover;
                    continue;
                }
                for (std::size_t c = 0; c < colour.size(); ++c) {
                    const float value = colour[c]->row(y)[x];
                    out[c].row(y)[x] = (spans[c].flat() ? value : spans[c].of(value)) * cover;
                }
            }
    });
    Bundle result = recoloured(in, std::move(out));
    // One range for all is a curve that a height can follow.
    const PlaneRef height = s.height_follows && (s.way == Way::together || in.grey()) ? in.plane(height_plane) : nullptr;
    if (height) {
        Plane spread = context.plane();
        context.for_rows([&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < context.size.width; ++x) spread.row(y)[x] = spans[0].of(height->row(y)[x]);
        });
        result.named[std::string(height_plane)] = share(std::move(spread));
    }
    return result;
}

}  // namespace
}  // namespace autorange_step

StepDescription describe_autorange() {
    using namespace autorange_step;
    StepDescription base;
    base.id = "autorange", base.title = "Auto range", base.family = Family::tune;
    base.summary = "Spreads the tones that are there from black to white.";
    base.words = "normalise stretch automatic contrast full range";
    base.headline = {"clip", "way"};
    Describe<Settings> describe(std::move(base));
    describe
        .number("clip", "Clip", &Settings::clip, {0, 40, Unit::percent, 5, Scale::root},
                "How much of the area may become quite black, and how much quite white.")
        .choice(
            "way", "Channels", &Settings::way, {{"together", "Together"}, {"apart", "Apart"}, {"lightness", "Lightness"}},
            "One range for all channels, one for each, which takes a cast of colour away, or lightness alone, which keeps hue.");
    return describe_height_follows(describe)
        .needs_whole()
        .scratch([](const Settings& s, const Scales&, const PlaneCounts& planes) {
            return (planes.in > 1 ? 3.0 : 0.0) + (s.way == Way::lightness ? 1.0 : 0.0);
        })
        .run(run);
}

}  // namespace loom
