// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>

#include "core/image/plane_names.h"
#include "core/steps/shade/marks.h"

namespace loom {

namespace wear_step {
namespace {

enum class On { tops, edges, both };

struct Settings {
    HeightFrom from = HeightFrom::height;
    std::string strand;
    On on = On::both;
    double reach = 12, share = 22, softness = 45;
    double broken = 85, broken_size = 34;
    MarkOutput output = MarkOutput::picture;
    Colour colour{0.86f, 0.82f, 0.75f};
    double strength = 65, depth = 6;
};

/// What stands out within a reach: tops by all of it, edges by a quarter.
Plane worn_of(const Settings& s, const Plane& height, const StepContext& context) {
    const Job& job = *context.job;
    const auto standing = [&](double reach) {
        Plane out = depth_below(height, reach, context);
        for_values(job, out, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) out.data()[i] = -out.data()[i];
        });
        return out;
    };
    Plane score = standing(s.on == On::edges ? std::max(0.5, s.reach / 4) : s.reach);
    if (s.on == On::both) score = either(score, standing(std::max(0.5, s.reach / 4)), job);
    Plane worn = strongest(score, s.share / 100, s.softness / 100, job);
    loom::broken(worn, s.broken_size, s.broken / 100, 0x7772, context);
    return worn;
}

Bundle run(const Settings& s, const StepContext& context) { return marks_of(s, context, -s.depth / 100, planes::worn, worn_of); }

}  // namespace
}  // namespace wear_step

StepDescription describe_wear() {
    using namespace wear_step;
    StepDescription base;
    base.id = "wear", base.title = "Wear", base.family = Family::shade;
    base.summary = "Rubs off what stands out: tops and arrises, broken by noise.";
    base.words = "rubbed worn scuffed chipped edges paint bare polish age distress weather scratch";
    base.seeded = true;
    base.headline = {"rubs", "share"};
    base.planes = {planes::worn};
    begin_marks(base);
    const Range share{0, 100, Unit::percent};
    Describe<Settings> describe(std::move(base));
    describe_height_source(describe)
        .choice("rubs", "Rubs", &Settings::on, {{"tops", "Tops"}, {"edges", "Edges"}, {"both", "Both"}},
                "What is rubbed: what lies higher than all round it, the sharp edges of it, or both.")
        .number("reach", "Reach", &Settings::reach, {0.5, 1024, Unit::px, 96, Scale::root},
                "How large a top is; edges are a quarter.")
        .number("share", "Share", &Settings::share, share, "How much of the tile is worn, before it is broken.")
        .number("softness", "Softness", &Settings::softness, share, "How softly it ends.")
        .number("broken", "Broken", &Settings::broken, share, "How much of it noise leaves out.")
        .number("broken-size", "Broken size", &Settings::broken_size, {2, 1024, Unit::px, 160, Scale::root},
                "Size of that noise.", When::above("broken", 0))
        .section("Result");
    describe_marks(describe, "What shows where it is worn.", "How much of what came in is rubbed off.")
        .number("depth", "Depth", &Settings::depth, {-100, 100, Unit::percent, 40},
                "How far a height that comes along is lowered.", marks_painted())
        .scratch([](const Settings&, const Scales&, const PlaneCounts&) { return 6.0; });
    return describe.run(run);
}

}  // namespace loom
