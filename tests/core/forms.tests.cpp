// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Shapes and letters: what they cover against Cairo's own drawing, across the edges, and outlines as text.
#include <cairo.h>
#include <pango/pangocairo.h>

#include <cmath>
#include <cstdio>

#include "core/catalogue/value_kind.h"
#include "core/files/kept_picture.h"
#include "core/files/picture.h"
#include "core/recipe/assets.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "core/structures/drawn.h"
#include "core/structures/forms.h"
#include "core/structures/letters.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{120, 90};

/// Draws on a sheet of three by three tiles and lays the nine on each other: how it should look where it goes over an edge.
template <class Draw>
Plane by_cairo(Draw&& draw) {
    const int w = 3 * size.width, h = 3 * size.height;
    cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_A8, w, h);
    cairo_t* cairo = cairo_create(surface);
    cairo_set_tolerance(cairo, flattening_px);
    cairo_translate(cairo, size.width, size.height);
    draw(cairo);
    cairo_surface_flush(surface);
    Plane out(size, 0.0f);
    const unsigned char* bytes = cairo_image_surface_get_data(surface);
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            float& to = out.row(y % size.height)[x % size.width];
            to = std::min(1.0f, to + static_cast<float>(bytes[y * cairo_image_surface_get_stride(surface) + x]) / 255.0f);
        }
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
    return out;
}

}  // namespace

TEST_CASE("forms cover what Cairo draws between the same corners, to one step of 255", "[shape][cairo]") {
    // Within the tile to the step; over two edges as finely as Cairo looks where several copies share a row (fifteen lines
    // through a pixel, where it does not take the area).
    for (const auto& [x, y, most] : {std::tuple{61.3, 44.6, 1.01 / 255}, {113.0, 70.0, 1.0 / 15}}) {
        const double cx = x, cy = y;
        const auto shape = [&](Values more) {
            const Values place{{"x", cx / 1.2}, {"y", cy / 0.9}, {"width", 44.0}, {"height", 30.0}, {"turn", 30.0}};
            for (const auto& [id, value] : place) more.emplace(id, value);
            return applied("shape", more, nullptr, size);
        };
        // Against the clock, where y points down.
        const auto corners = [&](cairo_t* c) {
            const double cosine = std::cos(30 * pi / 180), sine = std::sin(30 * pi / 180);
            for (const auto& [dx, dy] : {std::pair{-22.0, -15.0}, {22.0, -15.0}, {22.0, 15.0}, {-22.0, 15.0}})
                cairo_line_to(c, cx + dx * cosine + dy * sine, cy - dx * sine + dy * cosine);
            cairo_close_path(c);
        };
        const Plane filled = by_cairo([&](cairo_t* c) {
            corners(c);
            cairo_fill(c);
        });
        CHECK(greatest_difference(*shape({}).coverage, filled) <= most);
        const Plane line = by_cairo([&](cairo_t* c) {
            corners(c);
            cairo_set_line_join(c, CAIRO_LINE_JOIN_ROUND);
            cairo_set_line_width(c, 5);
            cairo_stroke(c);
        });
        CHECK(greatest_difference(*shape({{"fill", false}, {"line", 5.0}}).coverage, line) <= most);
    }
}

TEST_CASE("round forms cover what is within them, as finely as Cairo looks", "[shape]") {
    // Cairo takes fifteen lines through a pixel.
    const auto inside = [&](const char* form, double px, double py) {
        const double dx = std::abs(std::remainder(px - 113, 120.0)), dy = std::abs(std::remainder(py - 70, 90.0));
        if (std::string(form) == "ellipse") return std::hypot(dx / 22, dy / 15) <= 1;
        const double rx = std::max(0.0, dx - 16), ry = std::max(0.0, dy - 9);
        return std::hypot(rx, ry) <= 6;
    };
    for (const char* form : {"ellipse", "rectangle"}) {
        const Bundle made = applied(
            "shape",
            {{"form", std::string(form)}, {"corner", 6.0}, {"x", 113 / 1.2}, {"y", 70 / 0.9}, {"width", 44.0}, {"height", 30.0}},
            nullptr, size);
        double worst = 0, sum = 0;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                int count = 0;
                for (int n = 0; n < 32; ++n)
                    for (int m = 0; m < 32; ++m) count += inside(form, x + (m + 0.5) / 32, y + (n + 0.5) / 32);
                const double off = count / 1024.0 - static_cast<double>(made.coverage->at(x, y));
                worst = std::max(worst, std::abs(off)), sum += off;
            }
        INFO(form);
        CHECK(worst < 1.0 / 15);
        CHECK(std::abs(sum) < 0.5);
    }
}

TEST_CASE("polygons and stars fill the size that they are given", "[shape]") {
    for (const char* form : {"polygon", "star"})
        for (double count : {3.0, 6.0, 9.0}) {
            const Bundle made = applied(
                "shape", {{"form", std::string(form)}, {"sides", count}, {"points", count}, {"width", 60.0}, {"height", 40.0}},
                nullptr, size);
            int left = 1000, right = -1, top = 1000, bottom = -1;
            for (int y = 0; y < size.height; ++y)
                for (int x = 0; x < size.width; ++x)
                    if (made.coverage->at(x, y) > 0.02f)
                        left = std::min(left, x), right = std::max(right, x), top = std::min(top, y),
                        bottom = std::max(bottom, y);
            INFO(form << " " << count);
            CHECK(std::abs(left - 30) <= 2);
            CHECK(std::abs(right - 89) <= 2);
            CHECK(std::abs(top - 25) <= 2);
            CHECK(std::abs(bottom - 64) <= 2);
        }
}

TEST_CASE("a form larger than the tile covers it once, without seams between its copies", "[shape][wraps]") {
    const Bundle made = applied("shape", {{"width", 500.0}, {"height", 301.5}, {"x", 37.3}, {"turn", 17.0}}, nullptr, size);
    for (std::size_t i = 0; i < size.pixels(); ++i) CHECK(made.coverage->data()[i] == 1);
    // One exactly as wide as the tile, between pixels: its two ends meet.
    const Bundle band = applied("shape", {{"width", 120.0}, {"height", 20.0}, {"x", 33.37}}, nullptr, size);
    for (int x = 0; x < size.width; ++x) CHECK(band.coverage->at(x, 45) == 1);
}

TEST_CASE("outlines come back from their text, and what is none is refused", "[outline]") {
    const char* text = "M 1 2 L 10 2 C 12 2 14 4 14.5 9 L -3.25 9 Z M 0 0 C 1 1 2 2 3 0";
    const auto outline = read_outline(text);
    REQUIRE(outline);
    CHECK(outline->size() == 2);
    CHECK(outline->front().closed);
    CHECK_FALSE(outline->back().closed);
    CHECK(write_outline(*outline) == text);
    CHECK(read_outline(write_outline(*outline)) == outline);
    // Pairs that follow a letter go on with it; a curve back to the beginning is the first node's own.
    CHECK(write_outline(*read_outline("M 0 0 5 0 5,5 Z")) == "M 0 0 L 5 0 L 5 5 Z");
    CHECK(write_outline(*read_outline("M 0 0 L 5 0 C 5 3 3 5 0 0 Z")) == "M 0 0 L 5 0 C 5 3 3 5 0 0 Z");
    CHECK(read_outline("")->empty());
    for (const char* wrong :
         {"L 1 1", "M 1", "M 1 1 L", "M 1 1 Q 2 2 3 3", "M 1 1 Z 4", "m 1 1", "M 1 1 L 1e999 0", "M 1 1 C 2 2 3 3", "hello"}) {
        INFO(wrong);
        CHECK_FALSE(read_outline(wrong));
    }
    std::string many = "M 0 0";
    for (int k = 0; k < 30000; ++k) many += " L 1 1";
    const auto read = outline_kind().parse(many);
    CHECK((!read || refuses(*find_step("shape")->parameter("outline"), *read)));
}

TEST_CASE("letters cover what Pango and Cairo draw", "[lettering][cairo]") {
    const Size large{400, 160};
    const Bundle made = applied(
        "lettering", {{"text", std::string("Halt")}, {"font", std::string("Inter Bold")}, {"size", 100.0}}, nullptr, large);
    cairo_surface_t* surface = cairo_image_surface_create(CAIRO_FORMAT_A8, large.width, large.height);
    cairo_t* cairo = cairo_create(surface);
    cairo_set_tolerance(cairo, flattening_px);
    PangoLayout* layout = pango_cairo_create_layout(cairo);
    cairo_font_options_t* options = cairo_font_options_create();
    cairo_font_options_set_hint_style(options, CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(options, CAIRO_HINT_METRICS_OFF);
    pango_cairo_context_set_font_options(pango_layout_get_context(layout), options);
    pango_context_set_round_glyph_positions(pango_layout_get_context(layout), FALSE);
    PangoFontDescription* font = pango_font_description_from_string("Inter Bold");
    pango_font_description_set_absolute_size(font, 100 * PANGO_SCALE);
    pango_layout_set_font_description(layout, font);
    pango_layout_set_text(layout, "Halt", -1);
    int width = 0;
    pango_layout_get_size(layout, &width, nullptr);
    cairo_move_to(cairo, 200 - width / 2.0 / PANGO_SCALE, 80 + 36);
    pango_cairo_layout_line_path(cairo, pango_layout_get_line_readonly(layout, 0));
    cairo_fill(cairo);
    cairo_surface_flush(surface);
    double sum = 0, worst = 0, off = 0;
    for (int y = 0; y < large.height; ++y)
        for (int x = 0; x < large.width; ++x) {
            const double theirs = cairo_image_surface_get_data(surface)[y * cairo_image_surface_get_stride(surface) + x] / 255.0;
            sum += theirs;
            off += std::abs(theirs - static_cast<double>(made.coverage->at(x, y)));
            worst = std::max(worst, std::abs(theirs - static_cast<double>(made.coverage->at(x, y))));
        }
    CHECK(sum > 3000);
    // Theirs is scaled from the font's own units at once, ours from thousandths of the size; Cairo takes fifteen lines through a
    // pixel.
    CHECK(worst < 1.0 / 15);
    CHECK(off / sum < 0.003);
    cairo_font_options_destroy(options);
    pango_font_description_free(font);
    g_object_unref(layout);
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
}

TEST_CASE("texts of all kinds are set, and none of them fails", "[lettering]") {
    const auto covered = [](const std::string& text) {
        return mean_of(*applied("lettering", {{"text", text}, {"size", 30.0}}, nullptr, {240, 120}).coverage);
    };
    CHECK(covered("") == 0);
    CHECK(covered("  \n ") == 0);
    CHECK(covered("Ostrel\nHalt") > 0.02);
    CHECK(covered("שלום עולם") > 0.01);               // right to left
    CHECK(covered("e\u0301a\u0308n\u0303") > 0.005);  // combining
    // What is no text stands as what a face has for that, or as nothing; words beside it stay.
    CHECK(covered(std::string("Ostrel \x01\x02\xff\xfe", 11)) > 0.01);
    CHECK(covered(std::string("\x01\x02\xff\xfe", 4)) < 0.2);
    CHECK(covered(std::string(250, 'W')) > 0.05);
    // Accents stand on their letters: no wider than without.
    const auto width = [](const std::string& text) { return extent_of(set_letters({text, "Inter"})).width(); };
    CHECK(width("e\u0301") == Approx(width("e")).epsilon(0.1));
}

TEST_CASE("letters keep their outlines in the recipe, for machines without the font", "[lettering][recipe]") {
    const StepDescription& lettering = *find_step("lettering");
    Recipe recipe = recipe_of({strand_of("a", {{"lettering", {}}})}, 256);
    recipe = with_value(recipe, {"a", "s1", "text"}, Value(std::string("No. 4")));
    const Step& step = *recipe.step({"a", "s1", ""});
    REQUIRE(step.set.contains("outlines"));
    CHECK_FALSE(as<Outline>(step.set.at("outlines")).empty());
    CHECK(lettering.notice(step.set).empty());
    const Reading back = read_recipe(write_recipe(recipe));
    REQUIRE_FALSE(back.first_fault());
    CHECK(back.recipe == recipe);

    // The font is gone: the same bytes, and a word about it; another text is set in another font, and says so too.
    const Bundle before = cloth(recipe, {256, 256});
    Values gone = step.set;
    gone["font"] = std::string("No Such Face Bold");
    // As a machine that had it would have kept them: the word says what they were set from.
    Key key;
    key.add(std::string_view("No. 4")).add(std::string_view("No Such Face Bold")).add(0.0).add(120.0).add(std::uint64_t{1});
    char word[17];
    std::snprintf(word, sizeof word, "%llx", static_cast<unsigned long long>(key.low));
    gone["outlines-of"] = std::string(word);
    Values settled = gone;
    lettering.settle(settled);
    CHECK(settled == gone);
    CHECK_THAT(lettering.notice(gone), Catch::Contains("No Such Face"));
    CHECK_THAT(lettering.notice(gone), Catch::Contains("kept in the recipe"));
    const Bundle after = cloth(recipe_of({strand_of("a", {{"lettering", gone}})}, 256), {256, 256});
    CHECK(same_bytes(before, after));
    Values changed = gone;
    changed["text"] = std::string("No. 5");
    CHECK_THAT(lettering.notice(changed), Catch::Contains("set in another"));
    lettering.settle(changed);
    CHECK_FALSE(changed.contains("outlines"));
    // Size and place alone need no font.
    Values moved = gone;
    moved["size"] = 90.0, moved["x"] = 20.0;
    CHECK_THAT(lettering.notice(moved), Catch::Contains("kept in the recipe"));
}

namespace {

Recipe with_svg(const std::string& svg, double side = 64) {
    Recipe recipe =
        recipe_of({strand_of("a", {{"shape", {{"form", std::string("file")}, {"width", side}, {"height", side}}}})}, 128);
    const std::string name = asset_name(svg, "svg");
    recipe = with_asset(recipe, name, make_asset(name, svg));
    return with_value(recipe, {"a", "s1", "file"}, Value(name));
}

Result<Rendering> rendered(const Recipe& recipe) {
    RenderOptions options;
    options.pictures = &picture_reader();
    return render(recipe, {128, 128}, {Wanted{}}, options, job);
}

}  // namespace

TEST_CASE("an SVG file is a form: what it covers, in its own proportions, over the edges", "[shape][svg]") {
    const std::string svg =
        R"(<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 20 10"><rect width="20" height="10" fill="#c33"/></svg>)";
    Recipe recipe = with_svg(svg);
    recipe = with_value(recipe, {"a", "s1", "x"}, Value(100.0));
    const auto made = rendered(recipe);
    REQUIRE(made);
    CHECK(made->warnings.empty());
    const Bundle cloth = made->results.begin()->second;
    // 64 by 32 px about the middle of the right edge.
    CHECK(mean_of(*cloth.coverage) == Approx(64.0 * 32 / (128 * 128)).epsilon(0.01));
    CHECK(cloth.coverage->at(10, 64) == 1);
    CHECK(cloth.coverage->at(118, 64) == 1);
    CHECK(cloth.coverage->at(64, 64) == 0);
}

TEST_CASE("hostile SVG files cost little and reach nothing outside", "[shape][svg][faults]") {
    // A billion laughs.
    std::string laughs = "<?xml version=\"1.0\"?><!DOCTYPE svg [<!ENTITY a0 \"ha\">";
    for (int k = 1; k < 10; ++k) {
        laughs += "<!ENTITY a" + std::to_string(k) + " \"";
        for (int n = 0; n < 10; ++n) laughs += "&a" + std::to_string(k - 1) + ";";
        laughs += "\">";
    }
    laughs += "]><svg xmlns=\"http://www.w3.org/2000/svg\" width=\"9\" height=\"9\"><text>&a9;</text></svg>";
    // Uses of uses of uses.
    std::string uses =
        "<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" width=\"9\" height=\"9\"><g "
        "id=\"u0\"><rect width=\"1\" height=\"1\"/></g>";
    for (int k = 1; k < 12; ++k) {
        uses += "<g id=\"u" + std::to_string(k) + "\">";
        for (int n = 0; n < 10; ++n) uses += "<use xlink:href=\"#u" + std::to_string(k - 1) + "\"/>";
        uses += "</g>";
    }
    uses += "</svg>";
    const std::string huge = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"1e30\" height=\"1e30\"/>";
    const std::string nothing = "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"0\" height=\"0\"/>";
    for (const std::string& svg : {laughs, uses, huge, nothing, std::string("no svg at all"), std::string()}) {
        INFO(svg.substr(0, 60));
        const auto made = rendered(with_svg(svg));
        REQUIRE(made);
        REQUIRE(made->warnings.size() >= 1);
        CHECK(made->warnings.front().find('\n') == std::string::npos);
        CHECK_THAT(made->warnings.front(), Catch::Contains("left out"));
    }
    // A file beside it is not read, wherever it is named.
    const TemporaryFolder folder;
    const Bundle white = applied("flat", {{"colour", Colour{1, 1, 1}}}, nullptr, {8, 8});
    REQUIRE(write_picture(folder.path("outside.png"), white, PictureFormat::png));
    for (const std::string& where : {folder.path("outside.png"), "file://" + folder.path("outside.png")}) {
        const auto made =
            rendered(with_svg("<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" "
                              "width=\"9\" height=\"9\"><image width=\"9\" height=\"9\" xlink:href=\"" +
                              where + "\"/></svg>"));
        REQUIRE(made);
        CHECK(mean_of(*made->results.begin()->second.coverage) == 0);
    }
    const TemporaryFolder kept;
    CHECK_FALSE(read_kept_drawing(kept.path("missing.svg")));
}
