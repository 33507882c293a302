// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>

#include "core/catalogue/describe.h"
#include "core/steps/all_steps.h"
#include "core/steps/ramp.h"

namespace loom {

namespace {

enum class Form { linear, reflected, radial, angular, square };
enum class Repeat { once, loop, mirror };

struct Settings {
    Form form = Form::linear;
    double from_x = 0, from_y = 0, to_x = 0, to_y = 100;
    double turns = 1;
    Stops stops{{0, {0.93f, 0.85f, 0.70f}, 0}, {0.55, {0.76f, 0.56f, 0.36f}, 0}, {1, {0.36f, 0.22f, 0.13f}, 0}};
    Repeat repeat = Repeat::mirror;
    bool close = false;
    Interpolation interpolation = Interpolation::oklab;
};

constexpr double pi = 3.14159265358979323846;

/// Offset to the nearest copy of a point, both in tiles.
double nearest(double offset) { return offset - std::round(offset); }

/// Place along the ramp before repeating, for offsets in design pixels.
class Measure {
public:
    Measure(const Settings& s, Size tile) : s_(s), tile_(tile) {
        dx_ = (s.to_x - s.from_x) / 100 * tile.width;
        dy_ = (s.to_y - s.from_y) / 100 * tile.height;
        length_ = std::max(1e-3, std::hypot(dx_, dy_));
        dx_ /= length_, dy_ /= length_;
    }
    double at(double u, double v) const {
        double x = u - s_.from_x / 100, y = v - s_.from_y / 100;
        if (s_.form != Form::linear) x = nearest(x), y = nearest(y);
        x *= tile_.width, y *= tile_.height;
        const double along = x * dx_ + y * dy_, across = y * dx_ - x * dy_;
        switch (s_.form) {
            case Form::linear: return along / length_;
            case Form::reflected: return std::abs(along) / length_;
            case Form::radial: return std::hypot(x, y) / length_;
            case Form::square: return std::max(std::abs(along), std::abs(across)) / length_;
            case Form::angular: {
                const double turn = std::atan2(across, along) / (2 * pi);
                return turn < 0 ? turn + 1 : turn;
            }
        }
        return 0;
    }

private:
    const Settings& s_;
    Size tile_;
    double dx_, dy_, length_;
};

double repeated(double t, Repeat repeat, bool around) {
    if (repeat == Repeat::mirror) {
        const double phase = t - 2 * std::floor(t / 2);
        return phase <= 1 ? phase : 2 - phase;
    }
    if (repeat == Repeat::loop || around) return t - std::floor(t);
    return t;
}

Bundle run(const Settings& s, const StepContext& context) {
    const Size size = context.size;
    const Measure measure(s, context.tile);
    const Ramp ramp(s.stops, s.interpolation, s.close);
    Plane red(size), green(size), blue(size);
    const GrainField grains = stop_grains(context);
    for_rows(*context.job, size.height, [&](int first, int last) {
        std::vector<float> noise(static_cast<std::size_t>(size.width));
        for (int y = first; y < last; ++y) {
            if (ramp.has_grain()) grains.row(y, 0, size.width, noise.data());
            for (int x = 0; x < size.width; ++x) {
                const double t = measure.at((x + 0.5) / size.width, (y + 0.5) / size.height) * s.turns;
                const auto place = static_cast<float>(repeated(t, s.repeat, s.form == Form::angular));
                const Colour colour = ramp.colour(place);
                const float add = ramp.has_grain() ? noise[static_cast<std::size_t>(x)] * ramp.grain(place) * full_deviation : 0;
                red.row(y)[x] = colour.red + add;
                green.row(y)[x] = colour.green + add;
                blue.row(y)[x] = colour.blue + add;
            }
        }
    });
    return Bundle::of(std::move(red), std::move(green), std::move(blue));
}

std::string notice(const Settings& s) {
    if (s.form != Form::angular || s.close || s.stops.size() < 2 || s.repeat == Repeat::mirror) return {};
    const auto [first, last] =
        std::minmax_element(s.stops.begin(), s.stops.end(), [](const Stop& a, const Stop& b) { return a.place < b.place; });
    if (first->colour == last->colour) return {};
    return "The first and last stop differ, which leaves a spoke; close the loop to join them.";
}

}  // namespace

StepDescription describe_gradient() {
    StepDescription base;
    base.id = "gradient", base.title = "Gradient", base.family = Family::make;
    base.summary = "A ramp of colours, each stop with a grain of its own.";
    base.tiles = Tiling::depends;
    base.tiles_note = "radial ramps always close; linear ones when they pass the tile in whole turns, looped or mirrored";
    base.seeded = true;
    base.headline = {"form", "stops"};
    const Range share{-100, 200, Unit::percent, 100};
    return Describe<Settings>(std::move(base))
        .choice("form", "Form", &Settings::form,
                {{"linear", "Linear"},
                 {"reflected", "Reflected"},
                 {"radial", "Radial"},
                 {"angular", "Angular"},
                 {"square", "Square"}},
                "How the ramp lies on the tile.")
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
        .toggle("close", "Close the loop", &Settings::close,
                "Lets the last stop run back into the first, so that a loop shows no spoke.")
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
        .run(run);
}

}  // namespace loom
