// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/structures/facet_sheet.h"

namespace loom {

namespace facets_step {
namespace {

using Settings = FacetSheet;

}  // namespace
}  // namespace facets_step

StepDescription describe_facets() {
    using namespace facets_step;
    StepDescription base;
    base.id = "facets", base.title = "Facets", base.family = Family::make;
    base.summary = "Crumpled paper or foil: flat facets at several sizes, with creases that bend.";
    base.words = "crystal crumple fold paper foil glitter gem polygon low poly";
    base.seeded = true;
    base.headline = {"count", "levels"};
    base.scratch_planes = 1.4;
    base.planes = {height_plane};
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .count("count", "Count", &Settings::count, {4, 16384, Unit::none, 1000, Scale::root},
               "Points of the coarsest sheet over the tile.")
        .number("clumping", "Clumping", &Settings::clumping, share, "How much finer facets gather in places.")
        .count("levels", "Levels", &Settings::levels, {1, 6, Unit::none},
               "How many sheets of ever smaller facets, each with four times as many points.")
        .number("bend", "Bend of creases", &Settings::bend, {0, 256, Unit::px, 48, Scale::root},
                "How far creases stray from straight lines.")
        .number("sharpness", "Crease sharpness", &Settings::sharpness, share, "How sharp creases are.")
        .number("sharpness-spread", "Sharpness spread", &Settings::sharpness_spread, share,
                "How much sharpness differs over the sheet.")
        .number("slope-limit", "Slope limit", &Settings::slope_limit, share,
                "How steep facets may be; steep ones make dark holes that betray the repeat.")
        .shape([](const Settings&, Shape) {
            return Shape{1, false};
        })
        .needs_whole()
        .run(facet_sheet);
}

}  // namespace loom
