// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/structures/object_edges.h"

namespace loom {

namespace borrow_step {
namespace {

enum class Output { picture, tone, coverage, covered, height, object, u, v, lot_1, lot_2, lot_3, face, core, edge };

/// Named plane of each output, in their order; "": none.
constexpr std::string_view planes[] = {"",
                                       "",
                                       "",
                                       "",
                                       height_plane,
                                       objects::id,
                                       objects::u,
                                       objects::v,
                                       objects::random[0],
                                       objects::random[1],
                                       objects::random[2],
                                       "face",
                                       "core",
                                       "edge"};

struct Settings {
    std::string strand;
    Output output = Output::picture;
    bool smooth = true;
};

bool is_lot(Output output) { return output >= Output::lot_1 && output <= Output::lot_3; }
bool smooths(const Settings& s) { return s.smooth && is_lot(s.output); }

Bundle run(const Settings& s, const StepContext& context) {
    const Bundle* source = context.other("strand");
    if (!source || source->empty()) return Bundle::nothing(context.size, context.wanted_rows());
    Bundle result;
    switch (s.output) {
        case Output::picture: return *source;
        case Output::tone: result.colour = {tone_of(*source, *context.job)}; break;
        case Output::coverage: result.colour = {coverage_of(*source)}; break;
        case Output::covered: result.colour = {covered_tone_of(*source, *context.job)}; break;
        case Output::height: {
            const PlaneRef height = source->plane(height_plane);
            result.colour = {height ? height : tone_of(*source, *context.job)};
            break;
        }
        default: {
            const PlaneRef plane = source->plane(planes[static_cast<std::size_t>(s.output)]);
            const PlaneRef ids = smooths(s) ? source->plane(objects::id) : nullptr;
            if (plane && ids)
                result.colour = {share(ObjectEdges(ids).smoothed(*plane, context.wanted_rows(), *context.job))};
            else
                result.colour = {plane ? part_of(plane, context.wanted_rows()) : share(context.plane(0.0f))};
            break;
        }
    }
    return result;
}

}  // namespace
}  // namespace borrow_step

StepDescription describe_borrow() {
    using namespace borrow_step;
    StepDescription base;
    base.id = "borrow", base.title = "Borrowed strand", base.family = Family::make;
    base.summary = "Another strand's result, used here without copying it.";
    base.words = "reuse copy link strand same again use";
    base.headline = {"strand", "output"};
    return Describe<Settings>(std::move(base))
        .strand("strand", "Strand", &Settings::strand, "The strand to borrow; one that is switched off can be borrowed too.")
        .choice("output", "Output", &Settings::output,
                {{"picture", "Picture"},
                 {"tone", "Tone"},
                 {"coverage", "Coverage"},
                 {"covered-tone", "Covered tone"},
                 {"height", "Height"},
                 {"object", "Object number"},
                 {"object-u", "Place across the object"},
                 {"object-v", "Place down the object"},
                 {"lot-1", "First lot of the object"},
                 {"lot-2", "Second lot of the object"},
                 {"lot-3", "Third lot of the object"},
                 {"face", "Face that was left by a tear"},
                 {"core", "Core that it laid bare"},
                 {"edge", "Its very edge"}},
                "What to take of it: the picture, its tone as grey, where it shows, both at once as a mask sees it, its height, "
                "or what its objects carry: a "
                "number each, the place within, and lots from 0 to 1; or which part of torn paper a place belongs to.")
        .toggle("smooth", "Smooth edges", &Settings::smooth,
                "Where two objects meet in a pixel, takes the mean of their lots instead of one of them.",
                {"output", {"lot-1", "lot-2", "lot-3"}})
        .once(1, Value(false))
        .shape([](const Settings& s, Shape) {
            return s.output == Output::picture ? Shape{3, true} : Shape{1, false};
        })
        .reads([](const Settings& s) {
            const std::string_view plane = planes[static_cast<std::size_t>(s.output)];
            std::vector<std::string> all;
            if (!plane.empty()) all.emplace_back(plane);
            if (smooths(s)) all.emplace_back(objects::id);
            return all;
        })
        .footprint([](const Settings& s, const Scales&) { return smooths(s) ? Footprint::near(1, 1) : Footprint::pixel(); })
        // What it takes on whole is the other strand's own.
        .scratch([](const Settings& s, const Scales&, const PlaneCounts& counts) {
            return s.output == Output::picture ? -1.0 * counts.out : 1.0;
        })
        .run(run);
}

}  // namespace loom
