// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/base/hash.h"
#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"
#include "core/steps/bend/resample.h"

namespace loom {

namespace {

enum class Form { sine, triangle, square };

struct Settings {
    int count = 5;
    Form form = Form::sine;
    double shortest = 90, longest = 320;
    double lowest = 4, highest = 14;
    double across = 100, down = 100;
};

/// A plane wave with whole numbers of crests across and down the tile.
struct Wave {
    int across, down;
    double phase, push_x, push_y;
};

std::vector<Wave> waves_of(const Settings& s, const StepContext& context) {
    std::vector<Wave> waves;
    for (int k = 0; k < s.count; ++k) {
        auto draw = [&](int which) {
            return static_cast<double>(
                unit_float(mix64(mix64(context.seed, static_cast<std::uint64_t>(k)), static_cast<std::uint64_t>(which))));
        };
        const double length = s.shortest * std::pow(std::max(1e-6, s.longest / s.shortest), draw(0));
        const double height = s.lowest + (s.highest - s.lowest) * draw(1);
        const double turn = 6.283185307179586 * draw(2), push = 6.283185307179586 * draw(3);
        Wave wave{static_cast<int>(std::lround(context.tile.width / length * std::cos(turn))),
                  static_cast<int>(std::lround(context.tile.height / length * std::sin(turn))), draw(4), 0, 0};
        if (wave.across == 0 && wave.down == 0) wave.across = 1;
        wave.push_x = height * std::cos(push) * s.across / 100, wave.push_y = height * std::sin(push) * s.down / 100;
        waves.push_back(wave);
    }
    return waves;
}

double shape(Form form, double phase) {
    const double t = phase - std::floor(phase);
    switch (form) {
        case Form::sine: return std::sin(6.283185307179586 * t);
        case Form::triangle: return 1 - 4 * std::abs(t - 0.5);
        case Form::square: return t < 0.5 ? 1 : -1;
    }
    return 0;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const auto waves = waves_of(s, context);
    return resampled(
        *context.input,
        [&](int y, float* px, float* py) {
            for (int x = 0; x < size.width; ++x) {
                const double u = (x + 0.5) / size.width, v = (y + 0.5) / size.height;
                double dx = 0, dy = 0;
                for (const Wave& wave : waves) {
                    const double value = shape(s.form, wave.across * u + wave.down * v + wave.phase);
                    dx += wave.push_x * value, dy += wave.push_y * value;
                }
                px[x] = static_cast<float>(x + dx * context.scale_x());
                py[x] = static_cast<float>(y + dy * context.scale_y());
            }
        },
        *context.job);
}

}  // namespace

StepDescription describe_wave() {
    StepDescription base;
    base.id = "wave", base.title = "Wave", base.family = Family::bend;
    base.summary = "Bends the picture by a sum of waves that close at the tile edge.";
    base.seeded = true;
    base.headline = {"count", "longest"};
    const Range length{4, 16384, Unit::px, 1024, Scale::root}, height{0, 1024, Unit::px, 100, Scale::root},
        share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .count("count", "Count", &Settings::count, {1, 32, Unit::none, 12}, "How many waves are summed.")
        .choice("form", "Form", &Settings::form, {{"sine", "Sine"}, {"triangle", "Triangle"}, {"square", "Square"}},
                "The profile of each wave; square ones shift whole blocks.")
        .number("shortest", "Shortest", &Settings::shortest, length,
                "The shortest wavelength; each is bent to close at the tile edge.")
        .number("longest", "Longest", &Settings::longest, length, "The longest wavelength.")
        .number("lowest", "Lowest", &Settings::lowest, height, "The least height of a wave.")
        .number("highest", "Highest", &Settings::highest, height, "The greatest height of a wave.")
        .number("across", "Across", &Settings::across, share, "How much of the movement goes across.")
        .number("down", "Down", &Settings::down, share, "How much of the movement goes down.")
        .reach([](const Settings& s) { return s.count * std::max(s.lowest, s.highest); })
        .run(run);
}

}  // namespace loom
