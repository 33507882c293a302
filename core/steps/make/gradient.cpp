// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/structures/gradient_kernel.h"
#include "core/structures/ramp.h"

namespace loom {

namespace gradient_step {
namespace {

struct Settings {
    GradientForm form = GradientForm::linear;
    double from_x = 0, from_y = 0, to_x = 0, to_y = 100;
    double turns = 1;
    Stops stops{{0, {0.93f, 0.85f, 0.70f}, 0}, {0.55, {0.76f, 0.56f, 0.36f}, 0}, {1, {0.36f, 0.22f, 0.13f}, 0}};
    GradientRepeat repeat = GradientRepeat::mirror;
    bool close = false, copies = true;
    Interpolation interpolation = Interpolation::oklab;
};

/// Offset to the nearest copy of a point, both in tiles.
double nearest(double offset) { return offset - std::round(offset); }

GradientLine line_of(const Settings& s, const StepContext& context) {
    const Size size = context.size, tile = context.tile;
    const double dx = (s.to_x - s.from_x) / 100 * tile.width, dy = (s.to_y - s.from_y) / 100 * tile.height;
    const double length = std::max(1e-3, std::hypot(dx, dy));
    GradientLine line{};
    line.form = s.form, line.repeat = s.repeat;
    line.first = static_cast<float>(0.5 / size.width - s.from_x / 100), line.step = static_cast<float>(1.0 / size.width);
    line.width = static_cast<float>(tile.width), line.height = static_cast<float>(tile.height);
    line.dx = static_cast<float>(dx / length), line.dy = static_cast<float>(dy / length);
    line.length = static_cast<float>(length), line.turns = static_cast<float>(s.turns);
    line.copies = s.copies;
    return line;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const GradientLine line = line_of(s, context);
    const Ramp ramp(s.stops, s.interpolation, s.close);
    Plane red = context.plane(), green = context.plane(), blue = context.plane();
    const GrainField grains = stop_grains(context);
    context.for_rows([&](int first, int last) {
        const auto width = static_cast<std::size_t>(size.width);
        std::vector<float> places(width), noise(width), share(width);
        for (int y = first; y < last; ++y) {
            const double down = (y + 0.5) / size.height - s.from_y / 100;
            GradientLine here = line;
            here.down = static_cast<float>(s.form == GradientForm::linear || !s.copies ? down : nearest(down));
            gradient_places(here, size.width, places.data());
            float* const rows[3] = {red.row(y), green.row(y), blue.row(y)};
            ramp.colours(places.data(), size.width, rows[0], rows[1], rows[2], ramp.has_grain() ? share.data() : nullptr);
            if (!ramp.has_grain()) continue;
            grains.row(y, 0, size.width, noise.data());
            for (std::size_t x = 0; x < width; ++x) {
                const float add = noise[x] * share[x] * full_deviation;
                for (float* row : rows) row[x] += add;
            }
        }
    });
    return Bundle::of(std::move(red), std::move(green), std::move(blue));
}

/// Points that suit a form: where it begins or has its centre, where it ends, and whether it runs back into itself.
std::vector<std::pair<std::string_view, Value>> points(double from_x, double from_y, double to_x, double to_y, bool closed) {
    return {{"from-x", from_x}, {"from-y", from_y}, {"to-x", to_x}, {"to-y", to_y}, {"close", closed}};
}

/// A ramp that runs to its end and back, along the tile's sides where it runs askew; all the way round it runs into itself.
Values closing(const Settings& s) {
    if (s.form == GradientForm::angular)
        return {{"copies", true}, {"close", true}, {"turns", std::max(1.0, std::round(s.turns))}};
    if (s.form != GradientForm::linear) return s.copies ? Values{} : Values{{"copies", true}};
    const double across = s.to_x - s.from_x, down = s.to_y - s.from_y;
    const bool is_across = std::abs(across) > std::abs(down);
    return {{"to-x", is_across ? s.from_x + std::copysign(100.0, across) : s.from_x},
            {"to-y", is_across ? s.from_y : s.from_y + std::copysign(100.0, down)},
            {"repeat", std::string("mirror")},
            {"turns", std::max(2.0, 2 * std::round(s.turns / 2))}};
}

std::string notice(const Settings& s) {
    if (s.form != GradientForm::angular || s.stops.size() < 2) return {};
    // All the way round the ramp has to end as it began. Mirrored it does so after an even number of turns.
    if (s.turns != std::floor(s.turns)) return "Turns that are not whole leave a spoke; choose a whole number.";
    if (s.close || (s.repeat == GradientRepeat::mirror && s.turns == 2 * std::floor(s.turns / 2))) return {};
    const auto [first, last] =
        std::minmax_element(s.stops.begin(), s.stops.end(), [](const Stop& a, const Stop& b) { return a.place < b.place; });
    if (first->colour == last->colour) return {};
    return "The first and last stop differ, which leaves a spoke; close the loop to join them.";
}

}  // namespace
}  // namespace gradient_step

StepDescription describe_gradient() {
    using namespace gradient_step;
    StepDescription base;
    base.id = "gradient", base.title = "Gradient", base.family = Family::make;
    base.summary = "A ramp of colours, each stop with a grain of its own.";
    base.words = "ramp fade cone sky sunset blend transition shading";
    base.tiles = Tiling::depends;
    base.tiles_note =
        "radial ramps close while they repeat over the edge; linear ones when they pass the tile in whole turns, looped or "
        "mirrored";
    base.seeded = true;
    base.headline = {"form", "stops"};
    const Range share{-100, 200, Unit::percent, 100};
    return Describe<Settings>(std::move(base))
        .choice("form", "Form", &Settings::form,
                {{"linear", "Linear", points(0, 0, 0, 100, false)},
                 {"reflected", "Reflected", points(50, 50, 50, 100, false)},
                 {"radial", "Radial", points(50, 50, 50, 100, false)},
                 {"angular", "Angular", points(50, 50, 100, 50, true)},
                 {"square", "Square", points(50, 50, 50, 100, false)}},
                "How the ramp lies on the tile; choosing one puts its points where it begins well.")
        .visual()
        .number("from-x", "From x", &Settings::from_x, share, "Where the ramp begins, or its centre, across the tile.")
        .number("from-y", "From y", &Settings::from_y, share, "Where the ramp begins, or its centre, down the tile.")
        .number("to-x", "To x", &Settings::to_x, share,
                "Where the ramp ends, across the tile; for angular ramps the direction it starts in.")
        .number("to-y", "To y", &Settings::to_y, share,
                "Where the ramp ends, down the tile; for angular ramps the direction it starts in.")
        .number("turns", "Turns", &Settings::turns, {0.05, 64, Unit::none, 12}, "How often the ramp is run through on its way.")
        .stops("stops", "Stops", &Settings::stops, "The colours along the ramp; each has a place and a grain amount.")
        .choice("repeat", "Beyond the ends", &Settings::repeat, {{"once", "Hold"}, {"loop", "Loop"}, {"mirror", "Mirror"}},
                "What comes after the last stop: its colour held, the ramp again, or the ramp backwards.")
        .visual({{"from-y", 30.0}, {"to-y", 60.0}})
        .toggle("close", "Close the loop", &Settings::close,
                "Lets the last stop run back into the first, so that a loop shows no spoke.")
        .toggle("copies", "Repeats over the edge", &Settings::copies,
                "Runs round the nearest copy of its centre; off, it has one centre and ends where the tile does.",
                !When{"form", {"linear"}})
        .choice(interpolation_id, interpolation_title, &Settings::interpolation, interpolation_choices(), interpolation_help)
        .shape([](const Settings&, Shape) {
            return Shape{3, false};
        })
        .point("From", "from-x", "from-y")
        .point("To", "to-x", "to-y")
        .draws([](const Settings& s) {
            return std::any_of(s.stops.begin(), s.stops.end(), [](const Stop& stop) { return stop.grain > 0; });
        })
        .notice(notice)
        .closing(closing)
        .pixelwise()
        .run(run);
}

}  // namespace loom
