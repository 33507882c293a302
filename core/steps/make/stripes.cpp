// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"

namespace loom {

namespace {

enum class Form { sine, triangle, saw, bar, check, dots };
enum class By { size, counts };

struct Settings {
    Form form = Form::bar;
    By by = By::size;
    double size = 64, angle = 0;
    int count_x = 8, count_y = 8;
    double duty = 50;
    double softness = 2;
};

constexpr double pi = 3.14159265358979323846;

/// Whole waves across and down the tile: their crests are straight lines that close at its edges.
struct Waves {
    int across = 0, down = 0;

    double period_px(Size tile) const {
        return 1 / std::max(1e-9, std::hypot(static_cast<double>(across) / tile.width, static_cast<double>(down) / tile.height));
    }
    /// Phase of a pixel's middle in waves, 0..1, from whole numbers and so exactly periodic.
    double phase(int x, int y, Size size) const {
        auto part = [](int waves, int place, int count) {
            const std::int64_t whole = static_cast<std::int64_t>(waves) * (2 * place + 1), turn = 2LL * count;
            return static_cast<double>(((whole % turn) + turn) % turn) / static_cast<double>(turn);
        };
        const double sum = part(across, x, size.width) + part(down, y, size.height);
        return sum >= 1 ? sum - 1 : sum;
    }
};

struct Figure {
    Waves first, second;  // the second crosses the first, for checks and dots
};

Figure figure_of(const Settings& s, Size tile) {
    const bool crossed = s.form == Form::check || s.form == Form::dots;
    if (s.by == By::counts) {
        if (crossed) return {{std::max(1, s.count_x), 0}, {0, std::max(1, s.count_y)}};
        const bool none = s.count_x == 0 && s.count_y == 0;
        return {{s.count_x, none ? 1 : s.count_y}, {}};
    }
    auto waves = [&](double degrees) {
        // Crests run along the angle, so waves run across it.
        const double turn = degrees * pi / 180;
        Waves w{static_cast<int>(std::lround(tile.width * std::sin(turn) / s.size)),
                static_cast<int>(std::lround(tile.height * std::cos(turn) / s.size))};
        if (w.across == 0 && w.down == 0) (std::abs(std::sin(turn)) > 0.7 ? w.across : w.down) = 1;
        return w;
    };
    Figure figure{waves(s.angle), {}};
    if (crossed) {
        figure.second = waves(s.angle + 90);
        // Parallel waves would leave lines where there should be squares.
        if (figure.first.across * figure.second.down == figure.first.down * figure.second.across)
            figure.second = figure.first.across != 0 ? Waves{0, 1} : Waves{1, 0};
    }
    return figure;
}

/// 1 inside, 0 outside, for a distance in design pixels from the edge (positive inside).
float edge(double inside, double soft) { return static_cast<float>(std::clamp(0.5 + inside / soft, 0.0, 1.0)); }

/// Distance into the bar of a wave, in waves; the bar lies round phase 0.5.
double into_bar(double phase, double duty) { return duty / 2 - std::abs(phase - 0.5); }

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const Figure figure = figure_of(s, context.tile);
    const double period = figure.first.period_px(context.tile), other = figure.second.period_px(context.tile);
    // At least a pixel soft, so that slanted edges have no steps.
    const double soft = std::max(s.softness, 1 / std::sqrt(context.scale_x() * context.scale_y()));
    const double duty = s.duty / 100;
    Plane out(size);
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            float* row = out.row(y);
            for (int x = 0; x < size.width; ++x) {
                const double t = figure.first.phase(x, y, size);
                switch (s.form) {
                    case Form::sine: row[x] = static_cast<float>(0.5 - 0.5 * std::cos(2 * pi * t)); break;
                    case Form::triangle: row[x] = static_cast<float>(1 - std::abs(2 * t - 1)); break;
                    case Form::saw: {
                        // The way back takes as long as the softness says.
                        const double back = std::min(0.5, soft / period);
                        row[x] = static_cast<float>(t < 1 - back ? t / (1 - back) : (1 - t) / back);
                        break;
                    }
                    case Form::bar: row[x] = edge(into_bar(t, duty) * period, soft); break;
                    case Form::check: {
                        const float a = edge(into_bar(t, duty) * period, soft);
                        const float b = edge(into_bar(figure.second.phase(x, y, size), duty) * other, soft);
                        row[x] = a + b - 2 * a * b;
                        break;
                    }
                    case Form::dots: {
                        const double dx = (t - 0.5) * period, dy = (figure.second.phase(x, y, size) - 0.5) * other;
                        // The duty is the share of the area that dots take, while they do not touch.
                        row[x] = edge(std::sqrt(duty * period * other / pi) - std::hypot(dx, dy), soft);
                        break;
                    }
                }
            }
        }
    });
    return Bundle::of(std::move(out));
}

}  // namespace

StepDescription describe_stripes() {
    StepDescription base;
    base.id = "stripes", base.title = "Stripes and checks", base.family = Family::make;
    base.summary = "Regular figures: stripes of several profiles, checks and dots.";
    base.headline = {"form", "size"};
    const When by_size{"by", {"size"}}, by_counts{"by", {"counts"}};
    return Describe<Settings>(std::move(base))
        .choice(
            "form", "Form", &Settings::form,
            {{"sine", "Sine"}, {"triangle", "Triangle"}, {"saw", "Saw"}, {"bar", "Bar"}, {"check", "Check"}, {"dots", "Dots"}},
            "The profile of the stripes, or what two crossing sets of them make.")
        .choice("by", "Laid by", &Settings::by, {{"size", "Size and angle"}, {"counts", "Counts"}},
                "Whether the size and the angle are given, or how many go across and down.")
        .number("size", "Size", &Settings::size, {2, 8192, Unit::px, 512, Scale::root},
                "Width of one stripe and its gap; rounded so that whole ones fill the tile.", by_size)
        .number("angle", "Angle", &Settings::angle, {-360, 360, Unit::degrees, 180},
                "The way along the stripes; bent to the nearest slope that closes the tile.", by_size)
        .count("count-x", "Count across", &Settings::count_x, {0, 4096, Unit::none, 64, Scale::root},
               "Stripes met on the way across.", by_counts)
        .count("count-y", "Count down", &Settings::count_y, {0, 4096, Unit::none, 64, Scale::root},
               "Stripes met on the way down.", by_counts)
        .number("duty", "Light share", &Settings::duty, {0, 100, Unit::percent},
                "How much of each stripe, or of the area of dots, is light.", {"form", {"bar", "check", "dots"}})
        .number("softness", "Softness", &Settings::softness, {0, 1024, Unit::px, 64, Scale::root}, "Over how far edges fade.",
                {"form", {"saw", "bar", "check", "dots"}})
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .rounded([](const Settings& s, Size tile) {
            if (s.by == By::counts) return std::string();
            const Waves waves = figure_of(s, tile).first;
            const double size = waves.period_px(tile);
            const double angle =
                std::atan2(static_cast<double>(waves.across) / tile.width, static_cast<double>(waves.down) / tile.height) * 180 /
                pi;
            const double off = std::remainder(angle - s.angle, 180);
            if (std::abs(size - s.size) < 0.05 && std::abs(off) < 0.05) return std::string();
            return "The tile closes at " + write_number(std::round(size * 10) / 10) + " px and " +
                   write_number(std::round((s.angle + off) * 10) / 10) + " degrees.";
        })
        .direction("Stripes", "angle")
        .run(run);
}

}  // namespace loom
