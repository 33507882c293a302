// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <charconv>

#include "core/structures/drawn_form.h"
#include "core/structures/letters.h"

namespace loom {

namespace lettering_step {
namespace {

struct Settings : DrawnForm {
    std::string text = "Ostrel";
    std::string font = "Inter Bold";
    double size = 240, spacing = 0, leading = 120;
    Align align = Align::centre;
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

std::string notice(const Settings& s);

Bundle run(const Settings& s, const StepContext& context) {
    if (const std::string why = keeps_outlines(s) ? std::string() : notice(s); !why.empty())
        context.job->warn("Lettering: " + why);
    return s.drawn_with(transformed(outlines_of(s), s.place(context, s.size / 1000)), context);
}

std::string notice(const Settings& s) {
    if (has_font(s.font)) return "";
    if (keeps_outlines(s))
        return "This machine does not have the font " + s.font +
               ": the letters are those kept in the recipe. Changing text or font sets them in another.";
    return "This machine does not have the font " + s.font + ": the letters are set in another. Choose a font that is here.";
}

}  // namespace
}  // namespace lettering_step

StepDescription describe_lettering() {
    using namespace lettering_step;
    StepDescription base;
    base.id = "lettering", base.title = "Lettering", base.family = Family::make;
    base.summary = "Words, as a crisp form.";
    base.words = "text words type font letters writing sign label title";
    base.headline = {"text"};
    base.scratch_planes = 2;
    Describe<Settings> describe(std::move(base));
    describe.text("text", "Text", &Settings::text, "What is written; a new line begins a new line.")
        .lines()
        .text("font", "Font", &Settings::font,
              "Family and style, such as Inter Bold. The letters' outlines are kept inside the recipe, so that it looks the same "
              "on machines without the font.")
        .offers(font_faces)
        .number("size", "Size", &Settings::size, {4, 8192, Unit::px, 640, Scale::root}, "Size of the letters.")
        .number("spacing", "Spacing", &Settings::spacing, {-50, 200, Unit::percent, 60}, "Room between letters, of their size.")
        .number("leading", "Leading", &Settings::leading, {20, 400, Unit::percent, 200}, "From line to line, of their size.")
        .choice("align", "Align", &Settings::align, {{"left", "Left"}, {"centre", "Centre"}, {"right", "Right"}},
                "Where lines begin or end together.")
        .section("Place");
    describe_turn(describe_place(describe));
    return describe_fill_and_line(describe)
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
            Value outlines = SharedValue<Outline>(rounded ? std::move(*rounded) : Outline{});
            // No letters have no outlines, and what is as by default is not kept.
            if (outlines != Value(SharedValue<Outline>(Outline{}))) values["outlines"] = std::move(outlines);
            values["outlines-of"] = word_for(s);
        })
        .box("Lettering", "x", "y", "turn", "size", "", extent_of_settings)
        .notice(notice)
        .run(run);
}

}  // namespace loom
