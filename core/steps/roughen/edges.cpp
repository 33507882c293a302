// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gradient magnitude by the classical 3 x 3 operators, taken across the tile edge.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/tally.h"

namespace loom {

namespace edges_step {
namespace {

enum class Operator { sobel, scharr, prewitt, compass, laplacian };
enum class Ground { dark, light };
enum class Measure { own, fixed };

struct Settings {
    Operator kind = Operator::sobel;
    Measure measure = Measure::own;
    double strength = 400;
    double thickness = 1;
    Ground ground = Ground::dark;
};

/// Eight values round a pixel, from the right one on against the clock, and the middle.
struct Near {
    std::array<float, 8> round;
    float middle;
};

float magnitude(Operator kind, const Near& n) {
    const auto& r = n.round;
    auto slope = [&](float side, float corner) {
        const float x = side * (r[0] - r[4]) + corner * (r[1] + r[7] - r[3] - r[5]);
        const float y = side * (r[2] - r[6]) + corner * (r[1] + r[3] - r[5] - r[7]);
        return std::sqrt(x * x + y * y);
    };
    switch (kind) {
        case Operator::sobel: return slope(2, 1) / 4;
        case Operator::scharr: return slope(10, 3) / 16;
        case Operator::prewitt: return slope(1, 1) / 3;
        case Operator::compass: {
            // Robinson's eight masks: the Sobel slope in eight directions, the greatest counts.
            float most = 0;
            for (std::size_t k = 0; k < 8; ++k) {
                auto at = [&](std::size_t turn) { return r[(k + turn) % 8]; };
                most = std::max(most, 2 * (at(0) - at(4)) + at(1) + at(7) - at(3) - at(5));
            }
            return most / 4;
        }
        case Operator::laplacian: return std::abs(r[0] + r[2] + r[4] + r[6] - 4 * n.middle);
    }
    return 0;
}

/// The magnitude that a twentieth of the picture exceeds is a full line at 400 %.
constexpr double full_at_percent = 400, steepest_share = 0.05;

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    // Lines are as wide as the picture is softened; what one design pixel takes is softened by half of it.
    const double radius = 0.5 * s.thickness;
    const PlaneRef source = tone_of(*context.input, *context.job);
    const Plane tone = radius * scale > 0.3 ? gaussian_blur(*source, radius * context.scale_x(), radius * context.scale_y(),
                                                            context.grown(1), *context.job)
                                            : source->clone();
    // Slopes a design pixel: the operators are per pixel, the Laplacian per pixel squared.
    const double per_pixel = s.kind == Operator::laplacian ? scale * scale : scale;
    const bool own = s.measure == Measure::own;
    const auto gain = own ? 1.0f : static_cast<float>(s.strength / 100 * per_pixel * std::max(1.0, s.thickness));
    Plane out = context.plane();
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* rows[3] = {tone.row(wrap(y - 1, size.height)), tone.row(y), tone.row(wrap(y + 1, size.height))};
            for (int x = 0; x < size.width; ++x) {
                const int l = x > 0 ? x - 1 : size.width - 1, r = x + 1 < size.width ? x + 1 : 0;
                const Near near{{rows[1][r], rows[0][r], rows[0][x], rows[0][l], rows[1][l], rows[2][l], rows[2][x], rows[2][r]},
                                rows[1][x]};
                out.row(y)[x] = gain * magnitude(s.kind, near);
            }
        }
    });
    float factor = 1;
    if (own) {
        const ToneSpan span = tone_span_of(out, nullptr, *context.job);
        const double steep =
            span.greatest > 0
                ? Tally::of(out, nullptr, 0, static_cast<double>(span.greatest), 4096, *context.job).tone_above(steepest_share)
                : 0.0;
        factor = static_cast<float>(steep > 1e-6 ? s.strength / full_at_percent / steep : 0.0);
    }
    const bool light = s.ground == Ground::light;
    for_values(*context.job, out, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            const float line = std::min(1.0f, factor * out.data()[i]);
            out.data()[i] = light ? 1 - line : line;
        }
    });
    Bundle result = Bundle::of(std::move(out));
    result.named = part_of(context.input->named, context.wanted_rows());
    return result;
}

}  // namespace
}  // namespace edges_step

StepDescription describe_edges() {
    using namespace edges_step;
    StepDescription base;
    base.id = "edges", base.title = "Edge lines", base.family = Family::roughen;
    base.summary = "Turns the picture to lines where its tone changes.";
    base.words = "outline contour sketch find lines ink trace";
    base.scratch_planes = 0;
    base.headline = {"operator", "thickness"};
    return Describe<Settings>(std::move(base))
        .choice("operator", "Operator", &Settings::kind,
                {{"sobel", "Sobel"},
                 {"scharr", "Scharr"},
                 {"prewitt", "Prewitt"},
                 {"compass", "Compass"},
                 {"laplacian", "Laplacian"}},
                "How changes are found: by slopes of three kinds, the steepest of eight directions, or by how slopes change.")
        .choice(
            "measure", "Measured by", &Settings::measure, {{"own", "Its steepest"}, {"fixed", "Fixed slopes"}},
            "Whether a full line is what changes most in this picture, however soft it is, or a slope that is the same in all.")
        .once(1, Value(std::string("fixed")))
        .number("strength", "Strength", &Settings::strength, {0, 4000, Unit::percent, 800, Scale::root},
                "How soon a change becomes a full line.")
        .number("thickness", "Thickness", &Settings::thickness, {0.5, 256, Unit::px, 24, Scale::root},
                "About how wide lines are.")
        .choice("ground", "Ground", &Settings::ground, {{"dark", "Light on dark"}, {"light", "Dark on light"}},
                "Which of both is the line.")
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .footprint([](const Settings& s, const Scales& at) {
            if (s.measure == Measure::own) return Footprint::whole();
            return after(gaussian_footprint(0.5 * s.thickness * at.x(), 0.5 * s.thickness * at.y()), Footprint::near(1, 1));
        })
        .run(run);
}

}  // namespace loom
