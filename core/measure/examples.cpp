// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/examples.h"

#include "core/recipe/edits.h"

namespace loom {

namespace {

constexpr int tile = 192;

Step step(const char* kind, const char* id, Values set = {}, std::uint32_t seed = 1) {
    Step made;
    made.kind = kind, made.id = id, made.set = std::move(set), made.seed = seed;
    return made;
}

/// Strands one over the other.
Recipe woven(std::vector<std::pair<std::vector<Step>, Join>> strands) {
    Recipe recipe;
    recipe.tile.width = recipe.tile.height = tile;
    for (auto& [steps, join] : strands) {
        Strand strand;
        strand.id = new_strand_id(recipe, "example"), strand.join = join;
        for (Step& each : steps) strand.steps.push_back(std::move(each));
        recipe = strand_added(std::move(recipe), std::move(strand), static_cast<int>(recipe.strands.size()));
    }
    return recipe;
}

Step clouds(double size, double octaves, double contrast = 100, std::uint32_t seed = 3) {
    return step("clouds", "s1", {{"size-x", size}, {"size-y", size}, {"octaves", octaves}, {"contrast", contrast}}, seed);
}

Join laid(Blend blend, double amount) {
    Join join;
    join.blend = blend, join.amount = amount;
    return join;
}

Step coloured(std::vector<Stop> stops) { return step("gradientmap", "s2", {{"stops", Value(Stops(std::move(stops)))}}); }

}  // namespace

MeasureExamples examples_of(MeasureKind kind) {
    const Step fine = clouds(14, 3, 70);
    switch (kind) {
        case MeasureKind::across:
        case MeasureKind::down: {
            const bool across = kind == MeasureKind::across;
            const Values ramp{{"to-x", across ? 100.0 : 0.0}, {"to-y", across ? 0.0 : 100.0}, {"repeat", std::string("once")}};
            return {woven({{{fine}, {}}}), woven({{{fine}, {}}, {{step("gradient", "s1", ramp)}, laid(Blend::overlay, 80)}}),
                    "no line", "a line"};
        }
        case MeasureKind::standout:
            return {woven({{{fine}, {}}}),
                    woven({{{fine}, {}},
                           {{step("shape", "s1",
                                  {{"form", std::string("ellipse")},
                                   {"x", 60.0},
                                   {"y", 40.0},
                                   {"width", 46.0},
                                   {"height", 40.0},
                                   {"colour", Colour{0.1f, 0.1f, 0.1f}}}),
                             step("gaussian", "s2", {{"radius", 8.0}})},
                            laid(Blend::multiply, 55)}}),
                    "nothing", "one blob"};
        case MeasureKind::evenness:
            return {woven({{{clouds(tile, 1, 160)}, {}}, {{clouds(10, 2)}, laid(Blend::soft_light, 60)}}), woven({{{fine}, {}}}),
                    "patches", "even"};
        case MeasureKind::spark:
            return {woven({{{step("static", "s1")}, {}}}),
                    woven({{{step("static", "s1"), step("levels", "s2", {{"in-black", 0.9}})}, {}}}), "all alike", "few, strong"};
        case MeasureKind::kinship: {
            Recipe high = woven({{{clouds(48, 2, 160)}, {}}, {{step("static", "s1")}, laid(Blend::multiply, 100)}});
            return {woven({{{clouds(64, 1)}, {}}, {{step("static", "s1", {}, 7)}, laid(Blend::soft_light, 90)}}), std::move(high),
                    "unrelated", "together"};
        }
        case MeasureKind::play:
            return {woven({{{clouds(40, 4), coloured({{0, {0.16f, 0.1f, 0.06f}}, {1, {0.75f, 0.58f, 0.42f}}})}, {}}}),
                    woven({{{clouds(40, 4), coloured({{0, {0.16f, 0.1f, 0.06f}}, {1, {0.75f, 0.58f, 0.42f}}})}, {}},
                           {{clouds(60, 3, 160, 9),
                             coloured({{0, {0.5f, 0.2f, 0.15f}}, {0.5, {0.5f, 0.4f, 0.2f}}, {1, {0.3f, 0.45f, 0.35f}}})},
                            laid(Blend::oklch_colour, 75)}}),
                    "only tone", "hues differ"};
    }
    return {};
}

std::string_view words_of(MeasureKind kind) {
    switch (kind) {
        case MeasureKind::across: return "Whether a line shows where the right edge meets the left one.";
        case MeasureKind::down: return "Whether a line shows where the bottom meets the top.";
        case MeasureKind::standout: return "Whether one place is so unlike the rest that it is found again in every repeat.";
        case MeasureKind::evenness:
            return "Whether light and dark lie evenly, or in patches that make a grid when it is repeated.";
        case MeasureKind::spark: return "Whether a few details are strong among many faint ones, as on real surfaces.";
        case MeasureKind::kinship: return "Whether fine detail sits where coarse detail is, as things have one cause.";
        case MeasureKind::play: return "How much colour there is that is not only lighter and darker.";
    }
    return {};
}

}  // namespace loom
