// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/image/plane_names.h"
#include "core/structures/cell_picture.h"
#include "core/structures/object_sheet.h"

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
    base.planes = object_step_planes();
    base.planes.insert(base.planes.end(), {planes::crease, planes::pair});
    const Range share{0, 100, Unit::percent}, stretch{10, 1000, Unit::percent, 400, Scale::root};
    const When bordered{"show", {"border", "dome"}}, shaded{"show", {"tone", "dome"}}, domed{"show", {"dome"}};
    const When jointed = When::above("gap", 0) || When::above("gap-share", 0), graded = When::above("grading", 0);
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
        .once(2, 45.0)
        .strand("merging-from", "Merging from", &Settings::merging_from,
                "A strand by whose tone borders are drawn away: all of that where it is white, nothing where it is black.")
        .number("rounding", "Corner rounding", &Settings::rounding, share, "Rounds the corners where borders meet.", bordered)
        .number("crease-spread", "Unlike creases", &Settings::crease_spread, share,
                "How much creases differ in depth and width, each by the two cells that meet in it.", domed)
        .once(2, 0.0)
        .number("crease-fade", "Fading creases", &Settings::crease_fade, share, "How much of the creases dies out, in areas.",
                domed)
        .once(2, 0.0)
        .number("floor", "Soft floor", &Settings::floor, share, "How round the floor of a crease is; at 0 % it is a sharp cut.",
                domed)
        .once(2, 0.0)
        .number("second", "Second net", &Settings::second, share, "How deep a net of finer creases lies over the tops, in areas.",
                domed)
        .once(2, 0.0)
        .number("gap", "Gap", &Settings::gap, {0, 512, Unit::px, 32, Scale::root}, "Width of the dark joint between cells.")
        .number("gap-share", "Gap by size", &Settings::gap_share, {0, 60, Unit::percent, 30},
                "Width of the joint that each cell adds, as a share of its own size.")
        .number("gap-softness", "Gap softness", &Settings::softness, {0, 256, Unit::px, 32, Scale::root},
                "Over how far the joint fades.", jointed)
        .section("Tops")
        .number("tone-spread", "Tone spread", &Settings::spread, share, "How much cells differ in tone.", shaded)
        .number("tilt", "Tilt", &Settings::tilt, share, "How much tops lean, each its own way.", domed)
        .once(2, 25.0)
        .section("Wander")
        .number("wander", "Wander", &Settings::wander, {0, 512, Unit::px, 48, Scale::root},
                "How far clouds of three sizes move the borders, so that none is straight.")
        .once(2, 0.0)
        .number("wander-size", "Wander size", &Settings::wander_size, {8, 2048, Unit::px, 400, Scale::root},
                "Size of the largest of them.", When::above("wander", 0))
        .rounded([](const Settings& s, Size tile) {
            const int count = cell_count(laid_out(s, tile).layout);
            return std::to_string(count) + (count == 1 ? " cell fills the tile." : " cells fill the tile.");
        })
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .direction("Grading", "grading-direction")
        .needs_whole()
        // What has wandered is read from what was painted.
        .scratch(
            [](const Settings& s, const Scales&, const PlaneCounts& planes) { return s.wander > 0 ? planes.out + 2.5 : 0.5; })
        .run(cell_picture);
}

}  // namespace loom
