// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/structures/cell_picture.h"

namespace loom {

namespace cells_step {
namespace {

using Settings = CellPicture;
using Show = Settings::Show;

}  // namespace
}  // namespace cells_step

StepDescription describe_cells() {
    using namespace cells_step;
    StepDescription base;
    base.id = "cells", base.title = "Cells", base.family = Family::make;
    base.summary = "Cells round scattered points: pebbles, scales, cracks, chips.";
    base.words = "leather scales stones pebbles voronoi honeycomb cracks crack mud skin";
    base.seeded = true;
    base.headline = {"size", "show"};
    base.planes = {height_plane, objects::id, objects::u, objects::v, objects::random[0], objects::random[1], objects::random[2]};
    const Range share{0, 100, Unit::percent}, stretch{10, 1000, Unit::percent, 400, Scale::root};
    const When bordered{"show", {"border", "dome"}}, shaded{"show", {"tone", "dome"}}, domed{"show", {"dome"}};
    const When jointed = When::above("gap", 0), graded = When::above("grading", 0);
    return Describe<Settings>(std::move(base))
        .choice(
            "show", "Show", &Settings::show,
            {{"centre", "Distance to centre"},
             {"second", "Second distance"},
             {"border", "Distance to border"},
             {"tone", "Tone of each cell"},
             {"dome", "Domes"}},
            "What becomes the picture: how far the nearest or second nearest point is, how far the border is, a tone for each "
            "cell, or rounded tops.")
        .visual({{"size", 72.0}})
        .number("size", "Size", &Settings::size, {4, 4096, Unit::px, 512, Scale::root},
                "Mean distance between cells; as many as fit the tile, at most 262144.")
        .section("Layout")
        .number("stretch-x", "Stretch across", &Settings::stretch_x, stretch, "Width of the cells beside their size.")
        .number("stretch-y", "Stretch down", &Settings::stretch_y, stretch, "Height of the cells beside their size.")
        .pair("Stretch", "stretch-x", "stretch-y")
        .number("jitter", "Jitter", &Settings::jitter, share,
                "How far points stray from staggered rows; at 100 % no rows are left.")
        .count("relaxation", "Relaxation", &Settings::relaxation, {0, 40, Unit::none, 10},
               "How often points move to the middle of their cells, which makes cells more alike.")
        .strand("density", "Density from", &Settings::density,
                "A strand whose light places get more and smaller cells than its dark ones.")
        .number("grading", "Size grading", &Settings::grading, share,
                "How much cells shrink and grow again on the way over the tile.")
        .number("grading-direction", "Grading direction", &Settings::grading_direction, {-360, 360, Unit::degrees, 180},
                "The way along which sizes change, in steps of 45 degrees so that the tile closes.", graded)
        .choice("metric", "Metric", &Settings::metric,
                {{"euclid", "Euclid"}, {"manhattan", "Manhattan"}, {"chebyshev", "Chebyshev"}},
                "How distance is measured: straight, along rows and columns, or by the longer of both.")
        .visual({{"size", 96.0}, {"show", std::string("centre")}, {"jitter", 100.0}})
        .section("Borders")
        .number("merging", "Merging", &Settings::merging, share,
                "Draws borders away, for each pair of neighbours by its own lot, so that some cells run together.", bordered)
        .number("rounding", "Corner rounding", &Settings::rounding, share, "Rounds the corners where borders meet.", bordered)
        .number("gap", "Gap", &Settings::gap, {0, 512, Unit::px, 32, Scale::root}, "Width of the dark joint between cells.")
        .number("gap-softness", "Gap softness", &Settings::softness, {0, 256, Unit::px, 32, Scale::root},
                "Over how far the joint fades.", jointed)
        .section("Tops")
        .number("tone-spread", "Tone spread", &Settings::spread, share, "How much cells differ in tone.", shaded)
        .number("tilt", "Tilt", &Settings::tilt, share, "How much tops lean, each its own way.", domed)
        .rounded([](const Settings& s, Size tile) {
            const int count = cell_count(laid_out(s, tile).layout);
            return std::to_string(count) + (count == 1 ? " cell fills the tile." : " cells fill the tile.");
        })
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .direction("Grading", "grading-direction")
        .needs_whole()
        .run(cell_picture);
}

}  // namespace loom
