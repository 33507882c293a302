// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"
#include "core/steps/bend/resample.h"

namespace loom {

namespace {

enum class From { tone, gradient, normal };
enum class Source { strand, picture, itself };

struct Settings {
    Source source = Source::itself;
    std::string strand, file;
    From from = From::gradient;
    double x = 12, y = 12;
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
    if (!source || source->empty()) return *context.input;
    const Bundle map = source->size() == context.size ? *source : resized(*source, context.size);
    const Size size = context.size;
    const PlaneRef tone = tone_of(map);
    const double way_x = s.x * context.scale_x(), way_y = s.y * context.scale_y();
    // Slopes are taken over a design pixel at least, so that they mean the same at every size.
    const int step = std::max(1, static_cast<int>(std::lround(context.scale_x())));
    const double steepness = 8 / (2.0 * step / context.scale_x());
    return resampled(
        *context.input,
        [&](int y, float* px, float* py) {
            for (int x = 0; x < size.width; ++x) {
                double dx = 0, dy = 0;
                switch (s.from) {
                    case From::tone: dx = dy = 2 * static_cast<double>(tone->at(x, y)) - 1; break;
                    case From::gradient:
                        dx = steepness * static_cast<double>(tone->wrapped(x + step, y) - tone->wrapped(x - step, y));
                        dy = steepness * static_cast<double>(tone->wrapped(x, y + step) - tone->wrapped(x, y - step));
                        break;
                    case From::normal:
                        // Red points right and green up, as in normal maps.
                        dx = 2 * static_cast<double>(map.channel(0).at(x, y)) - 1;
                        dy = 1 - 2 * static_cast<double>(map.channel(1).at(x, y));
                        break;
                }
                px[x] = static_cast<float>(x + dx * way_x), py[x] = static_cast<float>(y + dy * way_y);
            }
        },
        *context.job);
}

}  // namespace

StepDescription describe_displace() {
    StepDescription base;
    base.id = "displace", base.title = "Displace", base.family = Family::bend;
    base.summary = "Moves every pixel by what a map says: its tone, its slope or its normals.";
    base.scratch_planes = 4;
    base.headline = {"x", "y"};
    const Range way{-4096, 4096, Unit::px, 200};
    const When strand{"source", {"strand"}}, picture{"source", {"picture"}};
    return Describe<Settings>(std::move(base))
        .choice("source", "Map from", &Settings::source,
                {{"strand", "Strand"}, {"picture", "Picture"}, {"itself", "This strand"}}, "What says how far pixels move.")
        .strand("strand", "Strand", &Settings::strand, "The strand that is the map.", strand)
        .picture("file", "Picture", &Settings::file, "The picture that is the map; its file is copied into the recipe.", picture)
        .choice(
            "from", "Read as", &Settings::from, {{"tone", "Tone"}, {"gradient", "Slope"}, {"normal", "Normals"}},
            "Mid grey stays and black and white move opposite ways; or the way down the slope; or red and green as directions.")
        .number("x", "Across", &Settings::x, way, "How far across a full step moves.")
        .number("y", "Down", &Settings::y, way, "How far down a full step moves.")
        .reach([](const Settings& s) { return std::max(std::abs(s.x), std::abs(s.y)); })
        .run(run);
}

}  // namespace loom
