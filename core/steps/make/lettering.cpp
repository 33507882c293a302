// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <charconv>

#include "core/catalogue/describe.h"
#include "core/structures/drawn.h"
#include "core/structures/filled.h"
#include "core/structures/forms.h"
#include "core/structures/letters.h"

namespace loom {

namespace {

struct Settings {
    std::string text = "Ostrel";
    std::string font = "Inter Bold";
    double size = 240, spacing = 0, leading = 120;
    Align align = Align::centre;
    double x = 50, y = 50, turn = 0;
    double line = 0;
    bool fill = true;
    Colour colour{1, 1, 1}, line_colour{1, 1, 1};
    Outline outlines;
    std::string outlines_of;
};

LetterSetting setting_of(const Settings& s) { return {s.text, s.font, s.spacing, s.leading, s.align}; }

/// What the outlines depend on, in a word; size, place and turn are not among it.
std::string word_for(const Settings& s) {
    Key key;
    key.add(std::string_view(s.text)).add(std::string_view(s.font)).add(s.spacing).add(s.leading);
    key.add(static_cast<std::uint64_t>(s.align));
    char digits[17] = {};
    const auto end = std::to_chars(digits, digits + 16, key.low, 16).ptr;
    return {digits, end};
}

bool keeps_outlines(const Settings& s) { return s.outlines_of == word_for(s); }

/// Kept ones, or else set with what fonts this machine has.
Outline outlines_of(const Settings& s) { return keeps_outlines(s) ? s.outlines : set_letters(setting_of(s)); }

Extent extent_of_settings(const Settings& s) {
    Extent extent = extent_of(outlines_of(s));
    const double scale = s.size / 1000;
    return {extent.left * scale, extent.top * scale, extent.right * scale, extent.bottom * scale};
}

Bundle run(const Settings& s, const StepContext& context) {
    const Outline letters = transformed(outlines_of(s), placing(s.size / 1000, s.size / 1000, s.turn,
                                                                s.x / 100 * context.tile.width, s.y / 100 * context.tile.height));
    const LineStyle style{s.line};
    const PlaneRef inside = s.fill ? share(drawn(letters, nullptr, context)) : nullptr;
    const PlaneRef along = s.line > 0 ? share(drawn(letters, &style, context)) : nullptr;
    return filled(inside, s.colour, along, s.line_colour, context);
}

std::string notice(const Settings& s) {
    if (has_font(s.font)) return "";
    if (keeps_outlines(s))
        return "This machine does not have the font " + s.font +
               ": the letters are those kept in the recipe. Changing text or font sets them in another.";
    return "This machine does not have the font " + s.font + ": the letters are set in another. Choose a font that is here.";
}

}  // namespace

StepDescription describe_lettering() {
    StepDescription base;
    base.id = "lettering", base.title = "Lettering", base.family = Family::make;
    base.summary = "Words, as a crisp form.";
    base.headline = {"text"};
    base.scratch_planes = 2;
    return Describe<Settings>(std::move(base))
        .text("text", "Text", &Settings::text, "What is written; a new line begins a new line.")
        .lines()
        .text("font", "Font", &Settings::font,
              "Family and style, such as Inter Bold. The letters' outlines are kept inside the recipe, so that it looks the same "
              "on "
              "machines without the font.")
        .offers(font_families)
        .number("size", "Size", &Settings::size, {4, 8192, Unit::px, 640, Scale::root}, "Size of the letters.")
        .number("spacing", "Spacing", &Settings::spacing, {-50, 200, Unit::percent, 60}, "Room between letters, of their size.")
        .number("leading", "Leading", &Settings::leading, {20, 400, Unit::percent, 200}, "From line to line, of their size.")
        .choice("align", "Align", &Settings::align, {{"left", "Left"}, {"centre", "Centre"}, {"right", "Right"}},
                "Where lines begin or end together.")
        .section("Place")
        .number("x", "Across", &Settings::x, {0, 100, Unit::percent}, "Place of its middle from the left.")
        .number("y", "Down", &Settings::y, {0, 100, Unit::percent}, "Place of its middle from the top.")
        .pair("Place", "x", "y")
        .number("turn", "Turn", &Settings::turn, {-180, 180, Unit::degrees}, "Turns it against the clock.")
        .section("Fill and line")
        .toggle("fill", "Fill", &Settings::fill, "Fills the letters; without it their line alone is drawn.")
        .colour("colour", "Colour", &Settings::colour, "Colour of the letters.")
        .number("line", "Line", &Settings::line, {0, 1024, Unit::px, 64, Scale::root},
                "Width of a line along their edges, half of it inside; 0 is none.")
        .colour("line-colour", "Line colour", &Settings::line_colour, "Colour of the line.")
        .outline("outlines", "Outlines", &Settings::outlines, "The letters' outlines, in thousandths of their size.")
        .own()
        .text("outlines-of", "Outlines of", &Settings::outlines_of, "A word for what they were set from.")
        .own()
        .settle([](const Settings& s, Values& values) {
            if (keeps_outlines(s)) return;
            // Another font's letters are shown, and not kept for those that were meant.
            values.erase("outlines"), values.erase("outlines-of");
            if (!has_font(s.font)) return;
            // Rounded as files hold them, so that a recipe is the same before and after it was saved.
            auto rounded = read_outline(write_outline(set_letters(setting_of(s))));
            values["outlines"] = SharedValue<Outline>(rounded ? std::move(*rounded) : Outline{});
            values["outlines-of"] = word_for(s);
        })
        .box("Lettering", "x", "y", "turn", "size", "", extent_of_settings)
        .notice(notice)
        .shape([](const Settings& s, Shape) { return filled_shape(s.colour, s.line_colour); })
        .pixelwise()
        .run(run);
}

}  // namespace loom
