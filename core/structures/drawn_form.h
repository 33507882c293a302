// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// For sources that draw outlines: where these stand, and how they are filled and lined.
#pragma once

#include "core/catalogue/describe.h"
#include "core/structures/drawn.h"
#include "core/structures/filled.h"
#include "core/structures/forms.h"
#include "core/structures/meeting.h"

namespace loom {

/// Settings of theirs begin with this.
struct DrawnForm {
    double x = 50, y = 50;  ///< per cent of the tile
    double turn = 0;
    bool fill = true;
    double line = 0;
    Colour colour{1, 1, 1}, line_colour{1, 1, 1};
    Meets meets = Meets::alone;

    /// In design pixels, from about the origin and at so many times its size.
    Affine place(const StepContext& context, double scale = 1) const {
        return placing(scale, scale, turn, x / 100 * context.tile.width, y / 100 * context.tile.height);
    }
    /// `outline` in design pixels of the tile.
    Bundle drawn_with(const Outline& outline, const StepContext& context) const {
        const LineStyle style{line};
        const PlaneRef inside = fill ? share(drawn(outline, nullptr, context)) : nullptr;
        const PlaneRef along = line > 0 ? share(drawn(outline, &style, context)) : nullptr;
        return met_form(meets, filled(inside, colour, along, line_colour, context), context);
    }
};

/// The parameters "x" and "y".
template <class Settings>
Describe<Settings>& describe_place(Describe<Settings>& describe) {
    return describe.number("x", "Across", &Settings::x, {0, 100, Unit::percent}, "Place of its middle from the left.")
        .number("y", "Down", &Settings::y, {0, 100, Unit::percent}, "Place of its middle from the top.")
        .pair("Place", "x", "y");
}

/// The parameter "turn".
template <class Settings>
Describe<Settings>& describe_turn(Describe<Settings>& describe) {
    return describe.number("turn", "Turn", &Settings::turn, {-180, 180, Unit::degrees}, "Turns it against the clock.");
}

/// A section of its own, how it runs, and what comes of that; `lined` where it has an outline to draw.
template <class Settings>
Describe<Settings>& describe_fill_and_line(Describe<Settings>& describe, const When& lined = {}) {
    describe.section("Fill and line")
        .toggle("fill", "Fill", &Settings::fill, "Fills it; without it the line alone is drawn.", lined)
        .colour("colour", "Colour", &Settings::colour, "Colour of the fill.")
        .number("line", "Line", &Settings::line, {0, 1024, Unit::px, 64, Scale::root},
                "Width of a line along its edge, half of it inside; 0 is none.", lined)
        .colour("line-colour", "Line colour", &Settings::line_colour, "Colour of the line.", lined)
        .shape([](const Settings& s, Shape in) { return met_shape(s.meets, filled_shape(s.colour, s.line_colour), in); })
        .pixelwise();
    return describe_meeting(describe.section("Form"));
}

}  // namespace loom
