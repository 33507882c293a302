// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/resample.h"

namespace loom {

namespace displace_step {
namespace {

enum class From { tone, gradient, normal };
enum class Source { strand, picture, itself };
enum class Edge { wrap, hold, clear };

struct Settings {
    Source source = Source::itself;
    std::string strand, file;
    From from = From::gradient;
    double x = 12, y = 12;
    PixelReading reading = PixelReading::cubic;
    Edge edge = Edge::wrap;
};

/// Pixels around a picture that hold its edge, as many as reading between pixels looks at.
constexpr int margin = 2;

/// A plane with its edges held for `by` pixels on all sides, or without so many.
PlaneRef resized_by(const Plane& plane, int by) {
    Plane out(Size{plane.width() + 2 * by, plane.height() + 2 * by});
    for (int y = 0; y < out.height(); ++y) {
        const float* row = plane.row(std::clamp(y - by, 0, plane.height() - 1));
        for (int x = 0; x < out.width(); ++x) out.row(y)[x] = row[std::clamp(x - by, 0, plane.width() - 1)];
    }
    return share(std::move(out));
}

Bundle resized_by(const Bundle& in, int by) {
    Bundle out;
    for (const PlaneRef& plane : in.colour) out.colour.push_back(resized_by(*plane, by));
    if (in.coverage) out.coverage = resized_by(*in.coverage, by);
    for (const auto& [name, plane] : in.named) out.named[name] = resized_by(*plane, by);
    return out;
}

/// How much of a pixel read at a place lies on the picture.
float on_picture(float x, float y, Size size) {
    auto along = [](float at, int count) {
        return std::clamp(at + 1, 0.0f, 1.0f) * std::clamp(static_cast<float>(count) - at, 0.0f, 1.0f);
    };
    return along(x, size.width) * along(y, size.height);
}

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
    if (s.edge == Edge::wrap) return resampled(*context.input, context.wanted_rows(), places, *context.job, s.reading);

    Plane on(size);
    const auto right = static_cast<float>(size.width - 1), bottom = static_cast<float>(size.height - 1);
    const Bundle bent = resampled(
        resized_by(*context.input, margin), Rows{0, size.height + 2 * margin},
        [&](int y, float* px, float* py) {
            // The held rows and columns around the picture are made as well, and cut off below.
            const int own = std::clamp(y - margin, 0, size.height - 1);
            places(own, px + margin, py + margin);
            for (int x = 0; x < size.width; ++x) {
                float &to_x = px[x + margin], &to_y = py[x + margin];
                if (own == y - margin) on.row(own)[x] = on_picture(to_x, to_y, size);
                to_x = std::clamp(to_x, 0.0f, right) + margin, to_y = std::clamp(to_y, 0.0f, bottom) + margin;
            }
            for (int x = 0; x < margin; ++x) {
                px[x] = px[margin], py[x] = py[margin];
                px[x + margin + size.width] = px[margin + size.width - 1],
                                py[x + margin + size.width] = py[margin + size.width - 1];
            }
        },
        *context.job, s.reading);
    Bundle out = resized_by(bent, -margin);
    if (s.edge == Edge::hold) return out;
    const PlaneRef mask = share(std::move(on));
    auto times = [&](const PlaneRef& plane) {
        Plane cut = plane->clone();
        for (std::size_t k = 0; k < size.pixels(); ++k) cut.data()[k] *= mask->data()[k];
        return share(std::move(cut));
    };
    for (PlaneRef& plane : out.colour) plane = times(plane);
    out.coverage = out.coverage ? times(out.coverage) : mask;
    return out;
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
        .pair("Way", "x", "y")
        .section("Reading")
        .choice("reading", "Reading", &Settings::reading, {{"cubic", "Sharp"}, {"straight", "Soft"}},
                "Between pixels: by a curve, which keeps what is fine; or by straight lines, which never overshoot.")
        .choice("edge", "Beyond the edge", &Settings::edge, {{"wrap", "Wrap"}, {"hold", "Hold"}, {"clear", "Clear"}},
                "What is seen from over the edge: the other side; the edge held, for pictures that do not repeat; or nothing.")
        .shape([](const Settings& s, Shape in) {
            return Shape{in.channels, in.coverage || s.edge == Edge::clear};
        })
        .needs_whole()
        .scratch([](const Settings& s, const Scales&, const PlaneCounts& planes) {
            return s.edge == Edge::wrap ? 1.0 : 2.0 * planes.in + 2;
        })
        .run(run);
}

}  // namespace loom
