// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "core/base/hash.h"
#include "core/base/quick_math.h"
#include "core/catalogue/describe.h"
#include "core/image/resample.h"

namespace loom {

namespace wave_step {
namespace {

enum class Sway { along, across, both };
enum class Profile { round, pointed, stepped };

struct Settings {
    int waves = 5;
    double length = 170, length_spread = 50;
    double height = 9, height_spread = 50;
    double heading = 0, heading_spread = 90;
    Sway sway = Sway::both;
    Profile profile = Profile::round;
};

constexpr double degree = 3.14159265358979323846 / 180;

/// A plane wave with whole numbers of crests across and down the tile, and how far it pushes in pixels.
struct Wave {
    int across, down;
    double phase;
    float push_x, push_y;
};

std::vector<Wave> waves_of(const Settings& s, const StepContext& context) {
    std::vector<Wave> waves;
    for (int k = 0; k < s.waves; ++k) {
        // From -1 to 1.
        auto draw = [&](int which) {
            return 2 * static_cast<double>(unit_float(
                           mix64(mix64(context.seed, static_cast<std::uint64_t>(k)), static_cast<std::uint64_t>(which)))) -
                   1;
        };
        // At a spread of 100 % from a quarter to four times the length.
        const double length = s.length * std::exp2(2 * s.length_spread / 100 * draw(0));
        const double height = s.height * (1 + s.height_spread / 100 * draw(1));
        // Crests run along the heading, so that the wave goes across it.
        const double heading = (s.heading + s.heading_spread * draw(2)) * degree, way_x = std::sin(heading),
                     way_y = std::cos(heading);
        Wave wave{static_cast<int>(std::lround(context.tile.width / length * way_x)),
                  static_cast<int>(std::lround(context.tile.height / length * way_y)), draw(4), 0, 0};
        if (wave.across == 0 && wave.down == 0) (std::abs(way_x) > std::abs(way_y) ? wave.across : wave.down) = 1;
        // The push is told from the way the wave really goes once it closes.
        const double u = static_cast<double>(wave.across) / context.tile.width,
                     v = static_cast<double>(wave.down) / context.tile.height;
        double turn = std::atan2(v, u);
        if (s.sway == Sway::along) turn += 90 * degree;
        if (s.sway == Sway::both) turn += 180 * degree * draw(3);
        wave.push_x = static_cast<float>(height * std::cos(turn) * context.scale_x());
        wave.push_y = static_cast<float>(height * std::sin(turn) * context.scale_y());
        waves.push_back(wave);
    }
    return waves;
}

/// From -1 to 1 for a phase from 0 to 1.
float risen(Profile profile, float phase) {
    const float sine = quick_cosine(phase - 0.5f);
    switch (profile) {
        case Profile::round: return sine;
        case Profile::pointed: return 4 * std::abs(phase - 0.5f) - 1;
        // Four treads up and down, so that blocks shift against each other.
        case Profile::stepped: return 0.5f * quick_floor(2 * sine + 0.5f);
    }
    return 0;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const auto waves = waves_of(s, context);
    return resampled(
        *context.input, context.wanted_rows(),
        [&](int y, float* px, float* py) {
            for (int x = 0; x < size.width; ++x) px[x] = static_cast<float>(x), py[x] = static_cast<float>(y);
            for (const Wave& wave : waves) {
                const double down = wave.down * (y + 0.5) / size.height + wave.phase,
                             first = down + wave.across * 0.5 / size.width;
                const auto start = static_cast<float>(first - std::floor(first)),
                           step = static_cast<float>(static_cast<double>(wave.across) / size.width);
                for (int x = 0; x < size.width; ++x) {
                    const float at = start + static_cast<float>(x) * step, value = risen(s.profile, at - quick_floor(at));
                    px[x] += wave.push_x * value, py[x] += wave.push_y * value;
                }
            }
        },
        *context.job);
}

}  // namespace
}  // namespace wave_step

StepDescription describe_wave() {
    using namespace wave_step;
    StepDescription base;
    base.id = "wave", base.title = "Wave", base.family = Family::bend;
    base.summary = "Bends the picture by a sum of waves that close at the tile edge.";
    base.words = "ripple sine wobble undulate bend water";
    base.seeded = true;
    base.headline = {"length", "height"};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .count("waves", "Waves", &Settings::waves, {1, 32, Unit::none, 12}, "How many are summed.")
        .number("length", "Length", &Settings::length, {4, 16384, Unit::px, 1024, Scale::root},
                "Middle distance from crest to crest; each is bent to close at the tile edge.")
        .number("length-spread", "Length spread", &Settings::length_spread, share,
                "How much lengths differ; at 100 % from a quarter of it to four times as much.")
        .number("height", "Height", &Settings::height, {0, 1024, Unit::px, 100, Scale::root}, "Middle way that a crest pushes.")
        .number("height-spread", "Height spread", &Settings::height_spread, share, "How much heights differ.")
        .number("heading", "Heading", &Settings::heading, {-360, 360, Unit::degrees, 180},
                "The way the crests run; 0 is right, 90 is up.")
        .number("heading-spread", "Heading spread", &Settings::heading_spread, {0, 90, Unit::degrees},
                "How far single waves head elsewhere; at 90 all ways alike.")
        .choice("sway", "Sway", &Settings::sway,
                {{"along", "Along the crests"}, {"across", "Across the crests"}, {"both", "Both"}},
                "Which way crests push: along themselves, which makes lines wind; across, which crowds and stretches; or each "
                "its own.")
        .visual({{"waves", 1.0}, {"length", 128.0}, {"height", 24.0}, {"length-spread", 0.0}, {"heading-spread", 0.0}})
        .choice("profile", "Profile", &Settings::profile, {{"round", "Round"}, {"pointed", "Pointed"}, {"stepped", "Stepped"}},
                "How it goes from one crest to the next; steps shift blocks against each other.")
        .curve([](std::size_t profile, double x) {
            return 0.5 + 0.5 * static_cast<double>(risen(static_cast<Profile>(profile), static_cast<float>(x)));
        })
        .direction("Heading", "heading")
        .footprint([](const Settings& s, const Scales& at) {
            const double way = s.waves * s.height * (1 + s.height_spread / 100);
            return Footprint::near(at.across(way, resampled_margin), at.down(way, resampled_margin));
        })
        .run(run);
}

}  // namespace loom
