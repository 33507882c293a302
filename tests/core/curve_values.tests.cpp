// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Curves as values: how they are written, what is refused, and their points by address.
#include "core/catalogue/value_kind.h"
#include "core/recipe/json.h"
#include "core/recipe/places.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Parameter& all_curve() { return *find_step("curves")->parameter("all"); }

std::string refused(const CurvePoints& points) { return refuses(all_curve(), Value(points)).value_or(""); }

Recipe with_curve(const CurvePoints& points) {
    return recipe_of({strand_of("a", {{"clouds", {}, 1}, {"curves", {{"all", Value(points)}}}})}, 64);
}

}  // namespace

TEST_CASE("curves are written and read alike, as text and in files", "[curve][values]") {
    const CurvePoints points{{0, 0.1}, {0.35, 0.5}, {1, 0.9}};
    CHECK(curve_kind().text(Value(points)) == "0 0.1, 0.35 0.5, 1 0.9");
    CHECK(parse_value(all_curve(), "0 0.1, 0.35 0.5, 1 0.9") == Value(points));
    for (const char* wrong : {"0", "0 0.1 2", "0 a, 1 1", "here"}) CHECK_FALSE(parse_value(all_curve(), wrong));
    const Recipe recipe = with_curve(points);
    const auto read = read_recipe(write_recipe(recipe));
    CHECK(read.findings.empty());
    CHECK(read.recipe == recipe);
    CHECK(show_value(all_curve(), Value(straight_curve())) == "straight");
    CHECK(show_value(all_curve(), Value(points)) == "3 points");
}

TEST_CASE("a curve that goes back, leaves its range or has too few or too many points is refused by name",
          "[curve][values][faults]") {
    CHECK(refused({{0, 0}, {1, 1}}).empty());
    CHECK_THAT(refused({{0.5, 0}}), Catch::Contains("two points"));
    CHECK_THAT(refused({{0, 0}, {0.6, 1}, {0.4, 1}}), Catch::Contains("order"));
    CHECK_THAT(refused({{0, 0}, {0.4, 1}, {0.4, 1}}), Catch::Contains("order"));
    CHECK_THAT(refused({{0, 0}, {1, 1.5}}), Catch::Contains("0 to 1"));
    CurvePoints many;
    for (int k = 0; k < 70; ++k) many.push_back({k / 69.0, 0.5});
    CHECK_THAT(refused(many), Catch::Contains("64"));
    // In a file every faulty point is named.
    std::string text = write_recipe(with_curve({{0, 0}, {0.5, 0.7}, {1, 1}}));
    const auto at = text.find("0.7");
    REQUIRE(at != std::string::npos);
    text.replace(at, 3, "\"x\"");
    const auto read = read_recipe(text);
    REQUIRE(read.first_fault());
    CHECK_THAT(read.first_fault()->text(), Catch::Contains("/set/all/1"));
}

TEST_CASE("points of a curve have addresses, and cannot be moved past each other", "[curve][places]") {
    const Recipe recipe = with_curve({{0, 0}, {0.5, 0.7}, {1, 1}});
    const Address in{"a", "s2", "all.1.in"}, out{"a", "s2", "all.1.out"};
    CHECK(value_at(recipe, in) == Value(0.5));
    CHECK(as<CurvePoints>(*value_at(with_value(recipe, out, Value(0.2)), {"a", "s2", "all"}))[1] == CurvePoint{0.5, 0.2});
    CHECK(refuses(recipe, in, Value(1.0)));
    CHECK(refuses(recipe, in, Value(0.0)));
    CHECK_FALSE(refuses(recipe, in, Value(0.99)));
    CHECK_FALSE(value_at(recipe, {"a", "s2", "all.3.in"}));
    CHECK(Address::parse("a/s2.all.1.out") == out);
}
