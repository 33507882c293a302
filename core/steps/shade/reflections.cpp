// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a shiny surface mirrors: the reflected direction, seen from above, looked up in made surroundings. Their brightness
// spans many stops, so its logarithm is the tone.
#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/noise/grains.h"

namespace loom {

namespace reflections_step {
namespace {

enum class From { tone, height, strand };
enum class Surroundings { room, window, cards };

struct Settings {
    From from = From::tone;
    std::string strand;
    double depth = 10;
    Surroundings surroundings = Surroundings::room;
    double turn = 0;
    double roughness = 20;
    double brushed = 0, brush_direction = 0;
    double contrast = 5;
};

double step(double from, double to, double value) {
    const double t = std::clamp((value - from) / (to - from), 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

/// Brightness in a direction: x right, y up, z towards the eye; soft by `blur` (0..1).
double brightness(Surroundings surroundings, double x, double y, double z, double blur) {
    const double soft = 0.06 + 0.9 * blur;
    switch (surroundings) {
        case Surroundings::room: {
            // A bright ceiling up and to the left, walls, and a dark floor.
            const double up = 0.75 * y - 0.45 * x + 0.45 * z;
            return 0.06 + 1.1 * step(0.15 - soft, 0.55 + soft, up) + 0.22 * step(-0.8, 0.4, z) +
                   0.25 * step(0.55 - soft, 0.95, x);
        }
        case Surroundings::window: {
            const double edge = 0.03 + 0.45 * blur;
            const double across = step(-0.62 - edge, -0.62 + edge, x) * (1 - step(-0.08 - edge, -0.08 + edge, x));
            const double up = step(0.1 - edge, 0.1 + edge, y) * (1 - step(0.72 - edge, 0.72 + edge, y));
            const double bars = 1 - 0.8 * (1 - step(0.0, 0.03 + edge, std::abs(x + 0.35))) * (1 - blur);
            return 0.05 + 0.14 * step(-0.6, 0.7, y) + 2.2 * across * up * bars;
        }
        case Surroundings::cards: {
            // Light cards and dark gaps round about, as stands of a photographer.
            const double round = std::atan2(y, x) / 6.283185307179586 * 5 + 0.1;
            const double t = std::abs(round - std::floor(round) - 0.5) * 2, edge = 0.12 + 0.8 * blur;
            const double rim = step(0.12, 0.45 + soft, std::sqrt(x * x + y * y));
            return 0.08 + 0.5 * (1 - rim) + 1.6 * rim * (1 - step(0.5 - edge / 2, 0.5 + edge / 2, t));
        }
    }
    return 0;
}

/// Slopes that objects have by themselves, where they lie as tilted planes. Next to another object a difference of heights says
/// how far one lies above the other, and nothing of how either leans.
class OwnSlopes {
public:
    OwnSlopes(const Bundle& source, Size size, double scale)
        : id_(source.plane(objects::id)),
          right_(source.plane(objects::tilt[0])),
          down_(source.plane(objects::tilt[1])),
          width_(size.width),
          height_(size.height),
          // Heights are softened over a good pixel, here or where small pictures are made, which mixes neighbours that far.
          reach_(static_cast<int>(std::ceil(std::max(1.0, scale))) + 1) {}

    /// Whether a difference of heights at a pixel would reach over an edge.
    bool at_edge(int x, int y) const {
        if (!id_ || !right_ || !down_) return false;
        const float own = id_->row(y)[x];
        for (const auto& [dx, dy] : looked_at)
            if (id_->row(wrap(y + dy * reach_ / 2, height_))[wrap(x + dx * reach_ / 2, width_)] != own) return true;
        return false;
    }
    double right(int x, int y) const { return static_cast<double>(right_->row(y)[x]); }
    double up(int x, int y) const { return -static_cast<double>(down_->row(y)[x]); }

private:
    /// In halves of the reach: a ring and the four ends.
    static constexpr std::pair<int, int> looked_at[] = {{1, 0},  {-1, 0},  {0, 1}, {0, -1}, {1, 1}, {1, -1},
                                                        {-1, 1}, {-1, -1}, {2, 0}, {-2, 0}, {0, 2}, {0, -2}};
    PlaneRef id_, right_, down_;
    int width_, height_, reach_;
};

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return Bundle::of(context.plane(0.5f));
    const PlaneRef named = s.from == From::tone ? nullptr : source->plane(height_plane);
    const PlaneRef raw = named ? named : tone_of(*source, *context.job);
    // Slopes over a design pixel at least, so that the same facets mirror the same at every size.
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const Plane height =
        scale > 1 ? gaussian_blur(*raw, 0.45 * context.scale_x(), 0.45 * context.scale_y(), context.grown(1), *context.job)
                  : raw->clone();
    const double depth = s.depth * scale;
    const OwnSlopes own(named ? *source : Bundle{}, size, scale);
    GrainSettings grains;
    grains.across = std::max(1, context.tile.width), grains.down = std::max(1, context.tile.height);
    grains.seed = mix64(context.seed, 0x62727573);
    const GrainField brush(grains, size);
    const double turn = s.turn * 3.14159265358979323846 / 180, c = std::cos(turn), n = std::sin(turn);
    const double along = s.brush_direction * 3.14159265358979323846 / 180, brush_x = -std::sin(along), brush_y = std::cos(along);
    Plane out = context.plane();
    context.for_rows([&](int first, int last) {
        std::vector<float> scratches(static_cast<std::size_t>(size.width));
        for (int y = first; y < last; ++y) {
            if (s.brushed > 0) brush.row(y, 0, size.width, scratches.data());
            const float *above = height.row(wrap(y - 1, size.height)), *here = height.row(y),
                        *below = height.row(wrap(y + 1, size.height));
            for (int x = 0; x < size.width; ++x) {
                const int l = x > 0 ? x - 1 : size.width - 1, r = x + 1 < size.width ? x + 1 : 0;
                double slope_x = static_cast<double>(here[r] - here[l]) / 2 * depth,
                       slope_y = static_cast<double>(above[x] - below[x]) / 2 * depth;
                if (own.at_edge(x, y)) slope_x = own.right(x, y) * s.depth, slope_y = own.up(x, y) * s.depth;
                if (s.brushed > 0) {
                    // Scratches lean across the brushing only.
                    const double lean = s.brushed / 100 * 0.5 * static_cast<double>(scratches[static_cast<std::size_t>(x)]);
                    slope_x += lean * brush_x, slope_y += lean * brush_y;
                }
                const double length = 1 / std::sqrt(1 + slope_x * slope_x + slope_y * slope_y);
                const double nx = -slope_x * length, ny = -slope_y * length, nz = length;
                // The eye looks straight down: the mirrored direction is 2 (n.e) n - e.
                const double rx = 2 * nz * nx, ry = 2 * nz * ny, rz = 2 * nz * nz - 1;
                const double light = brightness(s.surroundings, c * rx + n * ry, c * ry - n * rx, rz, s.roughness / 100);
                out.row(y)[x] =
                    static_cast<float>(std::clamp(0.5 + std::log2(std::max(light, 1e-4) / 0.4) / s.contrast, 0.0, 1.0));
            }
        }
    });
    Bundle result = Bundle::of(std::move(out));
    result.named = part_of(context.input->named, context.wanted_rows());
    return result;
}

}  // namespace
}  // namespace reflections_step

StepDescription describe_reflections() {
    using namespace reflections_step;
    StepDescription base;
    base.id = "reflections", base.title = "Reflections", base.family = Family::shade;
    base.summary = "What a shiny surface mirrors: foil, glitter, polish, as tones to be coloured.";
    base.words = "shine shiny chrome metal gloss mirror gold glossy polished environment";
    base.seeded = true;
    base.scratch_planes = 0;
    base.headline = {"surroundings"};
    const When strand{"height", {"strand"}};
    const Range angle{-360, 360, Unit::degrees, 180};
    return Describe<Settings>(std::move(base))
        .choice("height", "Height from", &Settings::from, {{"tone", "Tone"}, {"height", "Height"}, {"strand", "Strand"}},
                "What is high: light tones, the height that came in, or another strand.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose height or tone is read.", strand)
        .number("depth", "Depth", &Settings::depth, {-512, 512, Unit::px, 64}, "How high white stands above black.")
        .choice("surroundings", "Surroundings", &Settings::surroundings,
                {{"room", "Soft room"}, {"window", "Window"}, {"cards", "Cards"}},
                "What is mirrored: a room with a light ceiling, one bright window, or light cards all round.")
        .visual()
        .number("turn", "Turn", &Settings::turn, angle, "Turns the surroundings to the left.")
        .number("roughness", "Roughness", &Settings::roughness, {0, 100, Unit::percent}, "How blurred the mirror is.")
        .number("brushed", "Brushed", &Settings::brushed, {0, 100, Unit::percent},
                "Fine scratches that scatter the mirror across them.")
        .number("brush-direction", "Brush direction", &Settings::brush_direction, angle,
                "The way along the scratches; 0 is right, 90 is up.")
        .number("contrast", "Contrast", &Settings::contrast, {1, 16, Unit::stops}, "How many stops lie between black and white.")
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .draws([](const Settings& s) { return s.brushed > 0; })
        .reads([](const Settings& s) {
            std::vector<std::string> planes;
            if (s.from != From::tone)
                for (std::string_view name : {height_plane, objects::id, objects::tilt[0], objects::tilt[1]})
                    planes.emplace_back(name);
            return planes;
        })
        .direction("Surroundings", "turn")
        .footprint([](const Settings&, const Scales& at) {
            const double scale = std::sqrt(at.x() * at.y());
            const Footprint soft = scale > 1 ? gaussian_footprint(0.45 * at.x(), 0.45 * at.y()) : Footprint::pixel();
            const int ring = static_cast<int>(std::ceil(std::max(1.0, scale))) + 1;
            Footprint all = after(soft, Footprint::near(1, 1));
            all.across = std::max(all.across, ring), all.down = std::max(all.down, ring);
            return all;
        })
        .run(run);
}

}  // namespace loom
