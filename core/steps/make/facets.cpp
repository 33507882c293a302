// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/image/plane_names.h"
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
    base.planes = {height_plane, objects::id, objects::tilt[0], objects::tilt[1], planes::crease};
    base.shown_lit = true;
    const Range share{0, 100, Unit::percent};
    return Describe<Settings>(std::move(base))
        .count("count", "Count", &Settings::count, {4, 16384, Unit::none, 1000, Scale::root},
               "Points of the coarsest sheet over the tile.")
        .number("clumping", "Clumping", &Settings::clumping, share, "How much finer facets gather in places.")
        .strand("clumps", "Clumps from", &Settings::clumps, "A strand in whose light places finer facets gather instead.")
        .count("levels", "Levels", &Settings::levels, {1, 6, Unit::none},
               "How many sheets of ever smaller facets, each with four times as many points.")
        .number("amplitude", "Level height", &Settings::amplitude, {5, 90, Unit::percent},
                "Height of each sheet of finer facets beside the one before.", When::above("levels", 1))
        .once(2, 52.0)
        .toggle("opaque", "Opaque folds", &Settings::opaque,
                "Lays finer facets over coarse ones, so that no crease is seen through another facet; off, they are added up.",
                When::above("levels", 1))
        .once(2, Value(false))
        .toggle("leans", "Facets lean by themselves", &Settings::leans,
                "Hands on how each facet slopes, so that light and mirrors see planes with sharp edges.")
        .once(2, Value(false))
        .number("curvature", "Curved faces", &Settings::curvature, share, "How far the faces bulge up or down.")
        .once(2, 0.0)
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
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts& planes) {
            const double own = (s.opaque ? 3.4 : 5.0) + planes.out;
            return facets_finer(s, at.x(), at.y(), at.tile) ? supersampled_scratch(at, planes.out, own) : own;
        })
        .run(facet_sheet);
}

}  // namespace loom
