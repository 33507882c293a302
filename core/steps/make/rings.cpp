// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <bit>
#include <cmath>
#include <numbers>

#include "core/catalogue/describe.h"
#include "core/noise/place_noise.h"
#include "core/structures/asked_plane.h"
#include "core/structures/knot_face.h"
#include "core/structures/supersampled.h"
#include "core/structures/timber.h"
#include "core/structures/timber_kernel.h"
#include "core/structures/wood_pores.h"
#include "core/structures/woods.h"

namespace loom {

namespace rings_step {
namespace {

/// Which trees, by how their rings grow.
enum class Wood { oak, walnut, pine };
constexpr float late_from[] = {late_from_oak, 0.05f, 0.6f};

enum class KnotPlace { lots, first };

struct Settings {
    Wood wood = Wood::oak;
    Cut cut = Cut::flat;
    int bands = 36;
    double depth = 115;
    double early = 25, late = 45;
    double ring_spread = 60;
    double wobble = 56, fine = 85;
    double lopsided = 60;
    double sway = 6;
    double comb = 12;
    double fibres = 75, broad = 100;
    int finer = 2;
    int knots = 1;
    double knot_size = 40, knot_spread = 30;
    KnotPlace knot_place = KnotPlace::lots;
    double knot_x = 50, knot_y = 50;
    double knot_strength = 100, knot_turn = 100, knot_core = 60;
    int knot_seed = 0;
    double pores = 30, pore_length = 11, pore_width = 0.9, pores_early = 93;
    double pore_ragged = 50, pore_rows = 20;
    int pore_seed = 0;
    double rays = 15;
};

TimberSettings timber_of(const Settings& s, const StepContext& context) {
    TimberSettings timber;
    const double side = context.tile.width;
    timber.cut = s.cut, timber.bands = s.bands, timber.depth = s.depth / side;
    timber.wobble = s.wobble / 100, timber.fine = s.fine / 100, timber.sway = s.sway / side;
    timber.ring_spread = s.ring_spread / 60;
    timber.knots = s.knots, timber.knot_size = s.knot_size / 2 / side, timber.knot_spread = s.knot_spread / 100;
    timber.knot_seed = static_cast<std::uint32_t>(s.knot_seed), timber.knot_turn = s.knot_turn / 100;
    if (s.knot_place == KnotPlace::first) timber.first_knot = {s.knot_x / 100, s.knot_y / 100};
    timber.lopsided = s.lopsided / 100, timber.comb = s.comb / context.tile.height;
    timber.seed = context.seed;
    return timber;
}

PoreSettings pores_of(const Settings& s, const StepContext& context) {
    PoreSettings pores;
    pores.pores = s.pores, pores.length = s.pore_length, pores.width = s.pore_width, pores.early = s.pores_early;
    pores.ragged = s.pore_ragged, pores.rows = s.pore_rows, pores.rays = s.rays, pores.end = s.cut == Cut::end;
    pores.seed = s.pore_seed == 0 ? context.seed : mix64(context.seed, 0x7073 + static_cast<std::uint64_t>(s.pore_seed));
    return pores;
}

/// Fibres from the finest to broad bands; those too fine for the picture fade. Along the board they are slow, so that a sheet
/// holds them; end grain has them as fine in both directions, and what is very fine is read at its places.
struct Fibres {
    std::vector<NoiseSheet::Part> slow;
    std::vector<std::pair<PlaceNoise, float>> fine;
    struct Finer {
        PlaceNoise noise;
        float weight;
        int places;  ///< in each pixel
    };
    std::vector<Finer> finer;  ///< come with large sizes
};
Fibres fibres_of(const Settings& s, const StepContext& context) {
    const struct {
        double across, down;  // cells over 1024 design pixels
        float weight;
        bool broad;
    } kinds[] = {{560, 30, 0.060f, false}, {460, 64, 0.045f, false}, {380, 16, 0.055f, false}, {250, 7, 0.050f, false},
                 {90, 3, 0.045f, true},    {30, 2, 0.045f, true},    {1100, 44, 0.05f, false}, {2200, 64, 0.04f, false}};
    constexpr std::size_t usual = 6;
    Fibres fibres;
    for (std::size_t k = 0; k < usual + static_cast<std::size_t>(s.finer); ++k) {
        const std::uint64_t seed = mix64(context.seed, 0x66696200 + k);
        const double across = kinds[k].across * context.tile.width / 1024.0, down = s.cut == Cut::end ? across : kinds[k].down;
        if (k >= usual) {
            // Those that share a pixel are averaged in it; so many together leave nothing, and in end grain, where they share
            // it in both directions, fewer do.
            const double per_pixel = across / context.size.width;
            if (per_pixel < (s.cut == Cut::end ? 1.5 : 4.0))
                fibres.finer.push_back({PlaceNoise(across, down, seed), kinds[k].weight,
                                        std::clamp(static_cast<int>(std::ceil(1.6 * per_pixel)), 1, 4)});
            continue;
        }
        const double shown = share_shown(context.size.width / across);
        if (shown <= 0) continue;
        const double own = kinds[k].broad ? s.broad / 100 : 1;
        const auto weight = static_cast<float>(kinds[k].weight * shown * own);
        if (down > 100)
            fibres.fine.emplace_back(PlaceNoise(across, down, seed), weight);
        else
            fibres.slow.push_back({across, down, weight, seed});
    }
    return fibres;
}

class Painter {
public:
    Painter(const Settings& s, const StepContext& context, const Fibres& fibres)
        : s_(s),
          context_(context),
          timber_(*context.job, timber_of(s, context)),
          fine_(fibres.fine),
          finer_(fibres.finer),
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
        AskedPlane height(context_, height_plane), ring(context_, planes::ring), early(context_, planes::early),
            late(context_, planes::late), pores(context_, planes::pores), rays(context_, planes::rays),
            knots(context_, planes::knots), across(context_, planes::fibre_across), along(context_, planes::fibre_along),
            number(context_, planes::ring_number), direction(context_, planes::grain_direction);
        const auto width = static_cast<std::size_t>(size.width);
        const RingLook look{static_cast<float>(timber_.gain_down()) / static_cast<float>(size.height),
                            static_cast<float>(s_.fibres / 60), static_cast<float>(s_.early / 50),
                            static_cast<float>(s_.late / 50), late_from[static_cast<std::size_t>(s_.wood)]};
        const RingLots lots{timber_.period(), strength_.data(), own_.data()};
        std::vector<float> u(width + 1);
        for (std::size_t x = 0; x <= width; ++x) u[x] = (static_cast<float>(x) + 0.5f) / static_cast<float>(size.width);
        std::optional<CombedPhase> combed;
        if (timber_.combs()) combed.emplace(*context_.job, timber_, u.data(), size.width + 1, context_.tile.height);
        const KnotLook knot_look{s_.knot_strength / 100, s_.knot_core / 100};
        for_rows(*context_.job, size.height, [&](int first, int last) {
            // One place more, as rings look at the phase of the next one.
            NoiseRows rows(size.width + 1, 4);
            float *fibre = rows[0], *down = rows[1], *grain = rows[2], *none = rows[3];
            std::vector<float> plain(width + 1), moved(width + 1), phase(width + 1), unseen(width), beyond(width + 1),
                fibres(static_cast<std::size_t>(fibres_.columns() + NoiseSheet::row_padding));
            for (int y = first; y < last; ++y) {
                const float v = (static_cast<float>(y) + 0.5f) / static_cast<float>(size.height);
                timber_.row(v, u.data(), size.width + 1, fibre, plain.data());
                const float* moved_phase = plain.data();
                if (combed) {
                    std::fill(moved.begin(), moved.end(), 0.0f);
                    timber_.comb_row(v, fibre, size.width + 1, moved.data());
                    combed->row(v, moved.data(), phase.data());
                    moved_phase = phase.data();
                }
                rows.clear(2);
                fibres_.row(v, fibres.data());
                add_line(fibres.data(), fibres_.columns(), fibre, size.width, 1, grain);
                if (!finer_.empty()) std::fill_n(down, size.width, v);
                for (const Fibres::Finer& each : finer_)
                    for (int place = 0; place < each.places; ++place) {
                        const float off = ((static_cast<float>(place) + 0.5f) / static_cast<float>(each.places) - 0.5f) /
                                          static_cast<float>(size.width);
                        for (int x = 0; x < size.width; ++x) none[x] = fibre[x] + off;
                        if (s_.cut == Cut::end) std::fill_n(down, size.width, v + off);
                        each.noise.add(none, down, size.width, each.weight / static_cast<float>(each.places), grain);
                    }
                if (!fine_.empty()) std::fill_n(down, size.width, v);
                for (const auto& [noise, weight] : fine_) noise.add(fibre, down, size.width, weight, grain);
                rows.clear(3);
                float* high = height.row(y);
                ring_row(look, lots, moved_phase, plain.data(), grain, size.width, tone.row(y), high ? high : unseen.data());
                if (float* figure = ring.row(y))
                    ring_row(look, lots, moved_phase, plain.data(), none, size.width, figure, unseen.data());
                grow(moved_phase, plain.data(), look, early.row(y), late.row(y), number.row(y));
                if (float* to = across.row(y)) fill(to, [&](std::size_t x) { return fibre[x] - std::floor(fibre[x]); });
                if (float* to = along.row(y)) fill(to, [&](std::size_t) { return v; });
                if (float* to = direction.row(y)) {
                    constexpr float hair = 0.004f;
                    timber_.row(v + hair, u.data(), size.width + 1, beyond.data(), nullptr);
                    lean(fibre, beyond.data(), hair, to);
                }
                for (const Knot& knot : timber_.knots())
                    knot_row(knot, knot_look, u.data(), size.width, v, {tone.row(y), high, knots.row(y)});
            }
        });
        if (s_.pores > 0 || s_.rays > 0)
            WoodPores(pores_of(s_, context_), timber_, context_).draw(tone, height.plane(), pores.plane(), rays.plane());
        Bundle result = Bundle::of(std::move(tone));
        for (AskedPlane* each : {&height, &ring, &early, &late, &pores, &rays, &knots, &across, &along, &number, &direction})
            each->hand_on(result);
        return result;
    }

private:
    float ring_lot(int ring, std::uint64_t which) const {
        const auto n = static_cast<std::uint64_t>(ring % timber_.period());
        return unit_float(mix64(mix64(context_.seed, 0x72696e67 + n), which));
    }
    template <class Of>
    void fill(float* to, Of&& of) const {
        for (std::size_t x = 0; x < static_cast<std::size_t>(context_.size.width); ++x) to[x] = of(x);
    }

    /// What of a ring a place is; any of the rows may be null.
    void grow(const float* phase, const float* plain, const RingLook& look, float* early, float* late, float* number) const {
        if (!early && !late && !number) return;
        for (int x = 0; x < context_.size.width; ++x) {
            const float across = plain[x + 1] - plain[x],
                        step = std::min(0.5f, 0.9f * std::sqrt(across * across + look.down * look.down)),
                        n = std::floor(phase[x]);
            const Growth g = growth(phase[x] - n, step, look.late_from);
            if (early) early[x] = g.early;
            if (late) late[x] = g.late;
            if (number) number[x] = static_cast<float>(wrap(static_cast<int>(n), timber_.period()));
        }
    }

    /// The way of the fibres, as half turns: places of one fibre here and a hair further down.
    void lean(const float* fibre, const float* beyond, float hair, float* to) const {
        const float tall = hair * static_cast<float>(context_.tile.height), wide = static_cast<float>(context_.tile.width),
                    pixels = static_cast<float>(context_.size.width);
        fill(to, [&](std::size_t x) {
            const float rise = std::max(0.2f, (fibre[x + 1] - fibre[x]) * pixels), right = -(beyond[x] - fibre[x]) / rise * wide;
            // Seen with y upwards, the way down leads to the right by as much as the way up leads to the left.
            return std::atan2(tall, -right) / std::numbers::pi_v<float>;
        });
    }

    const Settings& s_;
    const StepContext& context_;
    Timber timber_;
    std::vector<std::pair<PlaceNoise, float>> fine_;
    std::vector<Fibres::Finer> finer_;
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
    base.planes = {height_plane,        planes::ring,        planes::early,          planes::late,
                   planes::pores,       planes::rays,        planes::knots,          planes::fibre_across,
                   planes::fibre_along, planes::ring_number, planes::grain_direction};
    const Range share{0, 100, Unit::percent};
    const When porous = When::above("pores", 0);
    const When knotted = When::above("knots", 0);
    return Describe<Settings>(std::move(base))
        .choice(
            "wood", "Wood", &Settings::wood, woods(),
            "Which tree it is: how its rings grow from pale to dark. Choosing one also sets rings, fibres, pores and rays as it "
            "has them.")
        .visual({{"knots", 0.0}})
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
        .once(2, 50.0)
        .number("late", "Late wood", &Settings::late, share, "How dark its end is.")
        .once(2, 50.0)
        .number("ring-spread", "Ring spread", &Settings::ring_spread, share, "How much rings differ in width and tone.")
        .number("wobble", "Wobble", &Settings::wobble, {0, 400, Unit::percent, 200}, "How uneven the rings run.")
        .once(2, 100.0)
        .number("fine-wobble", "Fine wobble", &Settings::fine, {0, 400, Unit::percent, 200}, "How much of the wobble is fine.",
                When::above("wobble", 0))
        .once(2, 100.0)
        .number("lopsided", "Lopsided", &Settings::lopsided, share,
                "How much wider the rings are on one side of the heart, so that an arch has two unlike sides.", {"cut", {"flat"}})
        .once(2, 0.0)
        .section("Fibre")
        .number("sway", "Sway", &Settings::sway, {0, 256, Unit::px, 40}, "How far the fibre sways to the sides.")
        .once(2, 11.0)
        .number("comb", "Comb", &Settings::comb, {0, 40, Unit::px},
                "How far rings are drawn out along the grain, from fibre to fibre: arches end in fine teeth.",
                !When("cut", {"end"}))
        .once(2, 0.0)
        .number("fibres", "Fibres", &Settings::fibres, {0, 200, Unit::percent, 100}, "Contrast of the fibres.")
        .once(2, 60.0)
        .number("broad-fibres", "Broad fibres", &Settings::broad, {0, 300, Unit::percent, 200},
                "How strong broad bands of fibres are beside fine ones.", When::above("fibres", 0))
        .count("finer-fibres", "Finer at large sizes", &Settings::finer, {0, 2},
               "How many times finer fibres come in as the picture grows, so that it stays sharp at 2048 and 4096.",
               When::above("fibres", 0))
        .once(2, 0.0)
        .section("Knots")
        .count("knots", "Knots", &Settings::knots, {0, 24, Unit::none, 6}, "How many knots the fibre flows round.")
        .number("knot-size", "Knot size", &Settings::knot_size, {4, 512, Unit::px, 120, Scale::root},
                "Middle width of the knots.", When::above("knots", 0))
        .number("knot-spread", "Knot spread", &Settings::knot_spread, share, "How much knots differ in size.", knotted)
        .choice("knot-place", "Knots lie", &Settings::knot_place, {{"lots", "By chance"}, {"first", "First one placed"}},
                "Whether the first knot lies where chance has it or where you want it.", knotted)
        .number("knot-x", "Knot across", &Settings::knot_x, share, "Where the first knot lies, from the left.",
                knotted && When("knot-place", {"first"}))
        .number("knot-y", "Knot down", &Settings::knot_y, share, "Where the first knot lies, from the top.",
                knotted && When("knot-place", {"first"}))
        .number("knot-strength", "Knot strength", &Settings::knot_strength, {0, 200, Unit::percent},
                "How much the knots themselves stand out.", knotted)
        .number("knot-turn", "Turned grain", &Settings::knot_turn, {0, 200, Unit::percent},
                "How far the grain bends round knots.", knotted)
        .number("knot-core", "Dark core", &Settings::knot_core, share,
                "How dark the heart of a knot is, and how far it has cracked.", knotted)
        .once(2, 0.0)
        .count("knot-seed", "Knot seed", &Settings::knot_seed, {0, 9999, Unit::none, 99},
               "Draws other knots into the same board; 0 follows the seed of the step.", knotted)
        .section("Pores and rays")
        .number("pores", "Pores", &Settings::pores, share, "How many pores there are.")
        .once(2, 35.0)
        .number("pore-length", "Pore length", &Settings::pore_length, {1, 256, Unit::px, 48}, "Middle length of the pores.",
                porous)
        .number("pore-width", "Pore width", &Settings::pore_width, {0.2, 16, Unit::px, 4}, "Width of the pores.", porous)
        .pair("Pore size", "pore-length", "pore-width")
        .number("pores-early", "In early wood", &Settings::pores_early, share,
                "Whether pores lie everywhere alike or in the early wood of each ring.", porous)
        .once(2, 75.0)
        .number("pore-ragged", "Ragged pores", &Settings::pore_ragged, share, "How uneven the sides of the pores are.",
                porous && !When("cut", {"end"}))
        .once(2, 0.0)
        .number("pore-rows", "Pores in rows", &Settings::pore_rows, share,
                "How many pores are followed by others along the same fibre.", porous && !When("cut", {"end"}))
        .once(2, 0.0)
        .count("pore-seed", "Pore seed", &Settings::pore_seed, {0, 9999, Unit::none, 99},
               "Draws other pores and rays into the same board; 0 follows the seed of the step.",
               porous || When::above("rays", 0))
        .number("rays", "Rays", &Settings::rays, share, "How many rays shine in the late wood.")
        .once(2, 20.0)
        .point("First knot", "knot-x", "knot-y")
        .rounded([](const Settings& s, Size) {
            if (s.cut == Cut::quarter) return std::string();
            return "The rings move on by " + std::to_string(ring_period({s.cut, s.bands})) + " over the tile.";
        })
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .needs_whole()
        .scratch([](const Settings&, const Scales& at, const PlaneCounts& planes) {
            return supersampled_scratch(at, planes.out, 0.7);
        })
        .run(run);
}

}  // namespace loom
