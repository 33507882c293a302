// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <bit>
#include <cmath>

#include "core/base/quick_math.h"
#include "core/catalogue/describe.h"
#include "core/noise/place_noise.h"
#include "core/structures/stroke.h"
#include "core/structures/throws.h"
#include "core/structures/timber.h"
#include "core/structures/timber_kernel.h"
#include "core/structures/supersampled.h"

namespace loom {

namespace rings_step {
namespace {

struct Settings {
    Cut cut = Cut::flat;
    int bands = 36;
    double depth = 115;
    double early = 50, late = 50;
    double ring_spread = 60;
    double wobble = 100, fine = 100;
    double sway = 11;
    double fibres = 60;
    int knots = 1;
    double knot_size = 40, knot_spread = 30;
    double pores = 35, pore_length = 11, pore_width = 0.9, pores_early = 75;
    double rays = 20;
};

TimberSettings timber_of(const Settings& s, const StepContext& context) {
    TimberSettings timber;
    const double side = context.tile.width;
    timber.cut = s.cut, timber.bands = s.bands, timber.depth = s.depth / side;
    timber.wobble = s.wobble / 100, timber.fine = s.fine / 100, timber.sway = s.sway / side;
    timber.ring_spread = s.ring_spread / 60;
    timber.knots = s.knots, timber.knot_size = s.knot_size / 2 / side, timber.knot_spread = s.knot_spread / 100;
    timber.seed = context.seed;
    return timber;
}

/// Fibres from the finest to broad bands; those too fine for the picture fade. Along the board they are slow, so that a sheet
/// holds them; end grain has them as fine in both directions, and what is very fine is read at its places.
struct Fibres {
    std::vector<NoiseSheet::Part> slow;
    std::vector<std::pair<PlaceNoise, float>> fine;
};
Fibres fibres_of(const Settings& s, const StepContext& context) {
    const struct {
        double across, down;  // cells over 1024 design pixels
        float weight;
    } kinds[] = {{560, 30, 0.060f}, {460, 64, 0.045f}, {380, 16, 0.055f}, {250, 7, 0.050f}, {90, 3, 0.045f}, {30, 2, 0.045f}};
    Fibres fibres;
    for (std::size_t k = 0; k < std::size(kinds); ++k) {
        const std::uint64_t seed = mix64(context.seed, 0x66696200 + k);
        const double across = kinds[k].across * context.tile.width / 1024.0, down = s.cut == Cut::end ? across : kinds[k].down,
                     shown = share_shown(context.size.width / across);
        if (shown <= 0) continue;
        const auto weight = static_cast<float>(kinds[k].weight * shown);
        if (down > 100)
            fibres.fine.emplace_back(PlaceNoise(across, down, seed), weight);
        else
            fibres.slow.push_back({across, down, weight, seed});
    }
    return fibres;
}

constexpr int candidate_rows = 512;

class Painter {
public:
    Painter(const Settings& s, const StepContext& context, const Fibres& fibres)
        : s_(s),
          context_(context),
          timber_(*context.job, timber_of(s, context)),
          fine_(fibres.fine),
          fibres_(*context.job, fibres.slow,
                  std::clamp(std::bit_ceil(2u * static_cast<unsigned>(context.size.width)), 64u, 32768u)) {
        const auto spread = static_cast<float>(s.ring_spread / 100);
        for (int n = 0; n <= timber_.period(); ++n) {
            strength_.push_back(1 - 0.72f * spread * ring_lot(n, 1));
            own_.push_back(0.14f * spread * (ring_lot(n, 2) - 0.5f));
        }
    }

    Bundle paint() {
        const Size size = context_.size;
        Plane tone(size);
        const bool high = context_.wants(height_plane);
        Plane height = high ? Plane(size) : Plane();
        const auto width = static_cast<std::size_t>(size.width);
        const RingLook look{static_cast<float>(timber_.gain_down()) / static_cast<float>(size.height),
                            static_cast<float>(s_.fibres / 60), static_cast<float>(s_.early / 50),
                            static_cast<float>(s_.late / 50)};
        const RingLots lots{timber_.period(), strength_.data(), own_.data()};
        for_rows(*context_.job, size.height, [&](int first, int last) {
            // One place more, as rings look at the phase of the next one.
            NoiseRows rows(size.width + 1, 3);
            float *fibre = rows[0], *down = rows[1], *grain = rows[2];
            std::vector<float> u(width + 1), phase(width + 1), unseen(width),
                fibres(static_cast<std::size_t>(fibres_.columns() + NoiseSheet::row_padding));
            for (std::size_t x = 0; x <= width; ++x) u[x] = (static_cast<float>(x) + 0.5f) / static_cast<float>(size.width);
            for (int y = first; y < last; ++y) {
                const float v = (static_cast<float>(y) + 0.5f) / static_cast<float>(size.height);
                timber_.row(v, u.data(), size.width + 1, fibre, phase.data());
                rows.clear(2);
                fibres_.row(v, fibres.data());
                add_line(fibres.data(), fibres_.columns(), fibre, size.width, 1, grain);
                if (!fine_.empty()) std::fill_n(down, size.width, v);
                for (const auto& [noise, weight] : fine_) noise.add(fibre, down, size.width, weight, grain);
                float* high_row = high ? height.row(y) : nullptr;
                ring_row(look, lots, phase.data(), grain, size.width, tone.row(y), high ? high_row : unseen.data());
                for (const Knot& knot : timber_.knots()) knot_row(knot, u.data(), v, tone.row(y), high_row);
            }
        });
        if (s_.pores > 0 || s_.rays > 0) draw_strokes(tone, high ? &height : nullptr);
        Bundle result = Bundle::of(std::move(tone));
        if (high) result.named[std::string(height_plane)] = share(std::move(height));
        return result;
    }

private:
    float ring_lot(int ring, std::uint64_t which) const {
        const auto n = static_cast<std::uint64_t>(ring % timber_.period());
        return unit_float(mix64(mix64(context_.seed, 0x72696e67 + n), which));
    }

    /// The knot's own disc: uneven rings of its own, a dark rim, a halo and a few short checks.
    void knot_row(const Knot& knot, const float* u, float v, float* tone, float* height) const {
        if (!Timber::beside(knot, v, 3 * knot.radius)) return;
        const float shift = 6.2831853f * unit_float(mix64(knot.lots, 4));
        const int width = context_.size.width, middle = static_cast<int>(knot.u * static_cast<float>(width)),
                  wide = std::min(width, 2 * static_cast<int>(3 * knot.radius * static_cast<float>(width)) + 2);
        for (int n = 0; n < wide; ++n) {
            const int x = wrap(middle - wide / 2 + n, width);
            float dx, dy;
            if (Timber::from_knot(knot, u[x], v, dx, dy) > 3 * knot.radius) continue;
            const float ex = dx / knot.radius, ey = dy / (1.35f * knot.radius), far = std::sqrt(ex * ex + ey * ey),
                        turn = std::atan2(ey, ex);
            const float wobble = 1 + 0.07f * std::sin(2 * turn + shift) + 0.05f * std::sin(5 * turn + 2 * shift);
            const float d = far / wobble;
            if (d > 2.6f) continue;
            const float within = std::clamp((1.04f - d) / 0.16f, 0.0f, 1.0f), inside = within * within * (3 - 2 * within);
            const float rings = 0.5f + 0.5f * std::sin(25 * d + 1.3f * std::sin(2 * turn + shift) + 0.6f * std::sin(7 * turn));
            // Checks run from the heart, each at its own angle and length.
            float check = 0;
            for (std::uint64_t k = 0; k < 3; ++k) {
                const float angle = 6.2831853f * unit_float(mix64(knot.lots, 8 + k)),
                            reach = 0.35f + 0.4f * unit_float(mix64(knot.lots, 12 + k));
                float off = turn - angle;
                off -= 6.2831853f * std::floor(off / 6.2831853f + 0.5f);
                const float side = std::abs(off) * d;
                if (d < reach) check = std::max(check, std::clamp(1 - side / (0.05f * (1 - d / reach) + 0.012f), 0.0f, 1.0f));
            }
            const float rim = std::exp(-(d - 1) * (d - 1) * 70) * (0.6f + 0.4f * std::sin(3 * turn + shift)),
                        halo = std::exp(-std::max(0.0f, d - 1) * 2.6f);
            tone[x] = tone[x] * (1 - inside) + inside * (0.30f + 0.13f * rings + 0.4f * (tone[x] - 0.5f) - 0.22f * check);
            tone[x] -= 0.17f * rim + 0.07f * halo * (1 - inside);
            if (height) height[x] -= 0.25f * check * inside + 0.04f * rim;
        }
    }

    /// Pores and rays are decided at their middle, by the ring there, and drawn along the fibre.
    void draw_strokes(Plane& tone, Plane* height) const {
        const double area = static_cast<double>(context_.tile.width) * context_.tile.height / (1024.0 * 1024.0);
        const int pores = static_cast<int>(std::min(400000.0, 1500 * s_.pores * area)), fine = pores / 3,
                  rays = static_cast<int>(std::min(100000.0, 125 * s_.rays * area)), all = pores + fine + rays;
        // Candidates are shared out over rows of the tile, each of which is one row of timber.
        std::vector<LaidStrokes> of_row(candidate_rows);
        const NoiseSheet crowd(*context_.job, {{9, 4, 1, mix64(context_.seed, 0x63726f77)}});
        for_ranges(*context_.job, candidate_rows, 16, [&](int first, int last) {
            for (int row = first; row < last; ++row) decide(row, all, pores, fine, crowd, of_row[static_cast<std::size_t>(row)]);
        });
        const LaidStrokes strokes = LaidStrokes::joined(of_row);
        const std::vector<ObjectBox> boxes = strokes.boxes(1.0f);
        for_object_bands(
            *context_.job, context_.size, boxes, 64, [&](int first, int last, const std::vector<ObjectCopy>& copies) {
                for (const ObjectCopy& copy : copies) {
                    const LaidStroke& stroke = strokes[copy.object];
                    const int from = std::max(first, static_cast<int>(boxes[copy.object].top + copy.dy)),
                              to = std::min(last, static_cast<int>(boxes[copy.object].bottom + copy.dy) + 2);
                    paint_stroke(pen_of(stroke, copy.dx, copy.dy, from), strokes.parts_of(stroke), static_cast<int>(stroke.count),
                                 {StrokeMix::taken, stroke.tone, std::max(0.0f, stroke.tone) * 1.6f},
                                 {tone.row(from), nullptr, height ? height->row(from) : nullptr, to - from, tone.width()},
                                 nullptr);
                }
            });
    }

    void decide(int row, int all, int pores, int fine, const NoiseSheet& crowds, LaidStrokes& out) const {
        const int count = (all - row + candidate_rows - 1) / candidate_rows;
        if (count <= 0) return;
        const auto size = static_cast<std::size_t>(count);
        std::vector<float> u(size), fibre(size), phase(size), beyond(size), crowd(size, 0.0f),
            crowd_row(static_cast<std::size_t>(crowds.columns() + NoiseSheet::row_padding));
        auto index_of = [&](std::size_t k) { return static_cast<int>(k) * candidate_rows + row; };
        auto lots = [&](std::size_t k) { return mix64(context_.seed, 0x706f7265 + static_cast<std::uint64_t>(index_of(k))); };
        for (std::size_t k = 0; k < size; ++k) u[k] = unit_float(mix64(lots(k), 0));
        const float middle = (static_cast<float>(row) + 0.5f) / candidate_rows;
        timber_.row(middle, u.data(), count, fibre.data(), phase.data());
        // How the fibre leans: where the same fibre is a hair further down.
        constexpr float hair = 0.004f;
        timber_.row(middle + hair, u.data(), count, beyond.data(), nullptr);
        crowds.row(middle, crowd_row.data());
        add_line(crowd_row.data(), crowds.columns(), u.data(), count, 1, crowd.data());
        std::vector<LaidStrokes::Point> points;
        const double scale_x = context_.scale_x(), scale_y = context_.scale_y(), scale = std::sqrt(scale_x * scale_y);
        const bool end = s_.cut == Cut::end;
        for (std::size_t k = 0; k < size; ++k) {
            const int index = index_of(k);
            const bool small = index >= pores && index < pores + fine, ray = index >= pores + fine;
            const Growth g = growth(phase[k] - std::floor(phase[k]), 0);
            const auto ring_porous = static_cast<float>(s_.pores_early / 100);
            float chance = (1 - ring_porous) * 0.4f + ring_porous * 1.35f * g.early;
            chance *= std::exp(0.45f * crowd[k]);
            if (small) chance = 0.25f + 0.5f * chance;
            if (ray) chance = 0.2f + 0.8f * g.late;
            if (unit_float(mix64(lots(k), 2)) > chance) continue;
            const double bell = std::clamp(static_cast<double>(normal_draw(lots(k), 3)), -2.0, 2.0);
            double length = s_.pore_length * std::exp(0.6 * bell) * (small ? 0.6 : ray ? 1.5 : 1);
            const double lean = -static_cast<double>(beyond[k] - fibre[k]) / hair * context_.tile.width / context_.tile.height;
            double wx = lean, wy = 1;
            if (end && !ray) length = s_.pore_width * 1.2;
            const double norm = length / 2 / std::hypot(wx, wy);
            LaidStroke stroke;
            const double x = static_cast<double>(u[k]) * context_.tile.width,
                         y = (row + static_cast<double>(unit_float(mix64(lots(k), 1)))) / candidate_rows * context_.tile.height;
            points.clear();
            for (double side : {-1.0, 1.0})
                points.push_back({static_cast<float>((x + side * norm * wx) * scale_x - 0.5),
                                  static_cast<float>((y + side * norm * wy) * scale_y - 0.5)});
            stroke.half_width = static_cast<float>(0.5 * s_.pore_width * scale * (small ? 0.5 : ray ? 1.2 : 1) * (end ? 2.2 : 1));
            stroke.taper = 0.7f;
            // Rays shine a little, pores are dark and deep.
            stroke.tone = ray ? -0.07f : small ? 0.12f : 0.20f + 0.12f * unit_float(mix64(lots(k), 4));
            out.add(stroke, points);
        }
    }

    const Settings& s_;
    const StepContext& context_;
    Timber timber_;
    std::vector<std::pair<PlaceNoise, float>> fine_;
    NoiseSheet fibres_;
    std::vector<float> strength_, own_;  ///< of each ring
};

Bundle run(const Settings& s, const StepContext& context) {
    return supersampled(context, [&](const StepContext& c) { return Painter(s, c, fibres_of(s, c)).paint(); });
}

}  // namespace
}  // namespace rings_step

StepDescription describe_rings() {
    using namespace rings_step;
    StepDescription base;
    base.id = "rings", base.title = "Growth rings", base.family = Family::make;
    base.summary = "Sawn timber: rings, fibres, pores and knots that bend together. The grain runs down the tile.";
    base.words = "wood timber oak pine growth grain plank knots lumber";
    base.seeded = true;
    base.headline = {"cut", "bands"};
    base.planes = {height_plane};
    const Range share{0, 100, Unit::percent};
    const When porous = When::above("pores", 0);
    return Describe<Settings>(std::move(base))
        .choice("cut", "Cut", &Settings::cut, {{"flat", "Flat-sawn"}, {"quarter", "Quarter-sawn"}, {"end", "End grain"}},
                "Arches, straight lines, or arcs seen from the end.")
        .visual({{"bands", 9.0},
                 {"depth", 60.0},
                 {"wobble", 8.0},
                 {"fine-wobble", 0.0},
                 {"sway", 2.0},
                 {"fibres", 25.0},
                 {"knots", 0.0},
                 {"pores", 0.0},
                 {"rays", 0.0}})
        .section("Rings")
        .count("bands", "Bands", &Settings::bands, {1, 512, Unit::none, 120, Scale::root},
               "Rings from the heart to the far side of the tile, or over the tile.")
        .number("depth", "Depth of the cut", &Settings::depth, {1, 2048, Unit::px, 400, Scale::root},
                "How far from the pith the board was sawn: near it arches are pointed, far from it they are broad.",
                !When("cut", {"quarter"}))
        .number("early", "Early wood", &Settings::early, share, "How dark the start of each ring is.")
        .number("late", "Late wood", &Settings::late, share, "How dark its end is.")
        .number("ring-spread", "Ring spread", &Settings::ring_spread, share, "How much rings differ in width and tone.")
        .number("wobble", "Wobble", &Settings::wobble, {0, 400, Unit::percent, 200}, "How uneven the rings run.")
        .number("fine-wobble", "Fine wobble", &Settings::fine, {0, 400, Unit::percent, 200}, "How much of the wobble is fine.",
                When::above("wobble", 0))
        .section("Fibre")
        .number("sway", "Sway", &Settings::sway, {0, 256, Unit::px, 40}, "How far the fibre sways to the sides.")
        .number("fibres", "Fibres", &Settings::fibres, {0, 200, Unit::percent, 100}, "Contrast of the fibres.")
        .section("Knots")
        .count("knots", "Knots", &Settings::knots, {0, 24, Unit::none, 6}, "How many knots the fibre flows round.")
        .number("knot-size", "Knot size", &Settings::knot_size, {4, 512, Unit::px, 120, Scale::root},
                "Middle width of the knots.", When::above("knots", 0))
        .number("knot-spread", "Knot spread", &Settings::knot_spread, share, "How much knots differ in size.",
                When::above("knots", 0))
        .section("Pores and rays")
        .number("pores", "Pores", &Settings::pores, share, "How many pores there are.")
        .number("pore-length", "Pore length", &Settings::pore_length, {1, 256, Unit::px, 48}, "Middle length of the pores.",
                porous)
        .number("pore-width", "Pore width", &Settings::pore_width, {0.2, 16, Unit::px, 4}, "Width of the pores.", porous)
        .pair("Pore size", "pore-length", "pore-width")
        .number("pores-early", "In early wood", &Settings::pores_early, share,
                "Whether pores lie everywhere alike or in the early wood of each ring.", porous)
        .number("rays", "Rays", &Settings::rays, share, "How many rays shine in the late wood.")
        .rounded([](const Settings& s, Size) {
            if (s.cut == Cut::quarter) return std::string();
            return "The rings move on by " + std::to_string(ring_period({s.cut, s.bands})) + " over the tile.";
        })
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .needs_whole()
        .scratch([](const Settings&, const Scales& at, const PlaneCounts& planes) {
            return supersampled_scratch(at, planes.out, 0.4);
        })
        .run(run);
}

}  // namespace loom
