// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "core/structures/beyond_edge.h"

namespace loom {

namespace displace_step {
namespace {

enum class From { tone, gradient, normal };
enum class Source { strand, picture, itself };

struct Settings {
    Source source = Source::itself;
    std::string strand, file;
    From from = From::gradient;
    double x = 12, y = 12;
    PixelReading reading = PixelReading::cubic;
    Edge edge = Edge::wrap;
};

const Bundle* map_of(const Settings& s, const StepContext& context) {
    switch (s.source) {
        case Source::strand: return context.other("strand");
        case Source::picture: return context.other("file");
        case Source::itself: return context.input;
    }
    return nullptr;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = map_of(s, context);
    if (!source || source->empty()) return unbent(s.edge, *context.input, context.wanted_rows());
    const Bundle map = source->size() == context.size ? *source : resized(*source, context.size, *context.job);
    const Size size = context.size;
    const auto way_x = static_cast<float>(s.x * context.scale_x()), way_y = static_cast<float>(s.y * context.scale_y());
    // Slopes are taken over a design pixel at least, so that they mean the same at every size.
    const int step = std::max(1, static_cast<int>(std::lround(context.scale_x())));
    const float steepness = static_cast<float>(8 / (2.0 * step / context.scale_x()));
    const PlaneRef tone = s.from == From::normal ? nullptr : tone_of(map, *context.job);
    // `px` and `py` come as steps between -1 and 1.
    auto directions = [&](int y, float* px, float* py) {
        switch (s.from) {
            case From::tone:
                for (int x = 0; x < size.width; ++x) px[x] = py[x] = 2 * tone->row(y)[x] - 1;
                break;
            case From::gradient: {
                const float* here = tone->row(y);
                auto beyond = [&](int index, int count) {
                    return s.edge == Edge::wrap ? wrap(index, count) : std::clamp(index, 0, count - 1);
                };
                const float *above = tone->row(beyond(y - step, size.height)), *below = tone->row(beyond(y + step, size.height));
                const int edge = std::min(step, size.width);
                for (int x = 0; x < size.width; ++x) py[x] = steepness * (below[x] - above[x]);
                for (int x = edge; x < size.width - edge; ++x) px[x] = steepness * (here[x + step] - here[x - step]);
                for (int side : {0, std::max(edge, size.width - edge)})
                    for (int x = side; x < std::min(side + edge, size.width); ++x)
                        px[x] = steepness * (here[beyond(x + step, size.width)] - here[beyond(x - step, size.width)]);
                break;
            }
            case From::normal: {
                // Red points right and green up, as in normal maps.
                const float *right = map.channel(0).row(y), *up = map.channel(1).row(y);
                for (int x = 0; x < size.width; ++x) px[x] = 2 * right[x] - 1, py[x] = 1 - 2 * up[x];
                break;
            }
        }
    };
    auto places = [&](int y, float* px, float* py) {
        directions(y, px, py);
        for (int x = 0; x < size.width; ++x)
            px[x] = static_cast<float>(x) + px[x] * way_x, py[x] = static_cast<float>(y) + py[x] * way_y;
    };
    return resampled_beyond(s.edge, *context.input, context.wanted_rows(), places, *context.job, s.reading);
}

}  // namespace
}  // namespace displace_step

StepDescription describe_displace() {
    using namespace displace_step;
    StepDescription base;
    base.id = "displace", base.title = "Displace", base.family = Family::bend;
    base.summary = "Moves every pixel by what a map says: its tone, its slope or its normals.";
    base.words = "distort warp push bend by another map";
    base.tiles = Tiling::depends;
    base.tiles_note = "it repeats while what lies beyond the edge wraps";
    base.headline = {"x", "y"};
    const Range way{-4096, 4096, Unit::px, 200};
    const When strand{"source", {"strand"}}, picture{"source", {"picture"}};
    Describe<Settings> describe(std::move(base));
    describe
        .choice("source", "Map from", &Settings::source,
                {{"strand", "Strand"}, {"picture", "Picture"}, {"itself", "This strand"}}, "What says how far pixels move.")
        .strand("strand", "Strand", &Settings::strand, "The strand that is the map.", strand)
        .picture("file", "Picture", &Settings::file, "The picture that is the map; its file is copied into the recipe.", picture)
        .choice(
            "from", "Read as", &Settings::from, {{"tone", "Tone"}, {"gradient", "Slope"}, {"normal", "Normals"}},
            "Mid grey stays and black and white move opposite ways; or the way down the slope; or red and green as directions.")
        .number("x", "Across", &Settings::x, way, "How far across a full step moves.")
        .number("y", "Down", &Settings::y, way, "How far down a full step moves.")
        .pair("Way", "x", "y")
        .section("Reading")
        .choice("reading", "Reading", &Settings::reading, {{"cubic", "Sharp"}, {"straight", "Soft"}},
                "Between pixels: by a curve, which keeps what is fine; or by straight lines, which never overshoot.");
    return describe_edge(describe)
        .needs_whole()
        .scratch([](const Settings& s, const Scales&, const PlaneCounts& planes) { return beyond_scratch(s.edge, planes.in); })
        .run(run);
}

}  // namespace loom
