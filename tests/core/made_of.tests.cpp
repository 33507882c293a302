// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What sources are made of: named planes are made where they are asked for, mean what they say, and are taken by borrowed
// strands, layers, formulas and routes alike.
#include <cmath>
#include <set>

#include "core/image/plane_names.h"
#include "core/recipe/edits.h"
#include "core/recipe/idle_steps.h"
#include "core/recipe/json.h"
#include "core/recipe/places.h"
#include "core/recipe/strand_planes.h"
#include "core/steps/formula/formula.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{192, 192};
Value word(const char* text) { return Value(std::string(text)); }

Bundle made(std::string_view kind, const Values& set, const std::set<std::string, std::less<>>& planes, std::uint32_t seed = 5,
            const Bundle* in = nullptr, const std::map<std::string, const Bundle*, std::less<>>& others = {}) {
    const auto out = apply_step(*find_step(kind), set, seed, size, in, others, 0, job, planes);
    REQUIRE(out);
    return *out;
}

std::set<std::string, std::less<>> planes_of(const StepDescription& step) { return {step.planes.begin(), step.planes.end()}; }

/// Calls look(x, y) for every pixel.
template <class Look>
void each_pixel(Look&& look) {
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) look(x, y);
}

double share_of(const Plane& plane, float above) {
    int count = 0;
    each_pixel([&](int x, int y) { count += plane.at(x, y) > above; });
    return count / static_cast<double>(size.pixels());
}

}  // namespace

TEST_CASE("every plane of a step has a name, is made where it is asked for and nowhere else", "[planes]") {
    std::set<std::string_view> ids, words;
    for (const PlaneName& plane : plane_names()) {
        CAPTURE(std::string(plane.id));
        CHECK(ids.insert(plane.id).second);
        CHECK(words.insert(plane.word).second);
        CHECK(plane.help.ends_with('.'));
        CHECK(find_plane_word(plane.word) == &plane);
    }
    const Bundle in = cloud_picture(size, 60);
    for (const StepDescription& step : all_steps()) {
        if (step.planes.empty() || step.family != Family::make) continue;
        CAPTURE(std::string(step.id));
        const Bundle all = made(step.id, {}, planes_of(step)), none = made(step.id, {}, {});
        CHECK(none.named.empty());
        // Nobody's picture depends on who looks at its parts.
        CHECK(greatest_difference(Bundle{all.colour, all.coverage, {}}, none) < 1e-6);
        for (std::string_view id : step.planes) {
            CAPTURE(std::string(id));
            const PlaneName* name = find_plane(id);
            REQUIRE(name);
            const PlaneRef plane = all.plane(id);
            REQUIRE(plane);
            float least = 1e9f, greatest = -1e9f;
            each_pixel(
                [&](int x, int y) { least = std::min(least, plane->at(x, y)), greatest = std::max(greatest, plane->at(x, y)); });
            CHECK((std::isfinite(least) && std::isfinite(greatest)));
            // Heights go from 0 to about 1.
            if (name->in_range && id != height_plane) CHECK((least >= -1e-4f && greatest <= 1.0001f));
        }
    }
}

TEST_CASE("a plane is the same whoever takes it: borrowed, laid in, by a formula, or into a map", "[planes]") {
    const Strand timber = [] {
        Strand strand = strand_of("timber", {{"rings", {{"pores", 60.0}}, 4}});
        strand.routes[Map::height] = {Blend::normal, 100, 0.1, "pores"};
        return strand;
    }();
    const auto taken = [&](StepOrder step, StepOrder before = {"flat", {{"colour", Colour{0, 0, 0}}}}) {
        Strand hidden = timber;
        hidden.on = false;
        std::vector<StepOrder> steps;
        if (step.kind == "inlay") steps.push_back(std::move(before));
        steps.push_back(std::move(step));
        return cloth(recipe_of({hidden, strand_of("own", steps)}), size);
    };
    const Bundle borrowed = taken({"borrow", {{"strand", word("timber")}, {"output", word("pores")}}});
    CHECK(mean_of(borrowed.channel(0)) > 0.01);
    CHECK(greatest_difference(borrowed.channel(0),
                              taken({"inlay", {{"strand", word("timber")}, {"output", word("pores")}}}).channel(0)) < 1e-5);
    const StepOrder formula{"formula", {{"strand", word("timber")}, {"expression", word("a.pores")}}};
    CHECK(greatest_difference(borrowed.channel(0), taken(formula).channel(0)) < 1e-5);
    const Wanted height{Wanted::What::map, "", "", Map::height};
    const auto rendered = render(recipe_of({timber}), size, {height}, {}, job);
    REQUIRE(rendered);
    CHECK(greatest_difference(borrowed.channel(0), rendered->results.at(height).channel(0)) < 1e-5);
    // What a strand does not have is black.
    CHECK(mean_of(taken({"borrow", {{"strand", word("timber")}, {"output", word("crown")}}}).channel(0)) == 0);
}

TEST_CASE("what a strand is made of is told by its steps, and by what they borrow", "[planes]") {
    const Recipe recipe =
        recipe_of({strand_of("cloth", {{"weave", {}}, {"gaussian", {}}}), strand_of("over", {{"weave", {}}, {"flat", {}}}),
                   strand_of("from", {{"borrow", {{"strand", word("cloth")}}}}),
                   strand_of("one", {{"borrow", {{"strand", word("cloth")}, {"output", word("crown")}}}})});
    CHECK(planes_of_strand(recipe, "cloth").contains(planes::crown));
    CHECK(planes_of_strand(recipe, "over").empty());
    CHECK(planes_of_strand(recipe, "from").contains(planes::yarn));
    CHECK(planes_of_strand(recipe, "one").empty());
    CHECK(planes_of_strand(recipe, "nobody").empty());
    // What a strand does not have is said with its place.
    Recipe wrong = with_value(recipe, {"one", "s1", "output"}, word("pores"));
    const auto said = idle_steps(wrong);
    REQUIRE_FALSE(said.empty());
    CHECK(said.back().pointer == "/strands/3/steps/0");
    CHECK_THAT(said.back().message, Catch::Contains("Pores"));
    // Its picture: numbers are spread from black to white.
    const Bundle numbers = cloth(taken_recipe(recipe, "cloth", "yarn"), size);
    CHECK(deviation_of(numbers.channel(0)) > 0.1);
    CHECK(recipe.strands.size() == 4);
}

TEST_CASE("a route keeps what it feeds, in files and addresses, and refuses what there is not", "[planes][recipe]") {
    Strand strand = strand_of("a", {{"rings", {}}});
    strand.routes[Map::roughness] = {Blend::normal, 60, 0.1, "early-wood"};
    const Recipe recipe = recipe_of({strand});
    const Reading again = read_recipe(write_recipe(recipe));
    REQUIRE_FALSE(again.first_fault());
    CHECK(again.recipe.strand("a")->routes.at(Map::roughness).plane == "early-wood");
    const Address at{"a", "", "routes.roughness.plane"};
    CHECK(value_at(recipe, at) == Value(std::string("early-wood")));
    CHECK(with_value(recipe, at, word("pores")).strand("a")->routes.at(Map::roughness).plane == "pores");
    std::string wrong = write_recipe(recipe);
    wrong.replace(wrong.find("early-wood"), 10, "earlywood");
    REQUIRE(read_recipe(wrong).first_fault());
    CHECK_THAT(read_recipe(wrong).first_fault()->message, Catch::Contains("plane"));
}

TEST_CASE("rings tell early from late wood, count themselves, and lie where their fibres do", "[planes][rings]") {
    const Bundle timber =
        made("rings", {{"cut", word("quarter")}, {"bands", 12.0}, {"knots", 0.0}, {"comb", 0.0}}, planes_of(*find_step("rings")));
    const Plane &early = *timber.plane(planes::early), &late = *timber.plane(planes::late),
                &number = *timber.plane(planes::ring_number), &across = *timber.plane(planes::fibre_across);
    std::set<int> rings;
    int both = 0;
    each_pixel([&](int x, int y) {
        rings.insert(static_cast<int>(number.at(x, y)));
        both += early.at(x, y) > 0.5f && late.at(x, y) > 0.7f;
    });
    CHECK(rings.size() == 12);
    CHECK(both < 0.02 * static_cast<double>(size.pixels()));
    // Upright fibres rise straight, and their place across grows from left to right but for where it begins anew.
    int back = 0;
    for (int x = 1; x < size.width; ++x) back += across.at(x, 90) < across.at(x - 1, 90);
    CHECK(back <= 1);
    CHECK(std::abs(mean_of(*timber.plane(planes::grain_direction)) - 0.5) < 0.02);
    // The rings alone have no fibres: what is left of them differs less from row to row.
    CHECK(deviation_of(*timber.plane(planes::ring)) < deviation_of(timber.channel(0)));
}

TEST_CASE("weave tells warp from weft, and each yarn by its number", "[planes][weave]") {
    const Bundle woven = made("weave", {{"draft", word("plain")}, {"warp", 12.0}, {"weft", 10.0}, {"jitter", 0.0}},
                              planes_of(*find_step("weave")));
    const Plane &warp = *woven.plane(planes::warp), &yarn = *woven.plane(planes::yarn);
    std::set<int> yarns;
    each_pixel([&](int x, int y) {
        const float number = yarn.at(x, y);
        yarns.insert(static_cast<int>(number));
        // Warps come first.
        if (number > 0) CHECK((warp.at(x, y) == 1) == (number <= 12));
    });
    yarns.erase(0);
    CHECK(yarns.size() == 22);
    CHECK(share_of(warp, 0.5f) > 0.3);
    CHECK(share_of(warp, 0.5f) < 0.75);
}

TEST_CASE("joints are what no unit covers, and an arris begins at 0", "[planes][courses]") {
    const Values plain{{"columns", 3.0},         {"rows", 4.0},   {"joint", 12.0}, {"wander", 0.0},
                       {"steady", Value(false)}, {"chips", 0.0},  {"wear", 0.0},   {"ragged", 0.0},
                       {"smear", 0.0},           {"broken", 0.0}, {"turn", 0.0},   {"offset", 0.0}};
    const Bundle wall = made("courses", plain, planes_of(*find_step("courses")));
    const Plane &joint = *wall.plane(planes::joint), &arris = *wall.plane(planes::arris), &height = *wall.plane(height_plane);
    each_pixel([&](int x, int y) {
        if (joint.at(x, y) > 0.99f) {
            CHECK(arris.at(x, y) == 0);
            // Pointing: three quarters below the faces.
            CHECK(height.at(x, y) == Approx(0.25).margin(1e-4));
        }
        if (arris.at(x, y) > 0.5f) CHECK(joint.at(x, y) == 0);
    });
    CHECK(share_of(joint, 0.5f) > 0.1);
    // Shingles lie one over the other: no joint is left, and several layers show.
    Values shingles = plain;
    shingles["overlap"] = 60.0, shingles["joint"] = 0.0;
    const Bundle pile = made("courses", shingles, planes_of(*find_step("courses")));
    CHECK(share_of(*pile.plane(planes::joint), 0.5f) < 0.01);
    std::set<float> layers;
    each_pixel([&](int x, int y) { layers.insert(pile.plane(planes::layer)->at(x, y)); });
    CHECK(layers.size() > 6);
}

TEST_CASE("facets tell their own slopes, which are those of their height", "[planes][facets]") {
    const Values flat{{"count", 24.0}, {"levels", 1.0}, {"curvature", 0.0}, {"sharpness", 100.0}, {"bend", 0.0}};
    const Bundle sheet = made("facets", flat, planes_of(*find_step("facets")));
    const Plane &right = *sheet.plane(objects::tilt[0]), &id = *sheet.plane(objects::id), &crease = *sheet.plane(planes::crease);
    int looked = 0;
    each_pixel([&](int x, int y) {
        if (x < 4 || x > size.width - 5 || crease.at(x, y) > 0.02f || id.at(x - 4, y) != id.at(x + 4, y)) return;
        const float rise = (sheet.channel(0).at(x + 1, y) - sheet.channel(0).at(x - 1, y)) / 2;
        CHECK(rise == Approx(right.at(x, y)).margin(1e-4));
        ++looked;
    });
    CHECK(looked > 500);
}

TEST_CASE("strokes tell the way from their root to their tip, and layers that sink are darker", "[planes][dashes]") {
    const Values few{{"count", 12.0}, {"length", 90.0},     {"width", 8.0},     {"curl", 0.0},
                     {"taper", 0.0},  {"tone-spread", 0.0}, {"direction", 0.0}, {"direction-spread", 0.0}};
    const Bundle strokes = made("dashes", few, planes_of(*find_step("dashes")));
    const Plane& tip = *strokes.plane(planes::root_to_tip);
    // All run to the right: within a row of one object the way only grows.
    int steps = 0;
    each_pixel([&](int x, int y) {
        const Plane& id = *strokes.plane(objects::id);
        if (x == 0 || id.at(x, y) == 0 || id.at(x, y) != id.at(x - 1, y) || tip.at(x - 1, y) > tip.at(x, y) + 0.5f) return;
        CHECK(tip.at(x, y) >= tip.at(x - 1, y) - 1e-4f);
        ++steps;
    });
    CHECK(steps > 500);
    Values felt{{"count", 4000.0}, {"tone-spread", 0.0}, {"combine", word("over")}, {"layers", 4.0}, {"sink", 80.0}};
    const Bundle sunk = made("dashes", felt, planes_of(*find_step("dashes")));
    double low = 0, high = 0;
    int low_count = 0, high_count = 0;
    each_pixel([&](int x, int y) {
        const float up = sunk.plane(planes::layer)->at(x, y), cover = sunk.coverage->at(x, y);
        if (cover < 0.9f || up == 0) return;
        (up < 0.5f ? low : high) += static_cast<double>(sunk.channel(0).at(x, y));
        ++(up < 0.5f ? low_count : high_count);
    });
    REQUIRE((low_count > 10 && high_count > 10));
    CHECK(low / low_count < 0.8 * high / high_count);
}

TEST_CASE("creases are deep where tops are low, and each has the lot of its two cells", "[planes][cells]") {
    const Bundle cells = made("cells", {{"size", 48.0}, {"wander", 0.0}, {"second", 0.0}, {"tone-spread", 0.0}, {"tilt", 0.0}},
                              planes_of(*find_step("cells")));
    const Plane& crease = *cells.plane(planes::crease);
    double together = 0, a = 0, b = 0;
    const double mean_a = mean_of(crease), mean_b = mean_of(cells.channel(0));
    each_pixel([&](int x, int y) {
        const double p = static_cast<double>(crease.at(x, y)) - mean_a,
                     q = static_cast<double>(cells.channel(0).at(x, y)) - mean_b;
        together += p * q, a += p * p, b += q * q;
    });
    CHECK(together / std::sqrt(a * b) < -0.9);
    CHECK(deviation_of(*cells.plane(planes::pair)) > 0.1);
}

TEST_CASE("formulas name planes only of a strand, so that they take no name from anybody", "[planes][formula]") {
    CHECK(read_formula("pores * 2").inputs == std::vector<std::string>{"pores"});
    CHECK_FALSE(read_formula("b.grain_direction + a.pores").fault);
    CHECK(read_formula("b.poers").fault);
}
