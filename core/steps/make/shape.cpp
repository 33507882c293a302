// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/structures/drawn_form.h"

namespace loom {

namespace shape_step {
namespace {

enum class Form { rectangle, ellipse, polygon, star, drawn, file };

struct Settings : DrawnForm {
    Form form = Form::rectangle;
    double width = 640, height = 640;
    double corner = 0;
    int sides = 6, points = 5;
    double inner = 45;
    Outline outline = {{{{{-240, 200}, {-240, 200}, {-240, 60}},
                         {{0, -240}, {-140, -240}, {140, -240}},
                         {{240, 200}, {240, 60}, {240, 200}},
                         {{0, 120}, {90, 120}, {-90, 120}}},
                        true}};
    std::string file;
};

bool sized(Form form) { return form != Form::drawn; }

/// About the origin, not turned yet.
Outline outline_of(const Settings& s) {
    switch (s.form) {
        case Form::rectangle: return rectangle_form(s.width, s.height, s.corner);
        case Form::ellipse: return ellipse_form(s.width, s.height);
        case Form::polygon: return polygon_form(s.width, s.height, s.sides, s.corner);
        case Form::star: return star_form(s.width, s.height, s.points, s.inner / 100, s.corner);
        case Form::drawn: return s.outline;
        case Form::file: break;
    }
    return {};
}

Extent extent_of_settings(const Settings& s) {
    if (sized(s.form)) return {-s.width / 2, -s.height / 2, s.width / 2, s.height / 2};
    return extent_of(s.outline);
}

/// An SVG file, as large as width and height leave room for in its own proportions.
Plane from_file(const Settings& s, const StepContext& context) {
    const auto found = context.drawings.find("file");
    if (found == context.drawings.end() || !context.pictures) return context.plane(0);
    const auto left_out = [&](const Error& error) {
        context.job->warn("Shape: " + error.message + "; it is left out");
        return context.plane(0);
    };
    // Read once for all bands.
    const auto read = context.once([&] { return context.pictures->drawing(found->second, *context.job); });
    if (!*read) return left_out(read->error());
    const ReadDrawing& drawing = ***read;
    const DrawingSize size = drawing.size();
    const double scale = std::min(s.width / size.width, s.height / size.height);
    const Affine about_middle{scale, 0, 0, scale, -scale * size.width / 2, -scale * size.height / 2};
    const Affine in_tile = combined(s.place(context), about_middle);
    const Affine in_pixels = combined({context.scale_x(), 0, 0, context.scale_y(), 0, 0}, in_tile);
    // Wherever it is turned to, it lies within this.
    const double reach = std::hypot(size.width, size.height) * scale / 2;
    const double x = s.x / 100 * context.tile.width, y = s.y / 100 * context.tile.height;
    const auto copies = copies_on_tile({x - reach, y - reach, x + reach, y + reach}, context);
    auto plane = drawing.drawn(in_pixels, copies, context.size, context.wanted_rows(), *context.job);
    if (!plane) return left_out(plane.error());
    return std::move(*plane);
}

Bundle run(const Settings& s, const StepContext& context) {
    if (s.form == Form::file)
        return met_form(s.meets, filled(share(from_file(s, context)), s.colour, nullptr, s.line_colour, context), context);
    return s.drawn_with(transformed(outline_of(s), s.place(context)), context);
}

}  // namespace
}  // namespace shape_step

StepDescription describe_shape() {
    using namespace shape_step;
    const When regular = When{"form", {"rectangle"}} || When{"form", {"polygon"}} || When{"form", {"star"}};
    const When file{"form", {"file"}}, own{"form", {"drawn"}};
    StepDescription base;
    base.id = "shape", base.title = "Shape", base.family = Family::make;
    base.summary = "A crisp form: rectangle, ellipse, polygon, star, an outline of your own or an SVG file.";
    base.words =
        "circle disc disk ring square rectangle triangle star polygon ellipse heart plate hole round outline logo svg drawing";
    base.headline = {"form"};
    base.scratch_planes = 2;
    Describe<Settings> describe(std::move(base));
    describe
        .choice("form", "Form", &Settings::form,
                {{"rectangle", "Rectangle"},
                 {"ellipse", "Ellipse"},
                 {"polygon", "Polygon"},
                 {"star", "Star"},
                 {"drawn", "Drawn outline"},
                 {"file", "SVG file"}},
                "What is drawn.")
        .outline(
            "outline", "Outline", &Settings::outline,
            "Its points and curves, about its place; they are dragged on the cloth. Drag from the middle of a side to add one.",
            own)
        .drawing("file", "File", &Settings::file,
                 "An SVG file, kept inside the recipe; what it covers counts, not its colours. Files that it names are not read.",
                 file)
        .section("Place and size");
    describe_place(describe)
        .number("width", "Width", &Settings::width, {1, 16384, Unit::px, 1024, Scale::root},
                "Width; a form wider than the tile comes in again on the other side.", !own)
        .number("height", "Height", &Settings::height, {1, 16384, Unit::px, 1024, Scale::root}, "Height.", !own)
        .pair("Size", "width", "height");
    describe_turn(describe)
        .section("Corners")
        .number("corner", "Corner radius", &Settings::corner, {0, 4096, Unit::px, 256, Scale::root},
                "How far its corners are rounded; at most half of its shorter side.", regular)
        .count("sides", "Sides", &Settings::sides, {3, 64, Unit::none, 12}, "Corners of the polygon.", When{"form", {"polygon"}})
        .count("points", "Points", &Settings::points, {2, 64, Unit::none, 16}, "Points of the star.", When{"form", {"star"}})
        .number("inner", "Inner radius", &Settings::inner, {5, 100, Unit::percent},
                "How near to its middle the star's inner corners lie.", When{"form", {"star"}});
    return describe_fill_and_line(describe, !file).box("Shape", "x", "y", "turn", "width", "height", extent_of_settings).run(run);
}

}  // namespace loom
