// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Dials and colourways made from a single value.
#include "core/recipe/drives.h"

#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Address octaves{"a", "s1", "octaves"}, black{"a", "s2", "in-black"};

Recipe one() { return recipe_of({strand_of("a", {{"clouds", {{"octaves", 4.0}}}, {"levels", {{"in-black", 0.3}}}})}); }

double value(const Recipe& recipe, const Address& at) { return as<double>(*value_at(recipe, at)); }

}  // namespace

TEST_CASE("a dial that is made of a value stands where the value is and moves it over its slider", "[drives][edits]") {
    const Recipe made = dial_made(one(), black, "Black");
    REQUIRE(made.dials.size() == 1);
    const Parameter p = place_at(made, black)->parameter;
    CHECK(value(with_dial(made, "Black", made.dials[0].value), black) == Approx(0.3));
    CHECK(value(with_dial(made, "Black", 0), black) == Approx(p.slider_min));
    CHECK(value(with_dial(made, "Black", 100), black) == Approx(p.slider_max));
    CHECK(dials_of(made, black) == std::vector<std::string>{"Black"});
    CHECK(dial_made(made, black, "Black").dials[1].name == "Black 2");
    // Choices and switches have no way between.
    CHECK(!can_be_driven(made, {"a", "s1", "form"}));
    CHECK(dial_made(made, {"a", "s1", "form"}, "Form") == made);
    CHECK(dial_made(made, {"a", "none", "x"}, "X") == made);
}

TEST_CASE("a dial takes another value along from where it is, and lets it go", "[drives][edits]") {
    Recipe made = dial_made(one(), black, "Both");
    made = driven_by(made, octaves, "Both");
    REQUIRE(made.dials[0].drives.size() == 2);
    const double present = made.dials[0].value;
    // Nothing jumps when it is taken along.
    CHECK(value(with_dial(made, "Both", present), octaves) == 4);
    for (double at : {0.0, 25.0, 100.0}) {
        const double moved = value(with_dial(made, "Both", at), octaves);
        CHECK((moved >= 1 && moved <= 12));
    }
    CHECK(value(with_dial(made, "Both", 100), octaves) > 4);
    CHECK(driven_by(made, octaves, "Both") == made);
    made = undriven(made, octaves);
    CHECK(dials_of(made, octaves).empty());
    CHECK(undriven(made, black).dials.empty());
}

TEST_CASE("a colourway sets a value or leaves it alone", "[drives][edits]") {
    Recipe made = colourway_kept(one(), "Smoked");
    made = set_by_colourway(made, "Smoked", black, true);
    CHECK(made.colourways[0].set.contains(black));
    const Recipe changed = with_value(made, black, Value(0.1));
    CHECK(value(with_colourway(changed, "Smoked"), black) == Approx(0.3));
    made = set_by_colourway(made, "Smoked", black, false);
    CHECK(!made.colourways[0].set.contains(black));
    CHECK(set_by_colourway(made, "none", black, true) == made);
}

TEST_CASE("a dial's ranges are set, its values freed, and it is renamed and removed", "[dials]") {
    Recipe recipe = recipe_of({strand_of("a", {{"clouds", {{"size-x", 60.0}}}, {"levels", {}}})});
    const Address black{"a", "s2", "in-black"}, white{"a", "s2", "in-white"};
    recipe = dial_made(recipe, black, "Depth");
    recipe = driven_by(recipe, white, "Depth");
    recipe = with_dial(recipe, "Depth", 100);
    // The end that the dial stands at moves the value at once; beyond its range it is cut.
    recipe = drive_ended(recipe, "Depth", black, true, 0.6);
    CHECK(value_at(recipe, black) == Value(0.6));
    recipe = drive_ended(recipe, "Depth", black, false, 0.9);
    CHECK(as<double>(*value_at(with_dial(recipe, "Depth", 0), black)) == Approx(0.9));
    CHECK(as<double>(*value_at(with_dial(recipe, "Depth", 50), black)) == Approx(0.75));
    CHECK(drive_ended(recipe, "Depth", black, true, 7).dials[0].drives[0].to == 1);
    CHECK(drive_ended(recipe, "Depth", {"a", "s1", "size-x"}, true, 7) == recipe);
    recipe = dial_made(recipe, {"a", "s1", "size-x"}, "Size");
    CHECK(dial_renamed(recipe, "Depth", "Size").dials[0].name == "Size 2");
    CHECK(dial_renamed(recipe, "Depth", "Dark").dials[0].name == "Dark");
    CHECK(dial_renamed(recipe, "Depth", "") == recipe);
    CHECK(freed_from(recipe, "Depth", black).dials[0].drives.size() == 1);
    CHECK(freed_from(recipe, "Size", {"a", "s1", "size-x"}).dials.size() == 1);
    const Recipe without = dial_removed(recipe, "Depth");
    CHECK(without.dials.size() == 1);
    CHECK(without.strands == recipe.strands);
}
