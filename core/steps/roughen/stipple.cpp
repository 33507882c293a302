// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Dots by thresholds that belong to the tile: white noise, blue noise (Ulichney 1993), a clustered
// screen at 45 degrees, or strokes.
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/structures/object_sheet.h"
#include "core/steps/roughen/stipple_marks.h"

namespace loom {

namespace {

enum class Drive { tone, coverage };
struct Settings {
    Drive drive = Drive::tone;
    StipplePattern pattern = StipplePattern::blue;
    double dot = 3;
    double density = 100;
    double direction = 45;
};

/// Draws the marks, each grown to what lies under its middle; where several lie they cover more.
Plane drawn(const Settings& s, const StepContext& context, const Plane& wanted, Size size) {
    const StippleLayout layout = stipple_layout(s.pattern, s.dot, s.direction, context.tile, context.seed);
    const double scale_x = static_cast<double>(size.width) / context.tile.width,
                 scale_y = static_cast<double>(size.height) / context.tile.height;
    const auto radius = layout.radius * static_cast<float>(std::sqrt(scale_x * scale_y));
    const float reach_x = layout.reach_x * static_cast<float>(scale_x), reach_y = layout.reach_y * static_cast<float>(scale_y);
    // What one mark covers decides it as a whole, so that marks stay round at edges of tone.
    const double soft_x = layout.radius * wanted.width() / context.tile.width,
                 soft_y = layout.radius * wanted.height() / context.tile.height;
    const Plane under = gaussian_blur(wanted, 0.5 * soft_x, 0.5 * soft_y, *context.job);
    struct Drawn {
        float x, y, radius, strength;
    };
    std::vector<Drawn> marks;
    std::vector<ObjectBox> boxes;
    for (const StippleMark& mark : layout.marks) {
        const float cover = sample_bilinear(under, mark.u * static_cast<float>(wanted.width()) - 0.5f,
                                            mark.v * static_cast<float>(wanted.height()) - 0.5f);
        const float grown = radius * stipple_growth(s.pattern, cover, mark.rank);
        if (grown <= 0.01f) continue;
        // What is thinner than a pixel fades.
        const float shown = std::max(grown, 0.5f), strength = std::min(1.0f, 4 * grown * grown);
        const Drawn one{mark.u * static_cast<float>(size.width) - 0.5f, mark.v * static_cast<float>(size.height) - 0.5f, shown,
                        strength};
        const float far_x = shown + std::abs(reach_x) + 1, far_y = shown + std::abs(reach_y) + 1;
        marks.push_back(one), boxes.push_back({one.x - far_x, one.y - far_y, one.x + far_x, one.y + far_y});
    }
    const float length2 = reach_x * reach_x + reach_y * reach_y, per_length2 = length2 > 0 ? 1 / length2 : 0;
    Plane lit(size, 0.0f);
    for_object_bands(*context.job, size, boxes, 32, [&](int first, int last, const std::vector<ObjectCopy>& copies) {
        for (const ObjectCopy& copy : copies) {
            const Drawn& mark = marks[copy.object];
            const ObjectBox& box = boxes[copy.object];
            const int left = std::max(0, static_cast<int>(box.left + copy.dx)),
                      right = std::min(size.width - 1, static_cast<int>(box.right + copy.dx) + 1);
            for (int y = std::max(first, static_cast<int>(box.top + copy.dy));
                 y < std::min(last, static_cast<int>(box.bottom + copy.dy) + 2); ++y) {
                const float dy = static_cast<float>(y) - mark.y - copy.dy;
                float* row = lit.row(y);
                for (int x = left; x <= right; ++x) {
                    const float dx = static_cast<float>(x) - mark.x - copy.dx;
                    // Distance to the stroke's middle line, or to the dot's middle.
                    const float t = std::clamp((dx * reach_x + dy * reach_y) * per_length2, -1.0f, 1.0f);
                    const float ox = dx - t * reach_x, oy = dy - t * reach_y;
                    const float inside = mark.radius + 0.5f - std::sqrt(ox * ox + oy * oy);
                    // Edges that meet in a pixel cover different parts of it, by chance.
                    row[x] += (1 - row[x]) * mark.strength * std::clamp(inside, 0.0f, 1.0f);
                }
            }
        }
    });
    return lit;
}

/// Marks of few pixels are drawn larger and averaged; what is finer than a pixel by far is its own mean.
int times_of(double dot) {
    constexpr double fine = 6, finest = 0.6;
    return dot < finest ? 0 : std::clamp(static_cast<int>(std::ceil(fine / dot)), 1, 4);
}

Plane stippled(const Settings& s, const StepContext& context, const Plane& wanted) {
    const double dot = s.dot * std::sqrt(context.scale_x() * context.scale_y());
    const int times = times_of(dot);
    if (times == 0) return wanted.clone();
    Plane lit = drawn(s, context, wanted, {context.size.width * times, context.size.height * times});
    return times > 1 ? resized(lit, context.size, *context.job) : std::move(lit);
}

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    const Bundle& in = *context.input;
    const Size size = context.size;
    const PlaneRef drive = s.drive == Drive::tone ? tone_of(in, *context.job) : coverage_of(in);
    const auto density = static_cast<float>(s.density / 100);
    Plane wanted(size);
    for (std::size_t i = 0; i < size.pixels(); ++i) {
        const float value = std::clamp(drive->data()[i], 0.0f, 1.0f);
        wanted.data()[i] = s.drive == Drive::tone ? 1 - density * (1 - value) : density * value;
    }
    Plane lit = stippled(s, context, wanted);
    Bundle result;
    result.named = in.named;
    if (s.drive == Drive::tone) {
        // Dots of light on dark, as far as the picture covers.
        if (in.coverage)
            for (std::size_t i = 0; i < size.pixels(); ++i) lit.data()[i] *= in.coverage->data()[i];
        result.colour = {share(std::move(lit))};
        result.coverage = in.coverage;
        return result;
    }
    for (const PlaneRef& plane : in.colour) {
        Plane cut(size);
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const float cover = drive->data()[i];
            cut.data()[i] = cover > 0 ? plane->data()[i] / cover * lit.data()[i] : 0.0f;
        }
        result.colour.push_back(share(std::move(cut)));
    }
    result.coverage = share(std::move(lit));
    return result;
}

}  // namespace

StepDescription describe_stipple() {
    StepDescription base;
    base.id = "stipple", base.title = "Stipple", base.family = Family::roughen;
    base.summary = "Turns tone, or soft coverage, to dots.";
    base.seeded = true;
    base.headline = {"pattern", "dot"};
    const When turned{"pattern", {"clustered", "strokes"}};
    return Describe<Settings>(std::move(base))
        .choice("drive", "Driven by", &Settings::drive, {{"tone", "Tone"}, {"coverage", "Coverage"}},
                "What becomes dots: how light it is, or how much it covers.")
        .choice("pattern", "Pattern", &Settings::pattern,
                {{"white", "White noise"}, {"blue", "Blue noise"}, {"clustered", "Screen"}, {"strokes", "Strokes"}},
                "How dots lie: by chance, evenly apart, as a turned screen whose dots grow, or as short strokes.")
        .visual({{"dot", 6.0}})
        .number("dot", "Dot", &Settings::dot, {1, 128, Unit::px, 16, Scale::root}, "Width of a dot.")
        .number("density", "Density", &Settings::density, {0, 100, Unit::percent},
                "For tone how many dark dots are left; for coverage how many dots there are.")
        .number("direction", "Direction", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "The way along the strokes or the screen's rows, bent to what closes; 0 is right, 90 is up.", turned)
        .shape([](const Settings& s, Shape in) {
            return s.drive == Drive::tone ? Shape{1, in.coverage} : Shape{in.channels, true};
        })
        .draws([](const Settings& s) { return s.pattern != StipplePattern::clustered; })
        .direction("Strokes", "direction")
        .needs_whole()
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts&) {
            const double times = times_of(s.dot * std::sqrt(at.x() * at.y()));
            return times > 1 ? 2 + times * times + times : 1.0;
        })
        .run(run);
}

}  // namespace loom
