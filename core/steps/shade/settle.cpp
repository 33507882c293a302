// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/image/plane_names.h"
#include "core/steps/shade/marks.h"

namespace loom {

namespace settle_step {
namespace {

enum class Into { hollows, under, both };

struct Settings {
    HeightFrom from = HeightFrom::height;
    std::string strand;
    Into into = Into::both;
    double reach = 14, share = 36, softness = 60;
    double run = 70, run_length = 70, direction = 270;
    double grain = 55;
    MarkOutput output = MarkOutput::picture;
    Colour colour{0.23f, 0.19f, 0.15f};
    double strength = 75, thickness = 8;
};

Plane dirt_of(const Settings& s, const Plane& height, const StepContext& context) {
    const Job& job = *context.job;
    Plane score =
        s.into != Into::under ? depth_below(height, s.reach, context) : rise_above(height, s.direction, s.reach, context);
    if (s.into == Into::both) score = either(score, rise_above(height, s.direction, s.reach, context), job);
    Plane dirt = strongest(score, s.share / 100, s.softness / 100, job);
    if (s.run > 0 && s.run_length > 0) {
        const Plane run = run_down(dirt, s.direction, s.run_length, context);
        const auto by = static_cast<float>(s.run / 100);
        for_values(job, dirt, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) dirt.data()[i] = 1 - (1 - dirt.data()[i]) * (1 - by * run.data()[i]);
        });
    }
    broken(dirt, 7, s.grain / 100, 0x6772, context);
    return dirt;
}

Bundle run(const Settings& s, const StepContext& context) {
    return marks_of(s, context, s.thickness / 100, planes::dirt, dirt_of);
}

}  // namespace
}  // namespace settle_step

StepDescription describe_settle() {
    using namespace settle_step;
    StepDescription base;
    base.id = "settle", base.title = "Settle", base.family = Family::shade;
    base.summary = "Dirt that knows where it lies: in hollows, under edges, and running down from them.";
    base.words = "dirt dust grime soot rust moss stain streak weather age patina runs drips hollow";
    base.seeded = true;
    base.headline = {"into", "share"};
    base.planes = {planes::dirt};
    begin_marks(base);
    const Range share{0, 100, Unit::percent};
    const When runs = When::above("run", 0);
    Describe<Settings> describe(std::move(base));
    describe_height_source(describe)
        .choice("into", "Lies", &Settings::into, {{"hollows", "In hollows"}, {"under", "Under edges"}, {"both", "Both"}},
                "Where it gathers: in what lies lower than all round it, under what rises on the way it comes from, or both.")
        .number("reach", "Reach", &Settings::reach, {0.5, 1024, Unit::px, 96, Scale::root}, "How large a hollow or an edge is.")
        .number("share", "Share", &Settings::share, share, "How much of the tile it covers, without what runs down.")
        .number("softness", "Softness", &Settings::softness, share, "How softly it ends.")
        .section("Running down")
        .number("run", "Runs", &Settings::run, share, "How much of it runs down.")
        .number("run-length", "Length", &Settings::run_length, {1, 2048, Unit::px, 300, Scale::root}, "How far it runs.", runs)
        .number("direction", "Way down", &Settings::direction, {-360, 360, Unit::degrees, 180},
                "Where it runs to, and from where it comes: 270 is down.", runs || When("into", {"under", "both"}))
        .section("Dirt")
        .number("grain", "Grain", &Settings::grain, share, "How much it is broken by fine noise.");
    describe_marks(describe, "Its colour.", "How much of what came in it hides.")
        .number("thickness", "Thickness", &Settings::thickness, {-100, 100, Unit::percent, 40},
                "How far it fills a height that comes along.", marks_painted())
        .direction("Way down", "direction")
        .scratch([](const Settings& s, const Scales&, const PlaneCounts&) { return s.run > 0 ? 8.0 : 5.0; });
    return describe.run(run);
}

}  // namespace loom
