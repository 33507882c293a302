// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/catalogue/describe.h"
#include "core/structures/own_slopes.h"
#include "core/structures/relief_light.h"

namespace loom {

namespace relief_step {
namespace {

struct Settings : ReliefLighting {
    Settings() { own_slopes = true, ambient = 12, shoulder = 50; }
};
using From = Settings::From;
using LampKind = Settings::LampKind;

/// Pixels that are read round a place between them.
constexpr int shadow_margin = 2;

}  // namespace
}  // namespace relief_step

StepDescription describe_relief() {
    using namespace relief_step;
    StepDescription base;
    base.id = "relief", base.title = "Relief light", base.family = Family::shade;
    base.summary = "Lights the surface from one side, with its tone or another strand as height.";
    base.words = "emboss bump 3d depth light lamp shine height carve";
    base.scratch_planes = 0;
    base.headline = {"depth", "direction"};
    base.alone = {{"height", std::string("strand")}};
    base.planes = {height_plane};
    const Range share{-100, 200, Unit::percent, 100}, angle{-360, 360, Unit::degrees, 180};
    const When strand{"height", {"strand"}}, high = strand || When{"height", {"height"}};
    const When distant{"lamp", {"distant"}}, near{"lamp", {"near"}}, shining = When::above("shine", 0);
    return Describe<Settings>(std::move(base))
        .choice<From>("height", "Height from", &Settings::from,
                      {{"tone", "Tone"}, {"coverage", "Coverage"}, {"height", "Height"}, {"strand", "Strand"}},
                      "What stands out: light tones, covered places, the height that came in, or another strand.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose height or tone is lit.", strand)
        .number("depth", "Depth", &Settings::depth, {-1024, 1024, Unit::px, 64},
                "Height of white over black; below 0 turns hills into hollows.")
        .toggle("own-slopes", "Objects lean by themselves", &Settings::own_slopes,
                "Where flakes, cells or bricks lie tilted, their edges are lit as they lean, and not as steps from one to the "
                "next.",
                high)
        .once(1, Value(false))
        .section("Lamp")
        .choice<LampKind>("lamp", "Lamp", &Settings::lamp, {{"distant", "Distant"}, {"near", "Near"}, {"shared", "The recipe's"}},
                          "Light from one direction, from a place above the tile, or from the lamp that many steps follow.")
        .number("direction", "Direction", &Settings::direction, angle, "Where the light comes from; 0 is right, 90 is above.",
                distant)
        .number("elevation", "Elevation", &Settings::elevation, {1, 90, Unit::degrees}, "How high the lamp stands.", distant)
        .number("lamp-x", "Lamp x", &Settings::lamp_x, share, "Place of the lamp across the tile.", near)
        .number("lamp-y", "Lamp y", &Settings::lamp_y, share, "Place of the lamp down the tile.", near)
        .pair("Lamp", "lamp-x", "lamp-y")
        .number("lamp-height", "Lamp height", &Settings::lamp_height, {1, 8192, Unit::px, 1024, Scale::root},
                "Height of the lamp above the tile.", near)
        .section("Light")
        .number("diffuse", "Diffuse", &Settings::diffuse, {0, 400, Unit::percent, 200}, "Light that is scattered evenly.")
        .number("wrap", "Reaches round", &Settings::wrap, {0, 100, Unit::percent},
                "How far light reaches round bumps, as in wax, skin or cloth.")
        .number("shine", "Shine", &Settings::shine, {0, 400, Unit::percent, 100}, "Light that is mirrored.")
        .number("sharpness", "Shine sharpness", &Settings::sharpness, {1, 128, Unit::none, 0, Scale::root},
                "How narrow highlights are.", shining)
        .strand("roughness", "Roughness from", &Settings::roughness, "A strand whose light tones make the shine broad and faint.",
                shining)
        .choice<Settings::ShineOn>("shine-on", "Shine on", &Settings::shine_on, {{"rises", "What rises"}, {"all", "Everything"}},
                                   "Whether level ground keeps its tone, or shines as well.",
                                   shining && !When{"result", {"light"}})
        .colour("colour", "Lamp colour", &Settings::colour, "Colour of the light.")
        .number("shadow", "Shadow length", &Settings::shadow, {0, 512, Unit::px, 100, Scale::root},
                "How far shadows can fall; 0 casts none.", !near)
        .number("occlusion", "Occlusion", &Settings::occlusion, {0, 400, Unit::percent, 100},
                "How much hollows darken because they see less sky.")
        .section("Light from elsewhere")
        .number("ambient", "Ambient", &Settings::ambient, {0, 200, Unit::percent, 100},
                "Light that reaches every place, also in shadows, in shares of what the lamp gives to level ground.")
        .once(1, Value(0.0))
        .colour("ambient-colour", "Ambient colour", &Settings::ambient_colour, "Its colour.", When::above("ambient", 0))
        .number("overhead", "Overhead", &Settings::overhead, {0, 200, Unit::percent, 100},
                "Soft light from straight above, less on slopes and in hollows.")
        .colour("overhead-colour", "Overhead colour", &Settings::overhead_colour, "Its colour.", When::above("overhead", 0))
        .section("Result")
        .choice<Settings::Outcome>(
            "result", "Result", &Settings::outcome,
            {{"times", "Times picture"}, {"even", "Light only"}, {"light", "Light as it falls"}},
            "The picture lit, the light by itself with level ground in the middle, or as much of it as falls on each place.")
        .number("strength", "Strength", &Settings::strength, {0, 100, Unit::percent}, "How much of the lighting is used.")
        .number("shoulder", "Soft highlights", &Settings::shoulder, {0, 100, Unit::percent},
                "How early what comes near white is held back instead of being cut off.", !When{"result", {"light"}})
        .once(1, Value(0.0))
        .toggle("baked", "Baked in", &Settings::baked,
                "Off, the picture stays as it is on level ground, and what would have been lit is handed on as height: for the "
                "height map, the lit map and other lamps.")
        .number("height-share", "Share of the height", &Settings::height_share, {0, 100, Unit::percent},
                "How much of a height that comes in gives way to this one's.", {"baked", {"off"}})
        .shape([](const Settings& s, Shape in) { return relief_shape(s, in); })
        .makes_planes([](const Settings& s) { return !s.baked; })
        .reads([](const Settings& s) {
            if (s.from == From::tone || s.from == From::coverage) return std::vector<std::string>{};
            return s.own_slopes ? OwnSlopes::reads() : std::vector<std::string>{std::string(height_plane)};
        })
        .takes_input(!strand)
        .point("Lamp", "lamp-x", "lamp-y")
        .direction("Light", "direction")
        .follows_lamp([](const Settings& s) { return s.lamp == LampKind::shared; })
        .footprint([](const Settings& s, const Scales& at) {
            // Level ground looks at its neighbours all the same.
            if (!s.baked) return Footprint::near(1, 1);
            // The sky is softened by wide recursive filters.
            if (s.occlusion > 0) return Footprint::whole();
            const double shadow = s.lamp == LampKind::near ? 0 : s.shadow;
            const bool leans = s.own_slopes && (s.from == From::height || s.from == From::strand);
            const int ring = leans ? OwnSlopes::reach_of(std::sqrt(at.x() * at.y())) : 1;
            const int margin = std::max(ring, shadow > 0 ? shadow_margin : 1),
                      way = static_cast<int>(std::ceil(shadow * std::sqrt(at.x() * at.y())));
            return Footprint::near(way + margin, way + margin);
        })
        .run([](const Settings& s, const StepContext& context) { return relief_light(s, context); });
}

}  // namespace loom
