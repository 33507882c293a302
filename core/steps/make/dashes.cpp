// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Strokes that are decided at their middle and drawn along the fibre: pores, scratches, fibres, hairs.
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/direction.h"
#include "core/image/sample.h"
#include "core/structures/asked_plane.h"
#include "core/structures/density_map.h"
#include "core/structures/stroke.h"
#include "core/structures/throws.h"
#include "core/structures/object_sheet.h"
#include "core/structures/supersampled.h"

namespace loom {

namespace dashes_step {
namespace {

enum class Along { fixed, strand, tone };
enum class Combine { lighter, darker, over, shadow };

struct Settings {
    int count = 4000;
    std::string density;
    double length = 40, length_spread = 45;
    double width = 0.9, width_spread = 20, taper = 75;
    double curl = 110, turn_limit = 115;
    double crimp = 0, crimp_length = 12;
    Along along = Along::fixed;
    std::string strand, tone_from;
    double softness = 8, tone_turn = 90;
    double direction = 90, direction_spread = 8;
    double spread = 50, tip = 0;
    Combine combine = Combine::over;
    double shadow_reach = 1.2, shadow = 35;
    int layers = 1;
    double sink = 45;
};

constexpr double degree = 3.14159265358979323846 / 180;
constexpr int field_side = 256;
constexpr double usual_softness = 2;  ///< cells of the field
constexpr double bend_length = 40;    ///< design pixels up to which strokes bend at their full rate

/// Directions of a strand's lines on a fixed grid, so that strokes are the same at every size.
class LinesOf {
public:
    /// `softness`: cells of the grid over which lines are looked for.
    LinesOf(const Bundle& strand, double softness, const Job& job)
        : field_(directions_of(resized(*tone_of(strand), {field_side, field_side}), softness, job)) {}
    /// The angle of the line at a place in tiles, y down, whichever way lies nearer to `angle`.
    double at(double u, double v, double angle) const {
        const auto x = static_cast<float>(u * field_side - 0.5), y = static_cast<float>(v * field_side - 0.5);
        const double here = 0.5 * std::atan2(static_cast<double>(sample_bilinear(field_.sine, x, y)),
                                             static_cast<double>(sample_bilinear(field_.cosine, x, y)));
        return here + 3.14159265358979323846 * std::round((angle - here) / 3.14159265358979323846);
    }

private:
    DirectionField field_;
};

/// Where the stroke that was drawn last covers the rows of a band.
struct Trace {
    Trace(int width, int height) : spans(static_cast<std::size_t>(height)) {
        const auto stride = static_cast<std::size_t>(width + stroke_padding);
        cover.resize(stride * spans.size()), place.resize(cover.size());
        rows = {spans.data(), cover.data(), place.data(), stride};
    }
    std::vector<StrokeSpan> spans;
    std::vector<float> cover, place;
    StrokeTrace rows{};
};

class Painter {
public:
    Painter(const Settings& s, const StepContext& context)
        : s_(s), context_(context), fewer_(simplified(context, s.count, s.width * double{strokes_scale()} / least_width)) {
        const Bundle* density = context.other("density");
        const Bundle* strand = s.along == Along::strand ? context.other("strand") : nullptr;
        std::optional<Plane> map;
        if (density && !density->empty()) map = resized(*tone_of(*density), {512, 512});
        std::optional<LinesOf> lines;
        if (strand && !strand->empty())
            lines.emplace(*strand, s.softness > 0 ? std::max(0.7, s.softness * field_side / context.tile.width) : usual_softness,
                          *context.job);
        if (s.along == Along::tone) turning_ = density_map(context.other("strand"));
        toned_ = density_map(context.other("tone-from"));
        // From the last to the first, some at a time: what lies under so many layers cannot show.
        constexpr int part = 1024, together = 16 * part;
        constexpr double most_layers = 40;
        const double enough = most_layers * static_cast<double>(context.size.pixels());
        std::vector<LaidStrokes> parts(static_cast<std::size_t>((fewer_.count + part - 1) / part));
        double area = 0;
        for (int end = fewer_.count; end > 0 && area < enough;) {
            // Whole parts, so that none is begun twice.
            const int begin = std::max(0, (end - 1) / part * part - together + part), first_part = begin / part,
                      last_part = (end - 1) / part;
            for_ranges(*context.job, last_part - first_part + 1, 1, [&](int first, int last) {
                for (int p = first_part + first; p < first_part + last; ++p)
                    for (int k = p * part; k < std::min(end, (p + 1) * part); ++k)
                        draw(static_cast<std::uint64_t>(k), map ? &*map : nullptr, lines ? &*lines : nullptr,
                             parts[static_cast<std::size_t>(p)]);
            });
            for (int p = first_part; p <= last_part; ++p) area += parts[static_cast<std::size_t>(p)].area();
            end = begin;
        }
        strokes_ = LaidStrokes::joined(parts);
        strokes_.keep_last(enough);
    }

    Bundle paint() {
        const bool covered = s_.combine == Combine::over || s_.combine == Combine::shadow;
        ObjectSheet sheet(context_, 1, covered, s_.combine == Combine::darker ? 1.0f : 0.0f);
        const float scale = strokes_scale();
        const std::vector<ObjectBox> boxes =
            strokes_.boxes(s_.combine == Combine::shadow ? 2.5f * static_cast<float>(s_.shadow_reach) * scale + 2 : 1.5f);
        AskedPlane tip(context_, planes::root_to_tip), layer(context_, planes::layer);
        for_object_bands(*context_.job, context_.size, boxes, 32,
                         [&](int first, int last, const std::vector<ObjectCopy>& copies) {
                             Trace trace(context_.size.width, last - first);
                             for (const ObjectCopy& copy : copies) {
                                 context_.job->check();
                                 const LaidStroke& stroke = strokes_[copy.object];
                                 const int from = std::max(first, static_cast<int>(boxes[copy.object].top + copy.dy)),
                                           to = std::min(last, static_cast<int>(boxes[copy.object].bottom + copy.dy) + 2);
                                 if (s_.combine == Combine::shadow) shade(sheet, stroke, copy, from, to, scale);
                                 add(sheet, stroke, copy, from, to, trace, tip, layer);
                             }
                         });
        Bundle result = sheet.finish();
        tip.hand_on(result), layer.hand_on(result);
        return result;
    }

private:
    /// How far up in the layers a stroke lies, 0..1.
    double up_of(std::uint64_t k) const {
        if (s_.layers <= 1) return 1;
        const auto layer =
            static_cast<int>(k * static_cast<std::uint64_t>(s_.layers) / static_cast<std::uint64_t>(std::max(1, fewer_.count)));
        return static_cast<double>(std::min(layer, s_.layers - 1)) / (s_.layers - 1);
    }

    float strokes_scale() const { return static_cast<float>(std::sqrt(context_.scale_x() * context_.scale_y())); }

    double longest() const { return std::max(context_.tile.width, context_.tile.height); }

    void draw(std::uint64_t k, const Plane* density, const LinesOf* lines, LaidStrokes& out) const {
        const std::uint64_t lots = mix64(context_.seed, 0x64617368 + k);
        auto lot = [&](std::uint64_t which) { return static_cast<double>(unit_float(mix64(lots, which))); };
        const double u = lot(0), v = lot(1);
        if (density && lot(2) > static_cast<double>(sample_bilinear(*density, static_cast<float>(u * 512 - 0.5),
                                                                    static_cast<float>(v * 512 - 0.5))))
            return;
        const double bell = std::clamp(static_cast<double>(normal_draw(lots, 3)), -2.5, 2.5);
        // What is longer than the tile would only lie on itself.
        const double length = std::min(s_.length * std::exp(s_.length_spread / 100 * bell), longest());
        double angle = -s_.direction * degree;
        if (lines) angle = lines->at(u, v, angle);
        if (turning_) angle -= 2 * (turning_->tone(u, v) - 0.5) * s_.tone_turn * degree;
        angle += s_.direction_spread * degree * static_cast<double>(normal_draw(lots, 4));
        LaidStroke stroke;
        stroke.tone = static_cast<float>(0.5 + s_.spread / 100 * (lot(5) - 0.5));
        if (s_.combine == Combine::lighter) stroke.tone = static_cast<float>(1 - s_.spread / 100 * lot(5));
        if (s_.combine == Combine::darker) stroke.tone = static_cast<float>(s_.spread / 100 * lot(5));
        if (toned_) stroke.tone = std::clamp(static_cast<float>(toned_->tone(u, v)) + stroke.tone - 0.5f, 0.0f, 1.0f);
        // Lower layers lie in the shade of those above, and their strokes are broader.
        const double up = up_of(k);
        if (s_.layers > 1) stroke.tone *= static_cast<float>(1 - s_.sink / 100 * (1 - up));
        const double broad = s_.layers > 1 ? 1.5 - 0.8 * up : 1;
        // No wider than long, nor than half the tile.
        const double width =
            std::min({broad * s_.width *
                          std::exp(s_.width_spread / 100 * std::clamp(static_cast<double>(normal_draw(lots, 6)), -2.0, 2.0)),
                      length, longest() / 2});
        stroke.half_width = static_cast<float>(0.5 * width * fewer_.area) * strokes_scale();
        stroke.taper = static_cast<float>(s_.taper / 100);
        // Curl: a bend of its own and a second, faster wiggle; the net turn is limited, or hairs would close into rings.
        // Long strokes bend less sharply than short ones, or the bend would add up until every one of them turned to the limit.
        const double ease = std::pow(std::min(1.0, bend_length / length), 1.5);
        const double bend = s_.curl / 100 * 0.08 * ease * static_cast<double>(normal_draw(lots, 7)),
                     wiggle = s_.curl / 100 * 0.10 * static_cast<double>(normal_draw(lots, 8)),
                     pace = 6.283185307179586 / (12 + 30 * lot(9)), phase = 6.283185307179586 * lot(10),
                     limit = s_.turn_limit * degree;
        // Strides so short that no joint turns by more than is seen.
        const bool crimped = s_.crimp > 0;
        const bool straight = s_.curl <= 0 && !lines && !crimped;
        const double crimp_turn = crimped ? 6.283185307179586 / (s_.crimp_length * (0.75 + 0.5 * lot(11))) : 0,
                     crimp_phase = 6.283185307179586 * lot(12);
        const double sharpest = (std::abs(bend) + std::abs(wiggle)) / 0.16, closest = lines ? 0.2 : 0.1;
        // Nor shorter than a quarter of the width, which hides finer bends, nor than what pixels can show.
        const double pixel_px = 1 / std::min(context_.scale_x(), context_.scale_y());
        double pace_px = std::max({1 / std::max(sharpest, closest), width / 4, 0.8, 1.5 * pixel_px});
        if (crimped) pace_px = std::min(pace_px, std::max(s_.crimp_length / 7, 0.8));
        const int steps = straight ? 1 : std::clamp(static_cast<int>(std::ceil(length / pace_px)), 2, 400);
        const double stride = length / steps;
        // From the middle to one end, then to the other; joined in order.
        thread_local std::vector<std::pair<double, double>> ends[2];
        thread_local std::vector<LaidStrokes::Point> points;
        points.clear();
        for (int side = 0; side < 2; ++side) {
            ends[side].clear();
            double x = u * context_.tile.width, y = v * context_.tile.height, turned = 0, way = angle;
            const double sign = side == 0 ? 1 : -1;
            for (int n = 0; n < (steps + 1) / 2; ++n) {
                const double half = steps == 1 ? stride / 2 : stride;
                const double at = sign * (n + 0.5) * stride;
                turned =
                    std::clamp(turned + stride * (bend + wiggle * std::cos(pace * at + phase)) * sign, -limit / 2, limit / 2);
                if (lines) way = lines->at(x / context_.tile.width, y / context_.tile.height, way);
                // Crimp swings to both sides of the way; how steeply, its depth and length say.
                const double swing = crimped ? std::atan(s_.crimp * crimp_turn * std::cos(crimp_turn * at + crimp_phase)) : 0;
                x += sign * half * std::cos(way + turned + swing), y += sign * half * std::sin(way + turned + swing);
                ends[side].emplace_back(x, y);
            }
        }
        auto add = [&](double x, double y) {
            points.push_back(
                {static_cast<float>(x * context_.scale_x() - 0.5), static_cast<float>(y * context_.scale_y() - 0.5)});
        };
        for (auto p = ends[1].rbegin(); p != ends[1].rend(); ++p) add(p->first, p->second);
        add(u * context_.tile.width, v * context_.tile.height);
        for (const auto& [x, y] : ends[0]) add(x, y);
        out.add(stroke, points);
    }

    void add(ObjectSheet& sheet, const LaidStroke& stroke, const ObjectCopy& copy, int from, int to, Trace& trace,
             AskedPlane& tip, AskedPlane& layer) const {
        const StrokeMix mix = s_.combine == Combine::lighter  ? StrokeMix::lighter
                              : s_.combine == Combine::darker ? StrokeMix::darker
                                                              : StrokeMix::over;
        paint(stroke, pen_of(stroke, copy.dx, copy.dy, from), {mix, stroke.tone, 0, static_cast<float>(s_.tip / 100) * 0.6f},
              paper(sheet, from, to, sheet.height(from)), sheet.owned() || tip || layer ? &trace.rows : nullptr);
        if (!sheet.owned() && !tip && !layer) return;
        for (int y = from; y < to; ++y) {
            const StrokeSpan span = trace.spans[static_cast<std::size_t>(y - from)];
            const std::size_t row = static_cast<std::size_t>(y - from) * trace.rows.stride;
            for (int x = span.first; x <= span.last; ++x)
                if (const std::size_t at = row + static_cast<std::size_t>(x); trace.rows.cover[at] > 0.5f) {
                    sheet.own(x, y, stroke.id, trace.rows.place[at], 0.5f);
                    if (tip) tip.row(y)[x] = trace.rows.place[at];
                    if (layer)
                        layer.row(y)[x] =
                            static_cast<float>(stroke.id) / static_cast<float>(std::max<std::size_t>(1, strokes_.size()));
                }
        }
    }

    void shade(ObjectSheet& sheet, const LaidStroke& stroke, const ObjectCopy& copy, int from, int to, float scale) const {
        // Away from the lamp, wider and softer than the stroke.
        const auto far = static_cast<float>(s_.shadow_reach) * scale;
        const auto dx = static_cast<float>(-std::cos(context_.lamp_direction * degree)) * far,
                   dy = static_cast<float>(std::sin(context_.lamp_direction * degree)) * far;
        StrokePen pen = pen_of(stroke, copy.dx + dx, copy.dy + dy, from, far);
        pen.fade *= static_cast<float>(s_.shadow / 100);
        thread_local std::vector<StrokePart> blurred;
        const auto parts = strokes_.parts_no_shorter(stroke, 1.3f * far, blurred);
        paint_stroke(pen, parts.data(), static_cast<int>(parts.size()), {StrokeMix::over, 0, 0}, paper(sheet, from, to, nullptr),
                     nullptr);
    }

    StrokePaper paper(ObjectSheet& sheet, int from, int to, float* height) const {
        const bool over = s_.combine == Combine::over || s_.combine == Combine::shadow;
        return {sheet.colour(0, from), over ? sheet.cover(from) : nullptr, height, to - from, sheet.size().width};
    }
    void paint(const LaidStroke& stroke, const StrokePen& pen, const StrokeInk& ink, const StrokePaper& paper,
               const StrokeTrace* trace) const {
        paint_stroke(pen, strokes_.parts_of(stroke), static_cast<int>(stroke.count), ink, paper, trace);
    }

    static constexpr double least_width = 1;  ///< pixels of a stroke that can be told from its neighbours
    const Settings& s_;
    const StepContext& context_;
    const Fewer fewer_;
    LaidStrokes strokes_;
    std::shared_ptr<const DensityMap> turning_, toned_;
};

Bundle run(const Settings& s, const StepContext& context) {
    return supersampled(context, [&](const StepContext& c) { return Painter(s, c).paint(); });
}

}  // namespace
}  // namespace dashes_step

StepDescription describe_dashes() {
    using namespace dashes_step;
    StepDescription base;
    base.id = "dashes", base.title = "Dashes and hairs", base.family = Family::make;
    base.summary = "Strokes drawn along the fibre: pores, scratches, paper fibres, hairs.";
    base.words = "hair fur fibres grass strokes stitches bristles scratches scratch";
    base.seeded = true;
    base.headline = {"count", "length"};
    base.planes = object_step_planes();
    base.planes.insert(base.planes.end(), {planes::root_to_tip, planes::layer});
    const Range share{0, 100, Unit::percent}, angle{-360, 360, Unit::degrees, 180};
    const When strand{"along", {"strand"}};
    return Describe<Settings>(std::move(base))
        .count("count", "Count", &Settings::count, {0, 400000, Unit::none, 40000, Scale::root}, "How many are drawn at most.")
        .strand("density", "Density from", &Settings::density, "A strand that says how likely a stroke is where its middle lies.")
        .number("length", "Length", &Settings::length, {0.5, 4096, Unit::px, 256, Scale::root},
                "Middle length; none is longer than the tile.")
        .number("length-spread", "Length spread", &Settings::length_spread, {0, 150, Unit::percent, 100},
                "How much lengths differ.")
        .number("width", "Width", &Settings::width, {0.1, 256, Unit::px, 24, Scale::root},
                "Width in the middle, at most the length; what is thinner than a pixel fades instead of breaking up.")
        .once(2, 1.6)
        .number("width-spread", "Width spread", &Settings::width_spread, {0, 100, Unit::percent}, "How much widths differ.")
        .number("taper", "Taper", &Settings::taper, share, "How much both ends thin out.")
        .once(2, 60.0)
        .number("curl", "Curl", &Settings::curl, {0, 400, Unit::percent, 100},
                "How much strokes bend; long ones less sharply than short ones.")
        .once(2, 15.0)
        .number("crimp", "Crimp", &Settings::crimp, {0, 64, Unit::px, 8, Scale::root},
                "How far strokes swing to both sides of their way, as wool does.")
        .number("crimp-length", "Crimp length", &Settings::crimp_length, {2, 256, Unit::px, 48, Scale::root},
                "Length of one swing.", When::above("crimp", 0))
        .number("turn-limit", "Net turn limit", &Settings::turn_limit, {0, 360, Unit::degrees},
                "How far a stroke may turn from end to end, so that none closes into a ring.")
        .choice("along", "Direction from", &Settings::along,
                {{"fixed", "Fixed"}, {"strand", "Lines of a strand"}, {"tone", "Tone of a strand"}},
                "One direction for all, along the lines of another strand, or turned by its tone.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose lines, or whose tone, are followed.", strand)
        .number(
            "softness", "Softness of lines", &Settings::softness, {0, 128, Unit::px, 40, Scale::root},
            "Over how far lines are looked for: little follows every one, much the broad ones; 0 goes by the size of the tile.",
            {"along", {"strand"}})
        .once(2, 0.0)
        .number("tone-turn", "Turned by tone", &Settings::tone_turn, angle,
                "How far black turns strokes one way and white the other.", {"along", {"tone"}})
        .number("direction", "Direction", &Settings::direction, angle, "0 runs across, 90 up.", {"along", {"fixed", "tone"}})
        .number("direction-spread", "Direction spread", &Settings::direction_spread, {0, 180, Unit::degrees, 180, Scale::root},
                "How much directions differ.")
        .number("tone-spread", "Tone spread", &Settings::spread, share, "How much strokes differ in tone.")
        .strand("tone-from", "Tone from", &Settings::tone_from, "A strand whose tone at its middle each stroke takes.")
        .number("tip", "Tip tone", &Settings::tip, {-100, 100, Unit::percent},
                "How much lighter, or darker, a stroke is at its end than where it begins.")
        .choice("combine", "Combine", &Settings::combine,
                {{"lighter", "Lighter"}, {"darker", "Darker"}, {"over", "Over"}, {"shadow", "With contact shadow"}},
                "Light on black, dark on white, one over the other on nothing, or so with a soft shadow under each.")
        .visual({{"count", 60.0}, {"length", 90.0}, {"width", 7.0}})
        .number("shadow-reach", "Shadow reach", &Settings::shadow_reach, {0.2, 32, Unit::px, 8, Scale::root},
                "How far the shadow of a stroke falls, and how soft it is.", {"combine", {"shadow"}})
        .number("shadow", "Shadow", &Settings::shadow, share, "How dark it is.", {"combine", {"shadow"}})
        .count("layers", "Layers", &Settings::layers, {1, 16, Unit::none},
               "Lays the strokes in so many layers; lower ones have broader strokes.")
        .number("sink", "Sunk layers", &Settings::sink, share, "How dark the lowest layer is.", When::above("layers", 1))
        .shape([](const Settings& s, Shape) {
            return Shape{1, s.combine == Combine::over || s.combine == Combine::shadow};
        })
        .direction("Direction", "direction")
        .needs_whole()
        .scratch([](const Settings&, const Scales& at, const PlaneCounts& planes) {
            return supersampled_scratch(at, planes.out, 0.8);
        })
        .run(run);
}

}  // namespace loom
