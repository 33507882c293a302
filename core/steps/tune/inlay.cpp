// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/structures/edge.h"
#include "core/structures/join.h"
#include "core/structures/taken.h"

namespace loom {

namespace inlay_step {
namespace {

struct Settings {
    std::string strand;
    Taken output = Taken::picture;
    Blend blend = Blend::normal;
    double join_amount = 100;
    bool within = false;
    double width = 0.1;
    BlendSettings::Planes planes = BlendSettings::Planes::joined;
};

constexpr std::uint64_t dots_seed = 11;

Bundle run(const Settings& s, const StepContext& context) {
    context.job->check();
    const Bundle* strand = context.other("strand");
    if (!strand || strand->empty()) return *context.input;
    const Bundle over = taken_of(*strand, s.output, true, context);
    const BlendSettings settings{s.blend, static_cast<float>(s.join_amount / 100), context.linear_light,
                                 static_cast<float>(s.width), s.planes};
    // Means of lots look round themselves, so that more rows came in than are wanted.
    const Bundle under = is_lot(s.output) ? part_of(*context.input, context.wanted_rows()) : *context.input;
    return joined(under, over, {settings, context.tile, dots_seed}, s.within ? coverage_of(under) : nullptr, *context.job);
}

}  // namespace
}  // namespace inlay_step

StepDescription describe_inlay() {
    using namespace inlay_step;
    StepDescription base;
    base.id = "inlay", base.title = "Lay in", base.family = Family::tune;
    base.summary =
        "Lays another strand over this chain, so that a joined pair can be a mask, a height, a map, or the start of more.";
    base.words = "set into inset put into lay over combine insert join";
    base.headline = {"strand", "blend"};
    base.blends = true;
    return Describe<Settings>(std::move(base))
        .strand("strand", "Strand", &Settings::strand, "The strand that is laid in; one that is switched off can be laid in too.")
        .choice("output", "Output", &Settings::output, taken_choices(), taken_help)
        .planes_of("strand")
        .choice("blend", "Blend", &Settings::blend, blend_choices(), "How it meets what came in.")
        .number("join-amount", "Join amount", &Settings::join_amount, {0, 100, Unit::percent}, "How much of the strand counts.")
        .number("width", "Width", &Settings::width, {0, 1, Unit::tone},
                "Over how many tones the smooth minimum or maximum turns from one to the other.",
                When{"blend", {"smooth-minimum", "smooth-maximum"}})
        .choice("planes", "Heights and objects", &Settings::planes, {{"joined", "Joined too"}, {"picture", "Picture only"}},
                "Whether heights and objects that come along are joined as the picture is, or end here: the joined tone is the "
                "height then.")
        .toggle("within", "Keep within", &Settings::within, "Shows the strand only where this chain shows.")
        .shape([](const Settings& s, Shape in) {
            return s.strand.empty() ? in : Shape{3, in.coverage};
        })
        .reads([](const Settings& s) {
            std::vector<std::string> all = taken_reads(s.output, true);
            if (reads_height(s.blend)) all.emplace_back(height_plane);
            return all;
        })
        .footprint([](const Settings& s, const Scales&) {
            const Footprint own = join_footprint(s.blend);
            if (!is_lot(s.output)) return own;
            return own.kind == Footprint::Kind::pixel ? Footprint::near(1, 1) : Footprint::whole();
        })
        .scratch([](const Settings& s, const Scales& at, const PlaneCounts&) {
            return join_scratch(s.blend, at) + (s.output != Taken::picture ? 1 : 0);
        })
        .run(run);
}

}  // namespace loom
