// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// When parameters matter, and what choices look like.
#include "core/catalogue/condition.h"
#include "core/catalogue/value_kind.h"
#include "core/recipe/choice_recipe.h"
#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("conditions are of words and numbers, and are joined by and, or and not", "[catalogue][conditions]") {
    std::map<std::string, std::string, std::less<>> words{{"form", "round"}, {"lit", "on"}, {"count", "3"}};
    auto holds = [&](const Condition& condition) {
        return condition.holds([&](std::string_view id) { return words.find(id)->second; });
    };
    const Condition round("form", {"round", "oval"}), square("form", {"square"}), lit("lit", {"on"});
    CHECK(holds({}));
    CHECK(holds(round));
    CHECK_FALSE(holds(square));
    CHECK(holds(!square));
    CHECK(holds(round && lit));
    CHECK_FALSE(holds(round && !lit));
    CHECK(holds(square || lit));
    CHECK_FALSE(holds(square || !lit));
    CHECK(holds(Condition::above("count", 2)));
    CHECK_FALSE(holds(Condition::above("count", 3)));
    CHECK(holds((square || round) && Condition::above("count", 0) && !(square && lit)));
    // What always holds adds nothing to "and", and leaves nothing to ask behind "or".
    CHECK((Condition() && round).ids() == std::vector<std::string_view>{"form"});
    CHECK((Condition() || round).always());
    CHECK(Condition().always());
    CHECK_FALSE(round.always());
    CHECK((round && (lit || square) && round).ids() == std::vector<std::string_view>{"form", "lit"});
}

TEST_CASE("what does not apply is known, and said in words", "[catalogue][conditions]") {
    const StepDescription& rings = *find_step("rings");
    const Parameter& knot_size = *rings.parameter("knot-size");
    CHECK_FALSE(relevant(rings, knot_size, {{"knots", 0.0}}));
    CHECK(relevant(rings, knot_size, {{"knots", 2.0}}));
    CHECK(when_text(rings, knot_size) == "Knots is above 0");
    CHECK(when_text(rings, *rings.parameter("depth")) == "not Cut is Quarter-sawn");
    const StepDescription& weave = *find_step("weave");
    const Parameter& way = *weave.parameter("way");
    CHECK(relevant(weave, way, {{"draft", std::string("twill")}}));
    CHECK_FALSE(relevant(weave, way, {{"draft", std::string("herringbone")}}));
    CHECK_FALSE(relevant(weave, way, {{"draft", std::string("plain")}}));
    const StepDescription& relief = *find_step("relief");
    CHECK(relevant(relief, *relief.parameter("shadow"), {{"lamp", std::string("shared")}}));
    CHECK_FALSE(relevant(relief, *relief.parameter("shadow"), {{"lamp", std::string("near")}}));
}

TEST_CASE("every choice that is told apart by looking has a picture of its own", "[catalogue][choices]") {
    int pictures = 0;
    for (const StepDescription& step : all_steps())
        for (const Parameter& p : step.parameters) {
            if (!p.visual) continue;
            std::vector<Bundle> all;
            for (const Choice& choice : p.choices) {
                INFO(step.id << " " << p.id << " " << choice.id);
                if (!has_picture(step, p, choice)) continue;
                const Recipe recipe = choice_recipe(step, p, choice);
                const auto place = place_at(recipe, {"strand", "shown", std::string(p.id)});
                REQUIRE(place);
                CHECK(place->value == Value(std::string(choice.id)));
                // The settings for pictures are ones that the step takes.
                for (const auto& [id, value] : p.on_pictures) {
                    REQUIRE(step.parameter(id));
                    CHECK_FALSE(refuses(*step.parameter(id), value));
                }
                const Bundle picture = cloth(recipe, {72, 72});
                CHECK(deviation_of(picture.channel(0)) > 0.03);
                for (const Bundle& other : all)
                    // What lies on nothing is told from what lies on black or white.
                    if (bool(picture.coverage) == bool(other.coverage)) CHECK(greatest_difference(picture, other) > 0.09);
                all.push_back(picture);
                ++pictures;
            }
        }
    CHECK(pictures > 20);
}
