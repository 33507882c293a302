// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/base/draft.h"
#include "core/image/plane_names.h"
#include "core/structures/object_sheet.h"
#include "core/structures/supersampled.h"
#include "core/structures/woven.h"

namespace loom {

namespace weave_step {
namespace {

using Settings = Woven;
using Binding = Settings::Binding;
using Way = Settings::Way;

std::optional<TextFault> check_draft(std::string_view text) {
    const auto draft = read_draft(text);
    if (draft) return std::nullopt;
    return TextFault{0, draft.error().message};
}

}  // namespace
}  // namespace weave_step

StepDescription describe_weave() {
    using namespace weave_step;
    StepDescription base;
    base.id = "weave", base.title = "Weave", base.family = Family::make;
    base.summary = "Cloth from a draft: warp runs down, weft across.";
    base.words = "cloth fabric textile denim linen canvas twill threads yarn";
    base.seeded = true;
    base.headline = {"draft", "warp", "weft"};
    base.planes = object_step_planes();
    base.planes.insert(base.planes.end(), {planes::warp, planes::yarn, planes::yarn_across, planes::yarn_along, planes::crown,
                                           planes::twist, planes::fuzz});
    const Range share{0, 100, Unit::percent}, wide{0, 200, Unit::percent, 100};
    const When twill{"draft", {"twill", "herringbone"}}, satin{"draft", {"satin"}};
    const When own{"weft-own", {"on"}};
    const When slubbed = When::above("slub", 0), twisted = When::above("twist-depth", 0);
    return Describe<Settings>(std::move(base))
        .section("Interlacing")
        .choice("draft", "Draft", &Settings::draft,
                {{"plain", "Plain"},
                 {"twill", "Twill"},
                 {"satin", "Satin"},
                 {"basket", "Basket"},
                 {"herringbone", "Herringbone"},
                 {"grid", "Own draft"}},
                "Which thread lies on top where.")
        .visual({{"warp", 10.0}, {"weft", 10.0}, {"fuzz", 0.0}, {"jitter", 0.0}})
        .count("over", "Over", &Settings::over, {1, 16, Unit::none, 6}, "Picks that a warp thread lies over.", twill)
        .count("under", "Under", &Settings::under, {1, 16, Unit::none, 6}, "Picks that it lies under.", twill)
        .choice("way", "Rises to the", &Settings::way, {{"right", "Right"}, {"left", "Left"}},
                "Which way the twill's lines rise.", twill && !When("draft", {"herringbone"}))
        .count("satin", "Satin of", &Settings::satin, {5, 16, Unit::none, 10}, "A thread goes under one pick in so many.", satin)
        .count("step", "Step", &Settings::step, {2, 15, Unit::none, 7}, "How far on the next thread does.", satin)
        .count("block", "Block", &Settings::block, {1, 16, Unit::none, 6}, "Threads side by side in a block.",
               {"draft", {"basket"}})
        .draft("grid", "Own draft", &Settings::grid, "Rows of # (warp on top) and . from the first pick, between slashes.",
               check_draft, {"draft", {"grid"}})
        .section("Threads")
        .count("warp", "Warp threads", &Settings::warp, {2, 1024, Unit::none, 256, Scale::root},
               "Threads across the tile, in whole repeats of the draft.")
        .count("weft", "Weft threads", &Settings::weft, {2, 1024, Unit::none, 256, Scale::root},
               "Threads down the tile, in whole repeats.")
        .pair("Threads", "warp", "weft")
        .number("width", "Thread width", &Settings::width, {20, 160, Unit::percent},
                "Width of the threads beside their distance.")
        .number("gap", "Gap", &Settings::gap, share, "How much of that is left open.")
        .number("roundness", "Roundness", &Settings::roundness, share, "How round threads are; at 0 % they are flat bands.")
        .section("Yarn")
        .number("twist", "Twist angle", &Settings::twist, {12, 80, Unit::degrees},
                "How far fibres lean from the thread they are twisted to.", twisted)
        .number("twist-depth", "Twist depth", &Settings::twist_depth, wide, "How clearly they show.")
        .once(2, 50.0)
        .number("slub-size", "Slub size", &Settings::slub_size, {4, 1024, Unit::px, 200, Scale::root}, "Length of thick places.",
                slubbed)
        .once(2, 60.0)
        .number("slub", "Slub", &Settings::slub, share, "How thick they are.")
        .number("jitter", "Jitter", &Settings::jitter, wide, "How unevenly threads and cloth lie.")
        .once(2, 40.0)
        .number("closing", "Closing of gaps", &Settings::closing, wide, "How far threads lean over a neighbour that dips.")
        .once(2, 60.0)
        .number("arch", "Arch", &Settings::arch, {0, 300, Unit::percent, 200}, "How much a long float bulges in its middle.")
        .number("shoulder", "Shoulder", &Settings::shoulder, share,
                "How flat the tops of the warp are, so that floats side by side join into ridges.")
        .once(2, 0.0)
        .number("weft-depth", "Weft lies below", &Settings::weft_depth, share, "How far the weft is hidden by the warp.")
        .once(2, 0.0)
        .number("fuzz", "Fuzz", &Settings::fuzz, wide, "Fine fibres on the threads.")
        .once(2, 30.0)
        .section("Weft of its own")
        .toggle("weft-own", "Unlike the warp", &Settings::weft_own, "Gives the weft threads of their own kind.")
        .number("weft-width", "Weft width", &Settings::weft_width, {20, 200, Unit::percent}, "Width beside that of the warp.",
                own)
        .number("weft-twist", "Weft twist angle", &Settings::weft_twist, {12, 80, Unit::degrees},
                "How far its fibres lean from the thread.", own && When::above("weft-twist-depth", 0))
        .number("weft-twist-depth", "Weft twist depth", &Settings::weft_twist_depth, wide, "How clearly they show.", own)
        .number("weft-slub", "Weft slub", &Settings::weft_slub, share, "How thick its thick places are.", own)
        .number("weft-jitter", "Weft jitter", &Settings::weft_jitter, wide, "How unevenly its threads lie.", own)
        .number("weft-fuzz", "Weft fuzz", &Settings::weft_fuzz, wide, "Fine fibres on its threads.", own)
        .section("Stray fibres")
        .count("stray", "Stray fibres", &Settings::stray, {0, 40000, Unit::none, 8000, Scale::root},
               "Loose fibres that lie on the cloth, with a soft shadow under each.")
        .number("stray-length", "Fibre length", &Settings::stray_length, {2, 1024, Unit::px, 160, Scale::root},
                "Their middle length.", When::above("stray", 0))
        .colour("stray-colour", "Fibre colour", &Settings::stray_colour, "Their colour.", When::above("stray", 0))
        .section("Colour")
        .colour("warp-colour", "Warp colour", &Settings::warp_colour, "Colour of the warp.")
        .colour("weft-colour", "Weft colour", &Settings::weft_colour, "Colour of the weft.")
        .number("dye", "Dye unevenness", &Settings::dye, share, "How much threads differ in depth of colour.")
        .number("dye-along", "Dye along threads", &Settings::dye_along, share,
                "How much the dye of each thread changes along its way.")
        .once(2, 0.0)
        .number("fade", "Fade", &Settings::fade, share, "How pale raised threads are worn.")
        .once(2, 40.0)
        .number("keep-hue", "Keep hue", &Settings::keep_hue, share,
                "How much of its hue a worn thread keeps, instead of turning grey.", When::above("fade", 0))
        .once(2, 0.0)
        .number("between", "Tone between", &Settings::between, share, "How light it is between the threads, beside the warp.")
        .once(2, 25.0)
        .rounded([](const Settings& s, Size) {
            const ThreadCounts counts = thread_counts(s);
            return std::to_string(counts.warp) + " warp and " + std::to_string(counts.weft) + " weft threads close the tile.";
        })
        .shape([](const Settings&, Shape) {
            return Shape{3, false};
        })
        .needs_whole()
        .scratch([](const Settings&, const Scales& at, const PlaneCounts& planes) {
            return supersampled_scratch(at, planes.out, 0.5);
        })
        .run(woven);
}

}  // namespace loom
