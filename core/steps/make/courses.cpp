// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Units laid in a bond. Each is a rounded rectangle, turned a little, whose outline is worn and chipped by noise before it is
// measured.
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/noise/clouds.h"
#include "core/structures/bonds.h"
#include "core/structures/courses_kernel.h"
#include "core/structures/asked_plane.h"
#include "core/structures/object_sheet.h"
#include "core/structures/supersampled.h"
#include "core/structures/wandered.h"

namespace loom {

namespace courses_step {
namespace {

enum class Show { fill, height, tone, joint };

struct Settings {
    Bond bond = Bond::running;
    int columns = 4, rows = 12;
    double joint = 10, corner = 6;
    Arris arris = Arris::round;
    double arris_width = 4;
    double wear = 30, chips = 25, broken = 12;
    double ragged = 25, smear = 20;
    double pointing = 75;
    double size_spread = 2, wander = 3;
    double overlap = 0;
    double spread = 40;
    double turn = 0.5, tilt = 25, offset = 20;
    Show show = Show::tone;
    bool steady = true;
};

class Painter {
public:
    Painter(const Settings& s, const StepContext& context)
        : s_(s), context_(context), scale_(std::sqrt(context.scale_x() * context.scale_y())) {
        BondSettings bond{s.bond, s.columns, s.rows, context.seed};
        for (const BondUnit& unit : lay_bond(bond)) lay(unit);
        // What overlaps lies by lot: later ones over earlier ones.
        if (s.overlap > 0)
            std::stable_sort(units_.begin(), units_.end(),
                             [](const LaidUnit& a, const LaidUnit& b) { return a.layer < b.layer; });
        corner_ = static_cast<float>(s.corner * scale_);
    }

    Bundle paint() {
        ObjectSheet sheet(context_, 1, false, s_.show == Show::joint ? 1.0f : 0.0f);
        // Wear is slow, chips are ragged; both are the same on neighbouring bricks only by chance.
        auto rough = [&](double size_px, int octaves, std::uint64_t salt) {
            CloudSettings clouds;
            clouds.across = context_.tile.width / size_px, clouds.down = context_.tile.height / size_px;
            clouds.octaves = octaves, clouds.roughness = 0.6, clouds.seed = mix64(context_.seed, salt);
            return CloudField(clouds, context_.size, context_.job);
        };
        const CloudField worn = rough(36, 4, 1), chipped = rough(14, 3, 2), ragged = rough(7, 3, 3), smeared = rough(150, 3, 4);
        const bool rimmed = s_.ragged > 0 || s_.smear > 0;
        AskedPlane joint(context_, planes::joint), arris(context_, planes::arris), layer(context_, planes::layer);
        std::vector<ObjectBox> boxes;
        for (const LaidUnit& unit : units_) {
            const float reach = std::hypot(unit.half_x, unit.half_y) * std::abs(unit.s) + 1;
            boxes.push_back({unit.x - unit.half_x - reach, unit.y - unit.half_y - reach, unit.x + unit.half_x + reach,
                             unit.y + unit.half_y + reach});
        }
        for_object_bands(*context_.job, context_.size, boxes, 16,
                         [&](int first, int last, const std::vector<ObjectCopy>& copies) {
                             const auto padded = static_cast<std::size_t>(worn.padded_width());
                             const auto width = static_cast<std::size_t>(context_.size.width);
                             std::vector<float> wear(padded), chips(padded), rim(padded), slow(padded), depth(width), mine(width),
                                 unseen(width);
                             for (int y = first; y < last; ++y) {
                                 if (s_.wear > 0) worn.row(y, wear.data());
                                 if (s_.chips > 0) chipped.row(y, chips.data());
                                 std::fill(depth.begin(), depth.end(), 0.0f);
                                 if (rimmed) {
                                     ragged.row(y, rim.data()), smeared.row(y, slow.data());
                                     draw_in(rim, slow);
                                 }
                                 if (float* ground = sheet.height(y)) std::fill_n(ground, width, ground_level());
                                 if (s_.show == Show::height) std::fill_n(sheet.colour(0, y), width, ground_level());
                                 for (const ObjectCopy& copy : copies)
                                     row(sheet, copy, boxes[copy.object], y,
                                         {wear.data(), chips.data(), depth.data(), mine.data(), sheet.colour(0, y),
                                          sheet.height(y) ? sheet.height(y) : unseen.data(), UnitShow::cover, 1,
                                          rimmed ? rim.data() : nullptr},
                                         {arris.row(y), layer.row(y)});
                                 if (float* to = joint.row(y))
                                     for (std::size_t x = 0; x < width; ++x)
                                         to[x] = depth[x] > 0 ? std::max(0.0f, 0.5f - depth[x]) : 1.0f;
                             }
                         });
        Bundle result = sheet.finish();
        for (AskedPlane* each : {&joint, &arris, &layer}) each->hand_on(result);
        return result;
    }

private:
    struct Beside {
        float *arris, *layer;
    };
    float ground_level() const { return 1 - static_cast<float>(s_.pointing / 100); }

    /// How far outlines are drawn in: raggedly everywhere, and smeared over in areas.
    void draw_in(std::vector<float>& rim, const std::vector<float>& slow) const {
        const auto ragged = static_cast<float>(s_.ragged / 100 * 1.8 * scale_),
                   smear = static_cast<float>(s_.smear / 100 * 9 * scale_);
        for (std::size_t x = 0; x < rim.size(); ++x)
            rim[x] = ragged * (0.6f + rim[x]) + smear * std::max(0.0f, slow[x] - 0.6f) * (1 + 0.5f * rim[x]);
    }

    void lay(const BondUnit& unit) {
        const auto id = static_cast<std::uint64_t>(units_.size());
        auto lot = [&](std::uint64_t which) { return unit_float(mix64(mix64(context_.seed, 0x636f75 + id), which)) * 2 - 1; };
        const double sx = context_.size.width, sy = context_.size.height;
        const double joint_x = s_.joint / 2 * context_.scale_x(), joint_y = s_.joint / 2 * context_.scale_y();
        LaidUnit laid{};
        const double shift = s_.offset / 100;
        laid.half_x = static_cast<float>(std::max(0.5, unit.width / 2 * sx - joint_x * (1 - 0.3 * shift * lot(1))));
        laid.half_y = static_cast<float>(std::max(0.5, unit.height / 2 * sy - joint_y * (1 - 0.3 * shift * lot(2))));
        laid.x = static_cast<float>((unit.x + unit.width / 2) * sx + 0.6 * shift * joint_x * lot(3) - 0.5);
        laid.y = static_cast<float>((unit.y + unit.height / 2) * sy + 0.6 * shift * joint_y * lot(4) - 0.5);
        const double turn = s_.turn * 3.14159265358979323846 / 180 * lot(5);
        laid.c = static_cast<float>(std::cos(turn)), laid.s = static_cast<float>(std::sin(turn));
        laid.tone = 0.5f + static_cast<float>(s_.spread / 100) * 0.5f * lot(0);
        laid.wear = 0.6f + 0.4f * lot(6);
        const auto smaller = static_cast<float>(s_.size_spread / 2 * scale_);
        // What lies under more than some others is not seen.
        constexpr double most = 3;
        const auto wider = [&](double side) { return static_cast<float>(std::min(s_.overlap * scale_, most * side) / 2); };
        laid.half_x = std::max(0.5f, laid.half_x - smaller * (0.5f + 0.5f * lot(10)) + wider(unit.width * sx));
        laid.half_y = std::max(0.5f, laid.half_y - smaller * (0.5f + 0.5f * lot(11)) + wider(unit.height * sy));
        laid.layer = 0.5f + 0.5f * lot(12);
        // One arris of some units has broken off: somewhere along a side.
        if (0.5f + 0.5f * lot(13) < static_cast<float>(s_.broken / 100)) {
            const bool level = lot(14) > 0;
            laid.cut_x = level ? 0.9f * laid.half_x * lot(15) : std::copysign(laid.half_x, lot(16));
            laid.cut_y = level ? std::copysign(laid.half_y, lot(16)) : 0.9f * laid.half_y * lot(15);
            laid.cut = std::min(laid.half_x, laid.half_y) * (0.22f + 0.12f * lot(17));
        }
        const float tilt = static_cast<float>(s_.tilt / 100) * 0.12f;
        laid.tilt_x = tilt * lot(7), laid.tilt_y = tilt * lot(8), laid.level = 1 - 0.5f * tilt * (1 + lot(9));
        units_.push_back(laid);
    }

    void row(ObjectSheet& sheet, const ObjectCopy& copy, const ObjectBox& box, int y, UnitRow row, const Beside& beside) const {
        const LaidUnit& unit = units_[copy.object];
        const float dy = static_cast<float>(y) - unit.y - copy.dy;
        if (static_cast<float>(y) < box.top + copy.dy || static_cast<float>(y) > box.bottom + copy.dy) return;
        const int from = std::max(0, static_cast<int>(box.left + copy.dx)),
                  to = std::min(context_.size.width - 1, static_cast<int>(box.right + copy.dx) + 1);
        const auto scale = static_cast<float>(scale_);
        const double bevel =
            s_.arris == Arris::pillow ? std::max(1.0, 0.5 * s_.joint + 0.3 * s_.corner) : std::max(0.5, s_.arris_width);
        const UnitEdges edges{corner_,
                              static_cast<float>(bevel) * scale,
                              static_cast<float>(s_.wear / 100) * 3.2f * scale,
                              static_cast<float>(s_.chips / 100) * 9.0f * scale,
                              18 * scale,
                              12 * scale,
                              6 * scale,
                              s_.arris,
                              s_.overlap > 0,
                              ground_level()};
        row.show = s_.show == Show::height ? UnitShow::height : s_.show == Show::joint ? UnitShow::joint : UnitShow::cover;
        row.full = s_.show == Show::tone ? unit.tone : 1.0f;
        unit_row(unit, edges, copy.dx, dy, from, to, row);
        if (!sheet.owned() && !beside.arris && !beside.layer) return;
        const float to_middle = 1 / std::min(unit.half_x, unit.half_y);
        for (int x = from; x <= to; ++x) {
            if (row.mine[x] <= 0) continue;
            if (beside.arris) beside.arris[x] = std::min(1.0f, row.mine[x] * to_middle);
            if (beside.layer) beside.layer[x] = unit.layer;
            const float dx = static_cast<float>(x) - unit.x - copy.dx;
            sheet.own(x, y, copy.object + 1, 0.5f + (unit.c * dx + unit.s * dy) / (2 * unit.half_x),
                      0.5f + (unit.c * dy - unit.s * dx) / (2 * unit.half_y));
        }
    }

    const Settings& s_;
    const StepContext& context_;
    double scale_;
    float corner_ = 0;
    std::vector<LaidUnit> units_;
};

Bundle laid_out(const Settings& s, const StepContext& context) {
    Bundle laid = Painter(s, context).paint();
    if (s.wander <= 0) return laid;
    return wandered(laid, {{s.wander, 110}, {0.45 * s.wander, 22}}, mix64(context.seed, 0x77616e), context);
}

Bundle run(const Settings& s, const StepContext& context) {
    return s.steady ? supersampled(context, [&](const StepContext& c) { return laid_out(s, c); }) : laid_out(s, context);
}

}  // namespace
}  // namespace courses_step

StepDescription describe_courses() {
    using namespace courses_step;
    StepDescription base;
    base.id = "courses", base.title = "Courses", base.family = Family::make;
    base.summary = "Bricks, tiles or boards laid in a bond that closes at the tile edge.";
    base.words = "bricks tiles planks boards wall floor shingles slates masonry";
    base.seeded = true;
    base.headline = {"bond", "columns", "rows"};
    base.planes = object_step_planes();
    base.planes.insert(base.planes.end(), {planes::joint, planes::arris, planes::layer});
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .choice("bond", "Bond", &Settings::bond,
                {{"running", "Running"},
                 {"stack", "Stack"},
                 {"thirds", "Thirds"},
                 {"basket", "Basket"},
                 {"herringbone", "Herringbone"},
                 {"planks", "Planks of mixed length"}},
                "How units lie: each row shifted by half or by a third, all in line, in pairs turned against each other, as a "
                "zigzag, or as boards that run down the tile.")
        .visual({{"columns", 4.0}, {"rows", 8.0}, {"joint", 5.0}, {"corner", 2.0}})
        .count("columns", "Columns", &Settings::columns, {1, 256, Unit::none, 24}, "How many units lie across the tile.")
        .count("rows", "Rows", &Settings::rows, {1, 256, Unit::none, 40}, "How many rows there are; for planks, boards a column.")
        .number("joint", "Joint", &Settings::joint, {0, 256, Unit::px, 40, Scale::root}, "Width of the joints.")
        .number("corner", "Corner", &Settings::corner, {0, 512, Unit::px, 40, Scale::root}, "Radius of the corners.")
        .number("wear", "Edge wear", &Settings::wear, share, "How far edges are worn down.")
        .number("chips", "Chips", &Settings::chips, share, "How much has broken off the edges.")
        .number("broken", "Broken arrises", &Settings::broken, share, "How many units have lost a piece of one arris.")
        .once(2, 0.0)
        .section("Arris and joint")
        .choice("arris", "Arris", &Settings::arris, {{"pillow", "Pillow"}, {"slant", "Slanted"}, {"round", "Round"}},
                "How faces go over into the sides: softly all the way, by a straight slant, or by a round edge.")
        .once(2, std::string("pillow"))
        .number("arris-width", "Arris width", &Settings::arris_width, {0.5, 64, Unit::px, 16, Scale::root}, "Width of that edge.",
                !When("arris", {"pillow"}))
        .number("ragged", "Ragged joints", &Settings::ragged, share, "How unevenly the joint's edges run.")
        .once(2, 0.0)
        .number("smear", "Smeared joints", &Settings::smear, share, "How far the joint lies over the units, in areas.")
        .once(2, 0.0)
        .number("pointing", "Depth of pointing", &Settings::pointing, share, "How deep the joints lie below the faces.")
        .once(2, 100.0)
        .section("Laying")
        .number("tone-spread", "Tone spread", &Settings::spread, share, "How much units differ in tone.", {"show", {"tone"}})
        .number("turn", "Turn spread", &Settings::turn, {0, 45, Unit::degrees, 5, Scale::root}, "How crooked units lie.")
        .number("tilt", "Tilt", &Settings::tilt, share, "How much faces lean and differ in level.")
        .number("offset", "Offset spread", &Settings::offset, share,
                "How unevenly units are placed and sized within their joints.")
        .number("size-spread", "Size spread", &Settings::size_spread, {0, 128, Unit::px, 16, Scale::root},
                "By how much units are smaller than their places, each by its own lot.")
        .once(2, 0.0)
        .number(
            "overlap", "Overlap", &Settings::overlap, {0, 256, Unit::px, 48, Scale::root},
            "How far units reach over their places, at most three times their size; they then lie one over the other, by lot, as "
            "shingles or leaf do.")
        .number("wander", "Wander", &Settings::wander, {0, 128, Unit::px, 16, Scale::root},
                "How far the courses stray from straight lines.")
        .once(2, 0.0)
        .choice("show", "Show", &Settings::show,
                {{"fill", "Units"}, {"height", "Height"}, {"tone", "Tone of each unit"}, {"joint", "Joints"}},
                "What becomes the picture.")
        .visual({{"columns", 4.0}, {"rows", 8.0}, {"joint", 5.0}, {"corner", 2.0}})
        .rounded([](const Settings& s, Size) {
            const auto units = lay_bond({s.bond, s.columns, s.rows, 0});
            return std::to_string(units.size()) + (units.size() == 1 ? " unit fills the tile." : " units fill the tile.");
        })
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .toggle("steady", "Same at every size", &Settings::steady,
                "Draws small pictures at twice their size, so that joints keep their width; off, they are drawn as they are.")
        .once(2, Value(false))
        .needs_whole()
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts& planes) {
            // Laid, then moved, then, where it was drawn larger, made smaller: each holds what comes in and what comes of it.
            const double out = planes.out, most = s.wander > 0 ? 2 * out + 5.6 : out + 4.7;
            return (s.steady && supersamples(at.x(), at.y()) ? std::max(4 * most, 5 * out) : most) - out;
        })
        .run(run);
}

}  // namespace loom
