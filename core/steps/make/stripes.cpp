// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <vector>

#include "core/catalogue/describe.h"
#include "core/structures/stripes_kernel.h"

namespace loom {

namespace stripes_step {
namespace {

enum class By { size, counts };

struct Settings {
    StripeForm form = StripeForm::bar;
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
    /// Phases of the columns' (or rows') middles in waves, 0..1, from whole numbers and so exactly periodic.
    static std::vector<float> phases(int waves, int count) {
        std::vector<float> result(static_cast<std::size_t>(count));
        const std::int64_t turn = 2LL * count;
        for (int place = 0; place < count; ++place) {
            const std::int64_t whole = static_cast<std::int64_t>(waves) * (2 * place + 1);
            result[static_cast<std::size_t>(place)] =
                static_cast<float>(static_cast<double>(((whole % turn) + turn) % turn) / static_cast<double>(turn));
        }
        return result;
    }
};

struct Figure {
    Waves first, second;  // the second crosses the first, for checks and dots
};

Figure figure_of(const Settings& s, Size tile) {
    const bool crossed = s.form == StripeForm::check || s.form == StripeForm::dots;
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

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const Figure figure = figure_of(s, context.tile);
    const auto columns = Waves::phases(figure.first.across, size.width), rows = Waves::phases(figure.first.down, size.height),
               other_columns = Waves::phases(figure.second.across, size.width),
               other_rows = Waves::phases(figure.second.down, size.height);
    StripeLine line{};
    line.form = s.form;
    line.first = columns.data(), line.second = other_columns.data();
    line.period = static_cast<float>(figure.first.period_px(context.tile));
    line.second_period = static_cast<float>(figure.second.period_px(context.tile));
    // At least a pixel soft, so that slanted edges have no steps; what is smaller than designed is averaged over its pixels.
    const double pixel = 1 / std::sqrt(context.scale_x() * context.scale_y());
    line.soft = static_cast<float>(pixel > 1 ? std::hypot(s.softness, pixel) : std::max(s.softness, pixel));
    line.duty = static_cast<float>(s.duty / 100);
    Plane out = context.plane();
    context.for_rows([&](int first, int last) {
        for (int y = first; y < last; ++y) {
            StripeLine here = line;
            here.first_row = rows[static_cast<std::size_t>(y)], here.second_row = other_rows[static_cast<std::size_t>(y)];
            stripe_row(here, size.width, out.row(y));
        }
    });
    return Bundle::of(std::move(out));
}

}  // namespace
}  // namespace stripes_step

StepDescription describe_stripes() {
    using namespace stripes_step;
    StepDescription base;
    base.id = "stripes", base.title = "Stripes and checks", base.family = Family::make;
    base.summary = "Regular figures: stripes of several profiles, checks and dots.";
    base.words = "lines bars check chequer plaid squares grid ribs";
    base.headline = {"form", "size"};
    const When by_size{"by", {"size"}}, by_counts{"by", {"counts"}};
    return Describe<Settings>(std::move(base))
        .choice(
            "form", "Form", &Settings::form,
            {{"sine", "Sine"}, {"triangle", "Triangle"}, {"saw", "Saw"}, {"bar", "Bar"}, {"check", "Check"}, {"dots", "Dots"}},
            "The profile of the stripes, or what two crossing sets of them make.")
        .visual({{"size", 64.0}})
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
        .pixelwise()
        .run(run);
}

}  // namespace loom
