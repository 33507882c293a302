// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Paper gives way in two layers: the core tears along a line that wanders at two scales, and the face above it a little farther
// in, more on the side that it is pulled away from. Fibres stand out across the line.
#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/hash.h"
#include "core/base/quick_math.h"
#include "core/catalogue/describe.h"
#include "core/image/distance.h"
#include "core/image/plane_names.h"
#include "core/image/shoulder.h"
#include "core/noise/clouds.h"
#include "core/structures/filled.h"

namespace loom {

namespace tear_step {
namespace {

struct Settings {
    double reach = 22;
    double wander = 14, wander_size = 120;
    double ragged = 4, ragged_size = 14;
    double core = 9, core_spread = 70;
    double direction = 135, one_sided = 60;
    double fibres = 3;
    double feather = 1.2;
    Colour core_colour{0.88f, 0.86f, 0.81f};
};

constexpr std::string_view parts[] = {planes::face, planes::core, planes::edge};

/// A field of mean 0 and deviation 1 with features of about that size.
CloudField field(double size_px, int octaves, std::uint64_t lot, const StepContext& context) {
    CloudSettings clouds;
    clouds.across = context.tile.width / size_px, clouds.down = context.tile.height / size_px;
    clouds.octaves = octaves, clouds.seed = mix64(context.seed, 0x746561 + lot);
    return CloudField(clouds, context.size, context.job);
}

/// How far any of it moves the line, in design px.
double farthest(const Settings& s) { return s.reach + 3 * (s.wander + s.ragged) + 3 * s.core + 2 * s.fibres + s.feather + 4; }

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    const Bundle& in = *context.input;
    if (!in.coverage) return in;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const Plane distance = distance_to_level(*in.coverage, 0.5f, farthest(s) * scale, *context.job);
    const CloudField wander = field(s.wander_size, 3, 1, context), ragged = field(s.ragged_size, 3, 2, context),
                     spread = field(4 * s.ragged_size, 2, 3, context), hairs = field(3.2, 3, 4, context),
                     broad = field(s.wander_size / 2, 2, 5, context), pulp = field(4.5, 3, 6, context);
    const int channels = in.grey() && is_grey(s.core_colour) ? 1 : 3;
    const float core_colour[3] = {s.core_colour.red, s.core_colour.green, s.core_colour.blue};
    std::vector<Plane> colour;
    for (int c = 0; c < channels; ++c) colour.push_back(context.plane());
    Plane cover = context.plane(), face = context.plane(), core = context.plane(), edge = context.plane();
    const bool high = context.wants(height_plane);
    Plane height = high ? context.plane() : Plane();
    const PlaneRef below = high ? (in.plane(height_plane) ? in.plane(height_plane) : share(context.plane(1))) : nullptr;
    const double pull = s.direction * std::numbers::pi / 180, pull_x = std::cos(pull), pull_y = -std::sin(pull);
    const int width = context.size.width;
    context.for_rows([&](int first, int last) {
        const auto padded = static_cast<std::size_t>(hairs.padded_width());
        std::vector<float> w(padded), r(padded), sp(padded), h(padded), b(padded), p(padded), du(padded), dv(padded);
        for (int y = first; y < last; ++y) {
            const float *above = distance.row(wrap(y - 1, context.size.height)), *here = distance.row(y),
                        *under = distance.row(wrap(y + 1, context.size.height));
            const auto normal = [&](int x) {
                const double nx = static_cast<double>(here[x + 1 < width ? x + 1 : 0] - here[x > 0 ? x - 1 : width - 1]),
                             ny = static_cast<double>(under[x] - above[x]), length = std::max(1e-6, std::hypot(nx, ny));
                return std::pair{nx / length, ny / length};
            };
            // Fibres, and how far the core shows, are read where the edge is nearest: fibres stand out across it, and no island
            // of face is left within the core.
            for (int x = 0; x < width; ++x) {
                const auto [nx, ny] = normal(x);
                const auto at = static_cast<std::size_t>(x);
                du[at] = finite(static_cast<float>(-nx * static_cast<double>(here[x]) / context.size.width));
                dv[at] = finite(static_cast<float>(-ny * static_cast<double>(here[x]) / context.size.height));
            }
            wander.row(y, w.data()), ragged.row(y, r.data()), pulp.row(y, p.data());
            for (const auto& [along, values] : {std::pair{&spread, &sp}, {&broad, &b}, {&hairs, &h}})
                along->row(y, values->data(), du.data(), dv.data());
            for (int x = 0; x < width; ++x) {
                const auto at = static_cast<std::size_t>(x);
                const auto [nx, ny] = normal(x);
                const double own = static_cast<double>(here[x]) / scale, hair = std::max(0.0, static_cast<double>(h[at]) - 0.4);
                const double line = own - s.reach - 0.5 * s.wander * static_cast<double>(w[at]) -
                                    0.5 * s.ragged * static_cast<double>(r[at]) + 0.5 * s.fibres * hair * hair;
                // The core shows where the face was pulled away from it, and in places not at all.
                const double side = 1 + s.one_sided / 100 * (-(nx * pull_x + ny * pull_y) - 0.3);
                const double share =
                    1 + s.core_spread / 100 * (0.5 * static_cast<double>(sp[at]) + 0.7 * static_cast<double>(b[at]));
                const double bare = std::max(0.0, s.core * std::max(0.0, side) * share);
                const double feather = std::max(0.35 / scale, s.feather / 2);
                const auto covered =
                    shoulder(static_cast<float>(-feather), static_cast<float>(feather), static_cast<float>(line)) *
                    in.coverage->row(y)[x];
                // The face gives way more raggedly than the core, and its own rim is thin.
                const double in_face = line - bare - 0.22 * s.ragged * static_cast<double>(p[at]) - 0.25 * s.fibres * hair;
                const auto on_face = shoulder(static_cast<float>(-0.5 / scale - 0.4 * s.feather),
                                              static_cast<float>(0.5 / scale + 0.4 * s.feather), static_cast<float>(in_face));
                const float own_cover = in.coverage->row(y)[x];
                cover.row(y)[x] = covered;
                face.row(y)[x] = covered * on_face, core.row(y)[x] = covered * (1 - on_face);
                edge.row(y)[x] = covered * static_cast<float>(std::exp(-std::max(0.0, line) / std::max(0.5, s.feather)));
                // Fibres catch the light one by one at the very edge; behind them lies felted pulp, in the shade of the face.
                const double tips = std::exp(-std::max(0.0, line) / std::max(1.0, s.fibres)),
                             under_face = std::exp(std::min(0.0, in_face) / 1.6);
                const auto shade = static_cast<float>(1 + 0.05 * tips * std::clamp(static_cast<double>(h[at]), -2.0, 2.0) +
                                                      0.02 * static_cast<double>(p[at]) - 0.12 * under_face);
                for (int c = 0; c < channels; ++c) {
                    const float face_colour = own_cover > 0 ? in.channel(c).row(y)[x] / own_cover : 0.0f;
                    const float torn = std::clamp(core_colour[c] * shade, 0.0f, 1.0f);
                    colour[static_cast<std::size_t>(c)].row(y)[x] = covered * (torn + on_face * (face_colour - torn));
                }
                if (high) {
                    // The core thins out towards its edge.
                    const double thin = bare > 0 ? std::clamp(line / bare, 0.0, 1.0) : 1.0;
                    const double level = static_cast<double>(on_face) + (1 - static_cast<double>(on_face)) * (0.25 + 0.45 * thin);
                    height.row(y)[x] = static_cast<float>(level) * below->row(y)[x] * std::min(1.0f, 2 * covered);
                }
            }
        }
    });
    Bundle result;
    for (Plane& plane : colour) result.colour.push_back(share(std::move(plane)));
    result.coverage = share(std::move(cover));
    result.named = in.named;
    Plane* made[] = {&face, &core, &edge};
    for (std::size_t k = 0; k < 3; ++k)
        if (context.wants(parts[k])) result.named[std::string(parts[k])] = share(std::move(*made[k]));
    if (high) result.named[std::string(height_plane)] = share(std::move(height));
    return result;
}

}  // namespace
}  // namespace tear_step

StepDescription describe_tear() {
    using namespace tear_step;
    StepDescription base;
    base.id = "tear", base.title = "Tear", base.family = Family::roughen;
    base.summary = "Cuts a form as paper is torn: a wandering line, a bare core along it, and fibres.";
    base.words = "torn rip ripped paper card ragged deckle edge shred";
    base.seeded = true;
    base.headline = {"reach", "core"};
    base.planes = {height_plane, parts[0], parts[1], parts[2]};
    return Describe<Settings>(std::move(base))
        .number(
            "reach", "Reach", &Settings::reach, {0, 1024, Unit::px, 128, Scale::root},
            "How far within the form's edge it is torn; where the line wanders farther than that, the form's own edge is left.")
        .once(2, 14.0)
        .section("Line")
        .number("wander", "Wandering", &Settings::wander, {0, 512, Unit::px, 64, Scale::root}, "How far the line wanders.")
        .number("wander-size", "Wandering size", &Settings::wander_size, {8, 4096, Unit::px, 512, Scale::root},
                "Over which length it does.")
        .number("ragged", "Ragged", &Settings::ragged, {0, 256, Unit::px, 24, Scale::root}, "How ragged it is besides.")
        .number("ragged-size", "Ragged size", &Settings::ragged_size, {2, 512, Unit::px, 64, Scale::root},
                "Over which length that is.")
        .section("Core")
        .number("core", "Core", &Settings::core, {0, 512, Unit::px, 48, Scale::root}, "How far the core shows under the face.")
        .number("core-spread", "Core spread", &Settings::core_spread, {0, 100, Unit::percent},
                "How much that differs from place to place; in some it does not show at all.")
        .number("direction", "Pulled towards", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Where the face was pulled: the core shows more on that side; 0 is right, 90 above.")
        .number("one-sided", "One-sided", &Settings::one_sided, {0, 100, Unit::percent},
                "How much more it shows on that side than on the other.")
        .colour("core-colour", "Core colour", &Settings::core_colour, "Colour of the bare core.")
        .section("Fibres")
        .number("fibres", "Fibres", &Settings::fibres, {0, 64, Unit::px, 16, Scale::root}, "How far single fibres stand out.")
        .number("feather", "Feather", &Settings::feather, {0, 64, Unit::px, 8, Scale::root}, "How softly the very edge ends.")
        .direction("Pulled towards", "direction")
        .shape([](const Settings& s, Shape in) {
            return in.coverage ? Shape{in.channels == 1 && is_grey(s.core_colour) ? 1 : 3, true} : in;
        })
        .scratch([](const Settings&, const Scales&, const PlaneCounts&) { return 12.0; })
        .needs_whole()
        .run(run);
}

}  // namespace loom
