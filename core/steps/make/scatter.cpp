// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Many copies of a motif. Stacked ones are tilted planes at depths of their own; the highest shows at each pixel.
#include <algorithm>
#include <cmath>
#include <numeric>

#include "core/base/quick_math.h"
#include "core/catalogue/describe.h"
#include "core/image/sample.h"
#include "core/structures/asked_plane.h"
#include "core/structures/density_map.h"
#include "core/structures/stains.h"
#include "core/structures/motifs.h"
#include "core/structures/throws.h"
#include "core/structures/object_sheet.h"
#include "core/structures/supersampled.h"
#include "core/structures/topmost.h"

namespace loom {

namespace scatter_step {
namespace {

enum class Stain { soft, tide };
enum class TiltLaw { bell, rayleigh };

struct Settings {
    Motif motif = Motif::flake;
    std::string strand, density;
    int count = 2000;
    double size = 24, size_spread = 30;
    double stretch = 100, turn = 360, direction = 0;
    double spread = 60;
    Overlap overlap = Overlap::stacked;
    double stack = 100;
    double tilt = 20;
    TiltLaw tilt_law = TiltLaw::rayleigh;
    double steep = 10;
    double bend = 15;
    Profile profile = Profile::flat;
    Stain stain = Stain::tide;
    double stain_wander = 50;
    int stain_rings = 2;
};

/// A thing as it lies: in pixels.
struct Laid {
    float x, y, radius;
    float c, s, squeeze;        ///< turn, and height beside width
    float slope_x, slope_y, z;  ///< rise a pixel, and height of the middle in pixels
    float tone;
    float bend_x, bend_y, bend;  ///< the way along which it bends, and how its rise changes over a radius
    float lot;
    std::uint32_t id;  ///< from 1
    MotifOutline outline;
};

class Painter {
public:
    Painter(const Settings& s, const StepContext& context)
        : s_(s),
          context_(context),
          scale_(static_cast<float>(std::sqrt(context.scale_x() * context.scale_y()))),
          strand_(s.motif == Motif::strand ? context.other("strand") : nullptr) {
        // Things that keep apart find other places if they are larger.
        const bool anywhere = s.overlap == Overlap::free || s.overlap == Overlap::stacked;
        const Fewer fewer = simplified(context, s.count, anywhere ? std::pow(s.size * double{scale_} / least_size, 2) : 1);
        if (strand_ && strand_->empty()) strand_ = nullptr;
        ThrowSettings throws{fewer.count,         s.size / 2 * std::sqrt(fewer.area),
                             s.size_spread / 100, s.overlap,
                             context.tile,        context.seed,
                             context.job,         {}};
        if (const auto density = density_map(context.other("density")))
            throws.keeps = [density, seed = context.seed](double u, double v, std::uint64_t k) {
                return static_cast<double>(unit_float(mix64(mix64(seed, 0x64656e73), k))) < density->tone(u, v);
            };
        std::vector<Throw> all = thrown(throws);
        if (tides())
            edges_.emplace(StainSettings{s.size, s.stain_wander / 100, s.stain_rings, mix64(context.seed, 0x7374)}, context);
        // What is wider than the tile would lie over itself.
        const auto widest = static_cast<float>(std::max(context.tile.width, context.tile.height)) / 2;
        for (Throw& one : all) one.radius = std::min(one.radius, widest);
        const std::vector<std::uint32_t> shown = visible(all);
        if (!shown.empty()) laid_.assign(shown.size(), laid(all.front(), 1));
        for_ranges(*context.job, static_cast<int>(shown.size()), 512, [&](int first, int last) {
            for (auto k = static_cast<std::size_t>(first); k < static_cast<std::size_t>(last); ++k)
                laid_[k] = laid(all[shown[k]], shown[k] + 1);
        });
        if (tides())
            for (const Laid& one : laid_) profiles_.emplace_back(s.stain_rings, mix64(context.seed, 0x70726f66 + one.id));
    }

    Bundle paint() {
        ObjectSheet sheet(context_, channels(), true);
        AskedPlane layer(context_, planes::layer), bent(context_, planes::bend);
        std::vector<ObjectBox> boxes;
        for (const Laid& one : laid_) {
            const float reach = one.radius * farthest() * std::max(1.0f, one.squeeze) + 1;
            boxes.push_back({one.x - reach, one.y - reach, one.x + reach, one.y + reach});
        }
        for_object_bands(*context_.job, context_.size, boxes, 32, [&](int first, int last, const std::vector<ObjectCopy>& given) {
            const std::vector<ObjectCopy> copies = from_the_top(given);
            const auto width = static_cast<std::size_t>(context_.size.width);
            std::vector<float> highest(width * static_cast<std::size_t>(last - first), -1e9f), stray, room;
            // Edges of stains stray alike for all of them.
            if (edges_) {
                stray.resize(static_cast<std::size_t>(edges_->padded_width()) * static_cast<std::size_t>(last - first));
                for (int y = first; y < last; ++y)
                    edges_->row(
                        y, stray.data() + static_cast<std::size_t>(y - first) * static_cast<std::size_t>(edges_->padded_width()),
                        room);
            }
            std::size_t drawn = 0;
            for (const ObjectCopy& copy : copies) {
                if (drawn++ % 64 == 0) context_.job->check();
                for (int y = std::max(first, static_cast<int>(boxes[copy.object].top + copy.dy));
                     y < std::min(last, static_cast<int>(boxes[copy.object].bottom + copy.dy) + 2); ++y)
                    row(sheet, copy, y, highest.data() + width * static_cast<std::size_t>(y - first),
                        {layer.row(y), bent.row(y),
                         edges_ ? stray.data() +
                                      static_cast<std::size_t>(y - first) * static_cast<std::size_t>(edges_->padded_width())
                                : nullptr});
            }
        });
        Bundle result = sheet.finish();
        layer.hand_on(result), bent.hand_on(result);
        return result;
    }

private:
    /// Rows of what else is asked for, each may be null; and how far the edges of stains stray.
    struct Beside {
        float *layer, *bend;
        const float* stray;
    };
    bool tides() const { return s_.motif == Motif::stain && s_.stain == Stain::tide; }
    /// Radii within which a thing lies.
    float farthest() const {
        if (tides()) return TideProfile::reach + static_cast<float>(2.3 * 0.42 * s_.stain_wander / 100);
        return s_.motif == Motif::stain ? 2.2f : 1.15f;
    }
    int channels() const { return s_.motif == Motif::strand ? 3 : 1; }

    /// From the top down: most of what lies lower is hidden and need not be looked at.
    std::vector<ObjectCopy> from_the_top(const std::vector<ObjectCopy>& given) const {
        if (s_.overlap != Overlap::stacked) return {given.rbegin(), given.rend()};
        // Heights beside their places, as things are large and lie far apart in memory.
        std::vector<std::pair<float, std::uint32_t>> order;
        order.reserve(given.size());
        for (std::uint32_t k = 0; k < given.size(); ++k) order.emplace_back(-laid_[given[k].object].z, k);
        std::sort(order.begin(), order.end());
        std::vector<ObjectCopy> copies;
        copies.reserve(given.size());
        for (const auto& [height, k] : order) copies.push_back(given[k]);
        return copies;
    }

    std::uint64_t lots_of(const Throw& one) const { return mix64(context_.seed, 0x736361 + one.lot); }
    float squeeze_of(std::uint64_t lots) const {
        const float broad = s_.motif == Motif::flake ? 0.78f + 0.22f * unit_float(mix64(lots, 5)) : 1.0f;
        return static_cast<float>(s_.stretch / 100) * broad;
    }
    float height_of(std::uint64_t lots) const {
        return unit_float(mix64(lots, 6)) * static_cast<float>(s_.size * s_.stack / 100) * scale_;
    }

    /// Layers under which nothing can show: fewer of whole things than of stains, or of a strand that may have holes; and fewer
    /// where a picture is so small that one pixel in a hundred thousand is none.
    double most_layers() const {
        if (s_.motif == Motif::stain || s_.motif == Motif::strand) return 64;
        return smallest(context_.scale_x(), context_.scale_y()) ? 12 : 32;
    }

    /// All but those that lie under so many layers that nothing of them can show, in their order.
    std::vector<std::uint32_t> visible(const std::vector<Throw>& all) const {
        std::vector<float> areas(all.size()), heights;
        for (std::size_t k = 0; k < all.size(); ++k) {
            const float radius = all[k].radius * scale_;
            areas[k] = 3.14f * radius * radius * squeeze_of(lots_of(all[k]));
            if (s_.overlap == Overlap::stacked) heights.push_back(height_of(lots_of(all[k])));
        }
        context_.job->check();
        return topmost(areas, heights, most_layers() * static_cast<double>(context_.size.pixels()));
    }

    /// Degrees. Planes whose both slopes are drawn from a bell lean by Rayleigh's law: few lie level.
    double tilt_of(std::uint64_t lots) const {
        if (s_.tilt <= 0) return 0;
        if (s_.tilt_law == TiltLaw::bell) return std::abs(s_.tilt * static_cast<double>(normal_draw(lots, 3)));
        if (static_cast<double>(unit_float(mix64(lots, 11))) < s_.steep / 100)
            return 20 + 26 * static_cast<double>(unit_float(mix64(lots, 12)));
        return 0.8 * s_.tilt * std::sqrt(-2 * std::log(1 - static_cast<double>(unit_float(mix64(lots, 13)))));
    }

    Laid laid(const Throw& one, std::uint32_t number) const {
        const std::uint64_t lots = lots_of(one);
        auto lot = [&](std::uint64_t which) { return unit_float(mix64(lots, which)); };
        const double degree = 3.14159265358979323846 / 180;
        const double turn = (s_.direction + s_.turn * (static_cast<double>(lot(2)) - 0.5)) * degree;
        const double tilt = std::min(70.0, tilt_of(lots)) * degree;
        const double azimuth = 6.283185307179586 * static_cast<double>(lot(4)), slope = std::tan(tilt);
        return {one.x * static_cast<float>(context_.scale_x()) - 0.5f,
                one.y * static_cast<float>(context_.scale_y()) - 0.5f,
                one.radius * scale_,
                static_cast<float>(std::cos(turn)),
                static_cast<float>(-std::sin(turn)),
                squeeze_of(lots),
                static_cast<float>(slope * std::cos(azimuth)),
                static_cast<float>(slope * std::sin(azimuth)),
                height_of(lots),
                0.5f + static_cast<float>(s_.spread / 100) * (lot(7) - 0.5f),
                std::cos(6.2831853f * lot(8)),
                std::sin(6.2831853f * lot(8)),
                static_cast<float>(s_.bend / 100) * std::clamp(normal_draw(lots, 9), -2.0f, 2.0f),
                lot(10),
                number,
                MotifOutline(s_.motif, lots)};
    }

    /// Where things are not stacked, a mark for pixels that the topmost thing owns already.
    static bool owned(int x, const float* highest) { return highest[x] > 0; }

    /// How much of a pixel the thing covers.
    float covered(const Laid& one, float lx, float ly) const {
        if (s_.motif == Motif::stain) {
            // A body that fades, a denser core and sometimes a faint tide ring.
            const float d2 = lx * lx + ly * ly, d = std::sqrt(d2);
            const float ring = (d - 1.35f) / 0.12f;
            return 0.75f * quick_exp(-1.6f * d2) +
                   (one.tone > 0.5f ? 0.25f * quick_exp(-9 * d2) : 0.16f * quick_exp(-ring * ring));
        }
        return std::clamp(one.outline.inside(lx, ly) * one.radius + 0.5f, 0.0f, 1.0f);
    }

    /// What a drop left there.
    float left_at(std::uint32_t object, float lx, float ly, float stray) const {
        return profiles_[object].at(std::max(0.0f, std::sqrt(lx * lx + ly * ly) + stray));
    }

    /// A plane of the strand at a place of the thing's own frame.
    static float strand_value(const Plane& plane, float lx, float ly) {
        return sample_bilinear(plane, (lx / 1.772f + 0.5f) * static_cast<float>(plane.width()) - 0.5f,
                               (ly / 1.772f + 0.5f) * static_cast<float>(plane.height()) - 0.5f);
    }

    void row(ObjectSheet& sheet, const ObjectCopy& copy, int y, float* highest, const Beside& beside) const {
        const Laid& one = laid_[copy.object];
        // Stains have no edge that could hide: they lie flat, one under the other as they are painted.
        const bool stacked = s_.overlap == Overlap::stacked && s_.motif != Motif::stain;
        const float dy = static_cast<float>(y) - one.y - copy.dy, to_radius = 1 / one.radius, squeeze = 1 / one.squeeze;
        // No farther to the sides than an ellipse round the thing, turned with it, reaches in this row.
        const float far = farthest();
        const float along = 1 / (one.radius * far + 1), across = 1 / (one.radius * far * one.squeeze + 1);
        const float a2 = along * along, b2 = across * across, c2 = one.c * one.c, s2 = one.s * one.s;
        const float square = c2 * a2 + s2 * b2, half = one.c * one.s * (a2 - b2) * dy, rest = (s2 * a2 + c2 * b2) * dy * dy - 1;
        const float inside = half * half - square * rest;
        if (inside < 0) return;
        const float chord = std::sqrt(inside) / square, middle = one.x + copy.dx - half / square;
        const int from = std::max(0, static_cast<int>(middle - chord)),
                  to = std::min(context_.size.width - 1, static_cast<int>(middle + chord) + 1);
        float *cover_row = sheet.cover(y), *height = sheet.height(y);
        const float per_size = 1 / (static_cast<float>(s_.size) * scale_);
        const float tallest = static_cast<float>(s_.size * s_.stack / 100) * scale_;
        const bool shaped = s_.motif != Motif::stain && (s_.bend > 0 || s_.profile != Profile::flat);
        for (int x = from; x <= to; ++x) {
            const float dx = static_cast<float>(x) - one.x - copy.dx;
            const float lx = (one.c * dx + one.s * dy) * to_radius, ly = (one.c * dy - one.s * dx) * to_radius * squeeze;
            const float way = one.bend_x * lx + one.bend_y * ly;
            float z = one.z + one.slope_x * dx + one.slope_y * dy;
            if (shaped) {
                const float in = s_.profile == Profile::chipped ? one.outline.inside(lx, ly) : 0;
                z += one.radius *
                     (0.5f * one.bend * way * way + profile_height(s_.profile, in, std::sqrt(lx * lx + ly * ly), one.lot));
            }
            // What lies lower shows only where what covers it leaves some of the pixel free.
            const bool under = !stacked || z < highest[x];
            if (under && cover_row[x] > covered_enough) continue;
            float cover = beside.stray ? left_at(copy.object, lx, ly, beside.stray[x]) : covered(one, lx, ly);
            if (cover <= 1e-3f) continue;
            if (stacked && !under && cover > 0.5f) highest[x] = z;
            const float own = strand_ && strand_->coverage ? strand_value(*strand_->coverage, lx, ly) : 1.0f;
            const float keep = under ? 1.0f : 1 - cover * own, share = under ? 1 - cover_row[x] : 1.0f;
            for (int c = 0; c < channels(); ++c) {
                const float shown = strand_ ? (0.5f + one.tone) * strand_value(strand_->channel(c), lx, ly) : one.tone * own;
                float& to_value = sheet.colour(c, y)[x];
                to_value = to_value * keep + share * cover * shown;
            }
            cover *= own;
            cover_row[x] = under ? cover_row[x] + (1 - cover_row[x]) * cover : cover_row[x] * (1 - cover) + cover;
            // The topmost that covers most of a pixel owns it.
            if (cover <= 0.5f || (stacked ? under : owned(x, highest))) continue;
            if (!stacked) highest[x] = 1;
            const float bent = s_.motif == Motif::stain ? 0 : one.bend * way;
            sheet.lean(x, y,
                       (one.slope_x + bent * (one.bend_x * one.c - one.bend_y * one.s)) * 0.5f / static_cast<float>(s_.size),
                       (one.slope_y + bent * (one.bend_x * one.s + one.bend_y * one.c)) * 0.5f / static_cast<float>(s_.size));
            if (beside.layer) beside.layer[x] = std::clamp(one.z / std::max(1e-6f, tallest), 0.0f, 1.0f);
            if (beside.bend) beside.bend[x] = std::clamp(0.5f + 0.5f * bent, 0.0f, 1.0f);
            if (height) height[x] = s_.motif == Motif::stain ? 0 : 0.5f + (z - 0.5f / per_size) * per_size * 0.5f;
            sheet.own(x, y, one.id, 0.5f + 0.5f * lx, 0.5f + 0.5f * ly);
        }
    }

    static constexpr float covered_enough = 0.996f;
    static constexpr double least_size = 1.4;  ///< pixels of a thing that can be told from its neighbours

    const Settings& s_;
    const StepContext& context_;
    float scale_;
    const Bundle* strand_;
    std::vector<Laid> laid_;
    std::vector<TideProfile> profiles_;  ///< of stains
    std::optional<StainEdges> edges_;
};

/// Stains are soft: nothing of them is finer than a pixel, unless they are small.
bool drawn_at_once(const Settings& s, double scale_x, double scale_y) {
    return s.motif == Motif::stain && s.stain == Stain::tide && s.size * std::min(scale_x, scale_y) > 24;
}

Bundle run(const Settings& s, const StepContext& context) {
    if (drawn_at_once(s, context.scale_x(), context.scale_y())) return Painter(s, context).paint();
    return supersampled(context, [&](const StepContext& c) { return Painter(s, c).paint(); });
}

}  // namespace
}  // namespace scatter_step

StepDescription describe_scatter() {
    using namespace scatter_step;
    StepDescription base;
    base.id = "scatter", base.title = "Scatter", base.family = Family::make;
    base.summary = "Many copies of a small thing: flakes, chips, stains, leaves.";
    base.words = "dots spots flakes leaves pebbles stains droplets confetti glitter dirt speckle holes blotch";
    base.seeded = true;
    base.headline = {"motif", "count"};
    base.planes = tilted_step_planes();
    base.planes.insert(base.planes.end(), {planes::layer, planes::bend});
    const Range share{0, 100, Unit::percent};
    const When strand{"motif", {"strand"}}, stained{"motif", {"stain"}};
    const When tidal = stained && When("stain", {"tide"});
    return Describe<Settings>(std::move(base))
        .choice("motif", "Motif", &Settings::motif,
                {{"disc", "Disc"},
                 {"flake", "Flake"},
                 {"polygon", "Polygon"},
                 {"stain", "Stain"},
                 {"square", "Square"},
                 {"strand", "Strand"}},
                "What is scattered: a disc, a six-sided flake, an uneven polygon, a soft stain with a core or a tide ring, a "
                "square, or another strand made small.")
        .visual({{"count", 12.0}, {"size", 60.0}, {"overlap", std::string("spaced")}})
        .strand("strand", "Strand", &Settings::strand, "The strand that is scattered.", strand)
        .choice("stain", "Stains", &Settings::stain, {{"soft", "Soft"}, {"tide", "With tide lines"}},
                "Soft spots with a core, or what a drop leaves that dried: dark where it stopped, paler inside.", stained)
        .once(2, std::string("soft"))
        .number("stain-wander", "Wandering edge", &Settings::stain_wander, share,
                "How far the edges of stains stray from a circle.", tidal)
        .count("stain-rings", "Tide lines", &Settings::stain_rings, {1, 6},
               "How many lines a stain has at most, one in the other.", tidal)
        .count("count", "Count", &Settings::count, {0, 262144, Unit::none, 20000, Scale::root},
               "How many there are; fewer where they keep apart and find no more room.")
        .strand("density", "Density from", &Settings::density, "A strand that says how likely one is where its middle would lie.")
        .number("size", "Size", &Settings::size, {0.5, 4096, Unit::px, 256, Scale::root},
                "Middle width; nothing is wider than the tile.")
        .number("size-spread", "Size spread", &Settings::size_spread, share, "How much sizes differ.")
        .number("stretch", "Stretch", &Settings::stretch, {5, 400, Unit::percent, 200, Scale::root}, "Height beside width.")
        .number("direction", "Direction", &Settings::direction, {-360, 360, Unit::degrees, 180}, "The way they are turned to.")
        .number("turn", "Turn spread", &Settings::turn, {0, 360, Unit::degrees}, "How far they are turned away from it.")
        .number("tone-spread", "Tone spread", &Settings::spread, share, "How much they differ in tone.")
        .choice("overlap", "Overlap", &Settings::overlap,
                {{"free", "Free"}, {"stacked", "Stacked by depth"}, {"spaced", "Spaced"}, {"packed", "Packed by size"}},
                "Later ones over earlier ones; each a tilted plane at a depth of its own; none touching another; or large ones "
                "first and smaller ones in what room they leave.")
        .visual({{"count", 90.0}, {"size", 44.0}, {"size-spread", 60.0}, {"tone-spread", 100.0}})
        .number("stack", "Depth of the pile", &Settings::stack, {0, 400, Unit::percent, 200},
                "How far up and down things lie, beside their size.", {"overlap", {"stacked"}})
        .section("Form")
        .number("tilt", "Tilt", &Settings::tilt, {0, 60, Unit::degrees},
                "How much they lean, each its own way. The height is true where relief is twice as deep as the size.")
        .choice("tilt-law", "Tilt by", &Settings::tilt_law, {{"bell", "A bell"}, {"rayleigh", "Rayleigh's law"}},
                "How tilts are spread: many level ones, or few, as where both slopes are drawn.", When::above("tilt", 0))
        .once(2, std::string("bell"))
        .number("steep", "Steep ones", &Settings::steep, share, "How many stand up steeply, at 20 to 46 degrees.",
                When::above("tilt", 0) && When("tilt-law", {"rayleigh"}))
        .number("bend", "Bend", &Settings::bend, share, "How much each is bent, so that its facing changes over it.", !stained)
        .once(2, 0.0)
        .choice(
            "profile", "Profile", &Settings::profile,
            {{"flat", "Flat"}, {"dome", "Dome"}, {"pebble", "Pebble"}, {"chipped", "Chipped"}},
            "How high each rises over its outline: not at all, as a half ball, as a worn stone, or with a rim that has broken "
            "off.",
            !stained)
        .visual({{"count", 60.0}, {"size", 56.0}})
        .shape([](const Settings& s, Shape) {
            return Shape{s.motif == Motif::strand ? 3 : 1, true};
        })
        .direction("Direction", "direction")
        .needs_whole()
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts& planes) {
            return drawn_at_once(s, at.x(), at.y()) ? 0.8 : supersampled_scratch(at, planes.out, 0.3);
        })
        .run(run);
}

}  // namespace loom
