// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a shiny surface mirrors: the reflected direction, seen from above, looked up in made surroundings. Their brightness
// spans many stops, so its logarithm is the tone.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/noise/grains.h"
#include "core/structures/brushing.h"
#include "core/structures/drift.h"
#include "core/structures/open_sky.h"
#include "core/structures/own_slopes.h"
#include "core/structures/surroundings.h"

namespace loom {

namespace reflections_step {
namespace {

constexpr double pi = std::numbers::pi;

enum class From { tone, height, strand };
enum class Shows { all, lamps };
enum class Brushing { none, straight, round, lines };

struct Settings {
    From from = From::tone;
    std::string strand;
    double depth = 10;
    Surroundings::Kind surroundings = Surroundings::Kind::room;
    double turn = 0;
    double roughness = 20;
    double exposure = 0;
    Shows shows = Shows::all;
    int lamps = 0;
    double lamp_width = 3, lamp_strength = 8;
    Brushing brushing = Brushing::none;
    std::string lines;
    double along = 5, across = 30, jitter = 8;
    double brushed = 0, brush_direction = 0;
    double centre_x = 50, centre_y = 50, eye = 0;
    double drift = 0, drift_size = 400;
    double occlusion = 0, contact = 0;
    double contrast = 7;
    bool clipped = false;
};

Surroundings surroundings_of(const Settings& s, std::uint64_t seed) {
    Surroundings of;
    of.kind = s.surroundings, of.turn_degrees = s.turn, of.roughness = s.roughness / 100, of.exposure_stops = s.exposure;
    of.lamps = s.lamps, of.lamp_degrees = s.lamp_width, of.lamp_strength = s.lamp_strength;
    of.room_shown = s.shows == Shows::all, of.seed = mix64(seed, 0x726f6f6d);
    return of;
}

/// Rooms with small things in them, or spread by brushing, are looked up in a table.
bool looked_up(const Settings& s) {
    return s.surroundings == Surroundings::Kind::studio || s.lamps > 0 || s.brushing != Brushing::none;
}
/// Its logarithm, or for lamps alone the light itself.
double tone_of_light(const Settings& s, double light) {
    return s.shows == Shows::lamps ? light : 0.5 + std::log2(std::max(light, 1e-4) / 0.4) / s.contrast;
}
double mean_scale(const StepContext& context) { return std::sqrt(context.scale_x() * context.scale_y()); }
bool needs_whole(const Settings& s) {
    return s.occlusion > 0 || s.contact > 0 || (s.brushing == Brushing::lines && !s.lines.empty());
}

/// How the surface is brushed at each place, and how it leans along the lines.
class Scratches {
public:
    Scratches(const Settings& s, const StepContext& context) : s_(s), context_(context) {
        const Bundle* lines = s.brushing == Brushing::none || s.lines.empty() ? nullptr : context.other("lines");
        if (!lines || lines->empty()) return;
        tone_ = tone_of(*lines, *context.job);
        if (s.brushing == Brushing::lines)
            ways_ = context.once([&] { return brushing_of(*lines, brushing_soft_px * mean_scale(context), *context.job); });
    }
    /// Radians from right, against the clock.
    double direction(int x, int y) const {
        if (s_.brushing == Brushing::round) {
            const auto [dx, dy] = from_centre(x, y);
            return std::atan2(dy, dx) + pi / 2;
        }
        if (ways_) return std::atan2(ways_->channel(1).row(y)[x], ways_->channel(0).row(y)[x]) / 2;
        return s_.brush_direction * pi / 180;
    }
    /// Slope along the brushing: each line rises and falls in its own places, and moves what it mirrors that way; across it the
    /// mirror is spread so far that it would hardly be seen.
    double lean(int x, int y) const {
        return tone_ ? std::tan(s_.jitter * pi / 360) * (2 * static_cast<double>(tone_->row(y)[x]) - 1) : 0.0;
    }
    /// Design px to the right and up, from the nearest copy of the centre.
    std::pair<double, double> from_centre(int x, int y) const {
        const Size tile = context_.tile;
        const double u = (x + 0.5) / context_.size.width - s_.centre_x / 100,
                     v = (y + 0.5) / context_.size.height - s_.centre_y / 100;
        return {(u - std::round(u)) * tile.width, -(v - std::round(v)) * tile.height};
    }

private:
    const Settings& s_;
    const StepContext& context_;
    PlaneRef tone_;
    std::shared_ptr<const Bundle> ways_;
};

/// The eye stands far away, or over the centre; the way to it turns back where the tile ends, so that it repeats.
struct Eye {
    const Settings& s;
    Size tile;
    double height;
    Eye(const Settings& settings, Size size) : s(settings), tile(size), height(s.eye / 100 * size.width) {}
    void towards(double dx, double dy, double& x, double& y, double& z) const {
        x = -tile.width / (2 * pi) * std::sin(2 * pi * dx / tile.width),
        y = -tile.height / (2 * pi) * std::sin(2 * pi * dy / tile.height);
        const double length = std::sqrt(x * x + y * y + height * height);
        x /= length, y /= length, z = height / length;
    }
};

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const Bundle* source = s.from == From::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return Bundle::of(context.plane(0.5f));
    const PlaneRef named = s.from == From::tone ? nullptr : source->plane(height_plane);
    const PlaneRef raw = named ? named : tone_of(*source, *context.job);
    // Slopes over a design pixel at least, so that the same facets mirror the same at every size.
    const double scale = mean_scale(context);
    const Plane height =
        scale > 1 ? gaussian_blur(*raw, 0.45 * context.scale_x(), 0.45 * context.scale_y(), context.grown(1), *context.job)
                  : raw->clone();
    const double depth = s.depth * scale;
    const OwnSlopes own(named ? *source : Bundle{}, scale);
    GrainSettings grains;
    grains.across = std::max(1, context.tile.width), grains.down = std::max(1, context.tile.height);
    grains.seed = mix64(context.seed, 0x62727573);
    const GrainField brush(grains, size);
    const Surroundings around = surroundings_of(s, context.seed);
    const Room room(around);
    std::shared_ptr<const Mirror> mirror;
    if (looked_up(s)) {
        const BrushedLobe lobe = s.brushing == Brushing::none ? BrushedLobe{} : BrushedLobe{s.along, s.across};
        Key key;
        key.add("mirror").add(static_cast<std::uint64_t>(around.kind)).add(around.turn_degrees).add(around.roughness);
        key.add(around.exposure_stops).add(static_cast<std::uint64_t>(around.lamps)).add(around.lamp_degrees);
        key.add(around.lamp_strength).add(static_cast<std::uint64_t>(around.room_shown)).add(around.seed);
        key.add(lobe.along).add(lobe.across);
        // Where the lines of a strand say which way, there may be all.
        const bool straight = s.brushing == Brushing::straight;
        const std::optional<double> only = straight ? std::optional(s.brush_direction * pi / 180) : std::nullopt;
        key.add(only ? s.brush_direction : 1e9);
        mirror = context.in_common(key, [&] { return Mirror(room, lobe, only, *context.job); });
    }
    const Scratches scratches(s, context);
    const Eye eye(s, context.tile);
    DriftSettings drift_settings;
    drift_settings.distance_px = 1, drift_settings.size_x_px = drift_settings.size_y_px = s.drift_size;
    drift_settings.octaves = 2, drift_settings.seed = mix64(context.seed, 0x64726966);
    const std::optional<Drift> drift = s.drift > 0 ? std::optional<Drift>(std::in_place, drift_settings, context) : std::nullopt;
    // Drift moves by half as much as what is mirrored, in slopes of the surface.
    const double drift_slope = std::tan(s.drift * pi / 360);
    constexpr double sky_px[] = {3.0, 8.0, 20.0}, contact_px[] = {1.2};
    const Plane sky = s.occlusion > 0 ? open_sky(*raw, s.depth, s.occlusion / 100, sky_px, context) : Plane();
    const Plane touch = s.contact > 0 ? open_sky(*raw, s.depth, s.contact / 100, contact_px, context) : Plane();
    Plane out = context.plane();
    context.for_rows([&](int first, int last) {
        std::vector<float> grain(static_cast<std::size_t>(size.width));
        std::vector<float> du(static_cast<std::size_t>(drift ? drift->padded_width() : 0)), dv(du);
        for (int y = first; y < last; ++y) {
            if (s.brushed > 0) brush.row(y, 0, size.width, grain.data());
            if (drift) drift->row(y, du.data(), dv.data());
            const float *above = height.row(wrap(y - 1, size.height)), *here = height.row(y),
                        *below = height.row(wrap(y + 1, size.height));
            for (int x = 0; x < size.width; ++x) {
                const auto at = static_cast<std::size_t>(x);
                const int l = x > 0 ? x - 1 : size.width - 1, r = x + 1 < size.width ? x + 1 : 0;
                double slope_x = static_cast<double>(here[r] - here[l]) / 2 * depth,
                       slope_y = static_cast<double>(above[x] - below[x]) / 2 * depth;
                if (own.at_edge(x, y)) slope_x = own.right(x, y) * s.depth, slope_y = own.up(x, y) * s.depth;
                const double along = s.brushing == Brushing::none ? s.brush_direction * pi / 180 : scratches.direction(x, y);
                // Scratches lean across the brushing only.
                const double lean = s.brushed > 0 ? s.brushed / 100 * 0.5 * static_cast<double>(grain[at]) : 0.0;
                if (lean != 0) slope_x -= lean * std::sin(along), slope_y += lean * std::cos(along);
                if (s.brushing != Brushing::none) {
                    const double rise = scratches.lean(x, y);
                    slope_x += rise * std::cos(along), slope_y += rise * std::sin(along);
                }
                if (drift) {
                    slope_x += drift_slope * static_cast<double>(du[at]) * context.tile.width;
                    slope_y += drift_slope * static_cast<double>(dv[at]) * context.tile.height;
                }
                const double length = 1 / std::sqrt(1 + slope_x * slope_x + slope_y * slope_y);
                double nx = -slope_x * length, ny = -slope_y * length, nz = length;
                // Of an eye straight above, the mirrored direction is 2 (n.e) n - e.
                double rx = 2 * nz * nx, ry = 2 * nz * ny, rz = 2 * nz * nz - 1;
                if (eye.height > 0) {
                    double ex = 0, ey = 0, ez = 1;
                    const auto [dx, dy] = scratches.from_centre(x, y);
                    eye.towards(dx, dy, ex, ey, ez);
                    const double facing = 2 * (nx * ex + ny * ey + nz * ez);
                    rx = facing * nx - ex, ry = facing * ny - ey, rz = facing * nz - ez;
                    const double half = 1 / std::sqrt(std::max(1e-9, rx * rx + ry * ry + (1 + rz) * (1 + rz)));
                    nx = rx * half, ny = ry * half;
                }
                double light = mirror ? mirror->light(nx, ny, along) : room.light(rx, ry, rz);
                if (s.occlusion > 0) light *= static_cast<double>(sky.row(y)[x]);
                if (s.contact > 0) light *= static_cast<double>(touch.row(y)[x]);
                const double tone = tone_of_light(s, light);
                out.row(y)[x] = static_cast<float>(s.clipped ? std::clamp(tone, 0.0, 1.0) : tone);
            }
        }
    });
    Bundle result = Bundle::of(std::move(out));
    if (context.input) result.named = part_of(context.input->named, context.wanted_rows());
    return result;
}

/// The room as the top of a mirror ball shows it, where what a nearly level surface mirrors is large enough to be seen.
Bundle room_picture(const Settings& s, const StepContext& context) {
    constexpr double top = 0.62;
    const Room room(surroundings_of(s, context.seed));
    Plane ball = context.plane(0), inside = context.plane(0);
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const double u = (2.0 * x + 1) / context.size.width - 1, v = 1 - (2.0 * y + 1) / context.size.height;
                const double cover = std::clamp((1 - std::hypot(u, v)) * context.size.width / 2, 0.0, 1.0);
                const double nx = top * u, ny = top * v, nz = std::sqrt(std::max(0.0, 1 - nx * nx - ny * ny));
                const double light = room.light(2 * nz * nx, 2 * nz * ny, 2 * nz * nz - 1);
                inside.row(y)[x] = static_cast<float>(cover);
                ball.row(y)[x] = static_cast<float>(cover * std::clamp(tone_of_light(s, light), 0.0, 1.0));
            }
    });
    Bundle picture = Bundle::of(std::move(ball));
    picture.coverage = share(std::move(inside));
    return picture;
}

}  // namespace
}  // namespace reflections_step

StepDescription describe_reflections() {
    using namespace reflections_step;
    StepDescription base;
    base.id = "reflections", base.title = "Reflections", base.family = Family::shade;
    base.summary = "What a shiny surface mirrors: foil, glitter, brushed metal, polish, as tones to be coloured.";
    base.words = "shine shiny chrome metal gloss mirror gold glossy polished environment studio brushed anisotropic glint";
    base.seeded = true;
    base.scratch_planes = 0;
    base.headline = {"surroundings"};
    base.alone = {{"height", std::string("strand")}};
    const When strand{"height", {"strand"}}, lamps = When::above("lamps", 0), brushing = !When{"brushing", {"none"}};
    const When straight = When{"brushing", {"straight"}} || When::above("brushed", 0);
    const When centred = When{"brushing", {"round"}} || When::above("eye", 0);
    const Range angle{-360, 360, Unit::degrees, 180}, share{-100, 200, Unit::percent, 100};
    return Describe<Settings>(std::move(base))
        .choice("height", "Height from", &Settings::from, {{"tone", "Tone"}, {"height", "Height"}, {"strand", "Strand"}},
                "What is high: light tones, the height that came in, or another strand.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose height or tone is read.", strand)
        .number("depth", "Depth", &Settings::depth, {-512, 512, Unit::px, 64}, "How high white stands above black.")
        .section("Surroundings")
        .choice("surroundings", "Surroundings", &Settings::surroundings,
                {{"room", "Soft room"}, {"window", "Window"}, {"cards", "Cards all round"}, {"studio", "Studio"}},
                "What is mirrored: a room with a light ceiling, one bright window, light cards all round, or many unequal cards "
                "and dark flags overhead, which stand elsewhere with every seed.")
        .visual()
        .aside("The room overhead, in a mirror ball", room_picture)
        .number("turn", "Turn", &Settings::turn, angle, "Turns the surroundings to the left.")
        .number("roughness", "Roughness", &Settings::roughness, {0, 100, Unit::percent}, "How blurred the mirror is.")
        .number("exposure", "Exposure", &Settings::exposure, {-8, 8, Unit::stops}, "Lighter or darker as a whole.")
        .number("drift", "Drift", &Settings::drift, {0, 60, Unit::degrees, 30},
                "How far what is mirrored wanders over the tile, so that no two regions flash alike.")
        .number("drift-size", "Drift size", &Settings::drift_size, {8, 4096, Unit::px, 1024, Scale::root},
                "How large the regions are that it wanders over.", When::above("drift", 0))
        .section("Lamps")
        .count("lamps", "Lamps", &Settings::lamps, {0, 32, Unit::none, 12}, "Small bright lamps beside the rest, for glints.")
        .number("lamp-width", "Lamp width", &Settings::lamp_width, {0.5, 45, Unit::degrees, 15, Scale::root}, "How wide one is.",
                lamps)
        .number("lamp-strength", "Lamp strength", &Settings::lamp_strength, {0, 200, Unit::none, 40, Scale::root},
                "How bright they are; a light wall is 1.", lamps)
        .choice("shows", "Shows", &Settings::shows, {{"all", "Room and lamps"}, {"lamps", "Lamps only"}},
                "All that is mirrored, or the lamps alone as light without a logarithm, to glow or to be laid over.", lamps)
        .section("Brushing")
        .choice("brushing", "Brushed", &Settings::brushing,
                {{"none", "Not"}, {"straight", "Straight"}, {"round", "Round a point"}, {"lines", "As a strand's lines"}},
                "How the surface is brushed: what is mirrored spreads across it.")
        .strand("lines", "Lines", &Settings::lines,
                "A strand of fine lines: each moves what it mirrors a little along itself, so that light and lines agree.",
                brushing)
        .number("spread-across", "Spread across", &Settings::across, {0, 90, Unit::degrees, 60},
                "How far the mirror is spread across the brushing.", brushing)
        .number("spread-along", "Spread along", &Settings::along, {0, 60, Unit::degrees, 30}, "And along it.", brushing)
        .number("jitter", "Line jitter", &Settings::jitter, {0, 60, Unit::degrees, 30},
                "How far single lines move what they mirror; light bands end combed.", brushing)
        .number("brushed", "Fine scratches", &Settings::brushed, {0, 100, Unit::percent},
                "Scratches a pixel wide that scatter the mirror across them.")
        .number("brush-direction", "Brush direction", &Settings::brush_direction, angle,
                "The way along the brushing; 0 is right, 90 is up.", straight)
        .section("Eye")
        .number("eye", "Eye height", &Settings::eye, {0, 1000, Unit::percent, 300},
                "How far above the tile the eye stands, in tile widths, so that bands widen into fans; 0 is far away.")
        .number("centre-x", "Centre x", &Settings::centre_x, share, "What brushing goes round and the eye stands above.", centred)
        .number("centre-y", "Centre y", &Settings::centre_y, share, "The same, down the tile.", centred)
        .pair("Centre", "centre-x", "centre-y")
        .section("Result")
        .number("occlusion", "Occlusion", &Settings::occlusion, {0, 400, Unit::percent, 100},
                "How much hollows darken because they see less of the room.")
        .number("contact", "Contact shadow", &Settings::contact, {0, 400, Unit::percent, 100},
                "A narrow dark line where one thing lies on another.")
        .number("contrast", "Contrast", &Settings::contrast, {1, 16, Unit::stops}, "How many stops lie between black and white.",
                !When{"shows", {"lamps"}})
        .once(1, Value(5.0))
        .toggle("clipped", "Clipped", &Settings::clipped, "Ends at black and white instead of going beyond.")
        .once(1, Value(true))
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .draws([](const Settings& s) {
            return s.brushed > 0 || s.surroundings == Surroundings::Kind::studio || s.lamps > 0 || s.drift > 0;
        })
        .reads([](const Settings& s) { return s.from == From::tone ? std::vector<std::string>{} : OwnSlopes::reads(); })
        .takes_input(!strand)
        .direction("Surroundings", "turn")
        .point("Centre", "centre-x", "centre-y")
        .scratch([](const Settings& s, const Scales&, const PlaneCounts&) {
            const bool lines = s.brushing == Brushing::lines && !s.lines.empty();
            return (s.occlusion > 0 ? 2.2 : 0) + (s.contact > 0 ? 2.2 : 0) + (lines ? 3 + brushing_scratch : 0);
        })
        .footprint([](const Settings& s, const Scales& at) {
            if (needs_whole(s)) return Footprint::whole();
            const double scale = std::sqrt(at.x() * at.y());
            const Footprint soft = scale > 1 ? gaussian_footprint(0.45 * at.x(), 0.45 * at.y()) : Footprint::pixel();
            const int ring = OwnSlopes::reach_of(scale);
            Footprint all = after(soft, Footprint::near(1, 1));
            all.across = std::max(all.across, ring), all.down = std::max(all.down, ring);
            return all;
        })
        .run(run);
}

}  // namespace loom
