// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Light beyond a threshold spreads as in an eye or a lens: a narrow and a wide halo and lines through each light, added in linear
// light.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/catalogue/describe.h"
#include "core/image/gaussian.h"
#include "core/image/line_average.h"
#include "core/image/tally.h"
#include "core/structures/filled.h"

namespace loom {

namespace bloom_step {
namespace {

enum class Shows { all, glow };

struct Settings {
    double threshold = 0.85, softness = 0.1;
    double radius = 3, amount = 100;
    double wide_radius = 14, wide_amount = 60;
    int rays = 0;
    double ray_length = 48, ray_turn = 28, ray_amount = 60;
    Colour tint{1, 1, 1};
    Shows shows = Shows::all;
};

bool tinted(const Settings& s) { return !is_grey(s.tint); }

std::pair<double, double> ray(const Settings& s, int k, double scale_x, double scale_y) {
    const double angle = (s.ray_turn + 180.0 * k / std::max(1, s.rays)) * std::numbers::pi / 180;
    return {s.ray_length * std::cos(angle) * scale_x, -s.ray_length * std::sin(angle) * scale_y};
}

/// Linear light above the threshold.
Plane beyond(const Settings& s, const Plane& tone, const Job& job) {
    const auto from = static_cast<float>(s.threshold), soft = static_cast<float>(std::max(1e-3, s.softness));
    Plane out = tone.alike();
    for_values(job, out, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            const float value = tone.data()[i], share = std::clamp((value - from) / soft, 0.0f, 1.0f);
            out.data()[i] = share > 0 ? share * std::max(0.0f, to_linear(value)) : 0.0f;
        }
    });
    return out;
}

void add(Plane& sum, const Plane& more, double factor, const Job& job) {
    const auto by = static_cast<float>(factor);
    for_values(job, sum, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) sum.data()[i] += by * more.data()[i];
    });
}

Plane glow_of(const Settings& s, const Plane& light, const StepContext& context) {
    const double sx = context.scale_x(), sy = context.scale_y();
    const Job& job = *context.job;
    Plane glow(light.size(), light.rows(), 0.0f);
    if (s.amount > 0) add(glow, gaussian_blur(light, s.radius * sx, s.radius * sy, job), s.amount / 100, job);
    if (s.wide_amount > 0) add(glow, gaussian_blur(light, s.wide_radius * sx, s.wide_radius * sy, job), s.wide_amount / 100, job);
    if (s.rays > 0 && s.ray_amount > 0) {
        // As wide as the eye sees a point, and as bright at its middle whatever its length.
        const Plane point = gaussian_blur(light, 0.6 * sx, 0.6 * sy, job);
        for (int k = 0; k < s.rays; ++k) {
            const auto [dx, dy] = ray(s, k, sx, sy);
            add(glow, line_average(point, dx, dy, Falloff::bell, job), s.ray_amount / 100 * 0.05 * s.ray_length, job);
        }
    }
    return glow;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle& in = *context.input;
    const Job& job = *context.job;
    const float tint[3] = {s.tint.red, s.tint.green, s.tint.blue};
    const int channels = tinted(s) || !in.grey() ? 3 : 1;
    Bundle out;
    Plane glow;
    for (int c = 0; c < channels; ++c) {
        job.check();
        const PlaneRef tone = straight(in.colour[in.grey() ? 0 : static_cast<std::size_t>(c)], in.coverage, job);
        if (c == 0 || !in.grey()) {
            // What is not covered gives no light.
            Plane light = beyond(s, *tone, job);
            if (in.coverage)
                for_values(job, light, [&](std::size_t first, std::size_t last) {
                    for (std::size_t i = first; i < last; ++i) light.data()[i] *= in.coverage->data()[i];
                });
            glow = glow_of(s, light, context);
        }
        Plane plane = tone->alike();
        for_values(job, plane, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) {
                const float more = tint[c] * glow.data()[i], own = s.shows == Shows::all ? tone->data()[i] : 0.0f;
                // What gains nothing keeps its bytes.
                const float lit = more > 1e-7f ? to_encoded(to_linear(std::max(0.0f, own)) + more) : own;
                plane.data()[i] = in.coverage ? lit * in.coverage->data()[i] : lit;
            }
        });
        out.colour.push_back(share(std::move(plane)));
    }
    out.coverage = in.coverage, out.named = in.named;
    return out;
}

}  // namespace
}  // namespace bloom_step

StepDescription describe_bloom() {
    using namespace bloom_step;
    StepDescription base;
    base.id = "bloom", base.title = "Bloom", base.family = Family::shade;
    base.summary = "What is brighter than a threshold glows: halos and rays round glints, lamps and embers.";
    base.words = "glow halo shine sparkle star flare light rays glint lens";
    base.headline = {"threshold", "radius"};
    const When rays = When::above("rays", 0);
    const Range amount{0, 1000, Unit::percent, 200, Scale::root};
    return Describe<Settings>(std::move(base))
        .number("threshold", "Threshold", &Settings::threshold, {0, 8, Unit::tone, 1},
                "The tone from which on light glows; lights may be brighter than white.")
        .number("softness", "Softness", &Settings::softness, {0, 4, Unit::tone, 0.5}, "Over how many tones that begins.")
        .section("Halo")
        .number("radius", "Radius", &Settings::radius, {0.1, 512, Unit::px, 24, Scale::root}, "Of the narrow halo.")
        .number("glow", "Amount", &Settings::amount, amount, "How much light is in it.")
        .number("wide-radius", "Wide radius", &Settings::wide_radius, {0.1, 2048, Unit::px, 96, Scale::root}, "Of the wide halo.")
        .number("wide-glow", "Wide amount", &Settings::wide_amount, amount, "How much light is in that.")
        .section("Rays")
        .count("rays", "Lines", &Settings::rays, {0, 6, Unit::none}, "Lines of light through each glint; 0 has none.")
        .number("ray-length", "Length", &Settings::ray_length, {1, 2048, Unit::px, 160, Scale::root}, "From end to end.", rays)
        .number("ray-turn", "Turn", &Settings::ray_turn, {-180, 180, Unit::degrees}, "Which way they run.", rays)
        .number("ray-glow", "Amount", &Settings::ray_amount, amount, "How bright they are.", rays)
        .section("Result")
        .colour("tint", "Tint", &Settings::tint, "Colour of all that glows.")
        .choice("shows", "Shows", &Settings::shows, {{"all", "Picture and glow"}, {"glow", "Glow only"}},
                "The picture with its glow, or the glow by itself, to be laid over.")
        .shape([](const Settings& s, Shape in) {
            return Shape{tinted(s) ? 3 : in.channels, in.coverage};
        })
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts&) {
            double lines = 0;
            for (int k = 0; k < s.rays; ++k) {
                const auto [dx, dy] = ray(s, k, at.x(), at.y());
                lines = std::max(lines, 2.0 + line_scratch(dx, dy));
            }
            return 3.2 + std::max(1.2, lines);
        })
        .needs_whole()
        .run(run);
}

}  // namespace loom
