// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Relief, shadows, mirrors and the lamp they follow.
#include <cmath>

#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "core/measure/measure.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size wide{64, 48};
float first(const Bundle& bundle, int x = 0, int y = 0) { return bundle.channel(0).at(x, y); }
Bundle grey(float tone) { return Bundle::of(Plane(wide, tone)); }
const Size square{64, 64};

}  // namespace

TEST_CASE("relief light leaves a level surface as it was and lights slopes by their angle", "[steps][relief]") {
    const Bundle level = grey(0.4f);
    CHECK(first(applied("relief", {{"shine", 0.0}}, &level, wide), 9, 9) == Approx(0.4).margin(1e-4));
    // A slope of 1 px in 4 rising to the right, lit from the left at 45 degrees.
    Plane ramp(wide);
    for (int y = 0; y < wide.height; ++y)
        for (int x = 0; x < wide.width; ++x) ramp.row(y)[x] = static_cast<float>(x) / 64;
    const Bundle in = Bundle::of(std::move(ramp));
    const Values set{{"depth", 16.0}, {"direction", 180.0}, {"elevation", 45.0},
                     {"shine", 0.0},  {"ambient", 0.0},     {"result", std::string("light")}};
    const double slope = 0.25, root = std::sqrt(0.5);
    CHECK(first(applied("relief", set, &in, wide), 30, 20) ==
          Approx((slope * root + root) / std::sqrt(1 + slope * slope)).margin(1e-4));
}

TEST_CASE("a shadow falls away from the lamp, and a pit darkens with occlusion", "[steps][relief]") {
    Plane post(wide, 0.0f);
    for (int y = 20; y < 28; ++y)
        for (int x = 28; x < 34; ++x) post.row(y)[x] = 1;
    const Bundle in = Bundle::of(std::move(post));
    const Values set{
        {"depth", 8.0},   {"direction", 180.0}, {"elevation", 30.0}, {"shine", 0.0}, {"result", std::string("light")},
        {"shadow", 20.0}, {"ambient", 0.0}};
    const Bundle lit = applied("relief", set, &in, wide);
    CHECK(first(lit, 40, 24) < 0.1 * first(lit, 20, 24));
    Values open = set;
    open["shadow"] = 0.0;
    open["occlusion"] = 100.0;
    const Bundle sky = applied("relief", open, &in, wide);
    CHECK(first(sky, 36, 24) < first(sky, 60, 4));
}

TEST_CASE("every relief can be pressed in, and closes", "[treatments][press]") {
    const Size of{256, 256};
    const Bundle in = Bundle::of(Plane(of, 0.5f), Plane(of, 0.4f), Plane(of, 0.3f));
    for (const char* source : {"duck", "sacking", "grit", "hide", "laid", "hammered"}) {
        const Bundle out = applied("press", {{"relief", std::string(source)}}, &in, of, 2);
        INFO(source);
        CHECK(deviation_of(out.channel(0)) > 0.01);
        CHECK(seam_across(out).ratio < 1.3);
        CHECK(seam_down(out).ratio < 1.3);
        // Light from the other side turns the relief round.
        const Bundle other = applied("press", {{"relief", std::string(source)}, {"depth", -3.0}}, &in, of, 2);
        double product = 0;
        const double mean = mean_of(out.channel(0)), mean_other = mean_of(other.channel(0));
        for (std::size_t i = 0; i < of.pixels(); ++i)
            product += (out.channel(0).data()[i] - mean) * (other.channel(0).data()[i] - mean_other);
        CHECK(product < 0);
    }
}

TEST_CASE("a flat mirror shows one tone, a bumpy one many, and rough ones are calmer", "[treatments][reflections]") {
    const Bundle flat = Bundle::of(Plane(square, 0.5f)), in = cloud_picture(square, 16);
    for (const char* surroundings : {"room", "window", "cards"}) {
        INFO(surroundings);
        const Values set{{"surroundings", std::string(surroundings)}};
        CHECK(deviation_of(applied("reflections", set, &flat, square).channel(0)) < 1e-5);
        Values rough = set;
        rough["roughness"] = 90.0;
        const double clear_spread = deviation_of(applied("reflections", set, &in, square).channel(0));
        CHECK(clear_spread > 0.04);
        // A window seen dimly lights more of the surface, so that only the others get calmer.
        if (std::string_view(surroundings) != "window")
            CHECK(deviation_of(applied("reflections", rough, &in, square).channel(0)) < clear_spread);
    }
    Values brushed{{"brushed", 60.0}};
    CHECK(deviation_of(applied("reflections", brushed, &flat, square).channel(0)) > 0.01);
}

TEST_CASE("steps that follow the lamp turn with it, others do not, and it is kept in the file", "[treatments][lamp]") {
    const Values follows{{"lamp", std::string("shared")}};
    Recipe recipe = recipe_of({strand_of("a", {{"clouds", {{"size-x", 16.0}, {"size-y", 16.0}}, 3}, {"relief", follows}})}, 64);
    const Bundle first = cloth(recipe, square);
    Recipe turned = with_lamp(recipe, {-45, 45});
    CHECK(greatest_difference(first, cloth(turned, square)) > 0.05);
    // The recipe's lamp at the step's own default is the step's own light.
    Recipe own = recipe_of({strand_of("a", {{"clouds", {{"size-x", 16.0}, {"size-y", 16.0}}, 3}, {"relief", {}}})}, 64);
    CHECK(same_bytes(first, cloth(own, square)));
    CHECK(same_bytes(cloth(own, square), cloth(with_lamp(own, {10, 20}), square)));
    const Reading back = read_recipe(write_recipe(turned));
    CHECK_FALSE(back.first_fault());
    CHECK(back.recipe == turned);
    CHECK_FALSE(back.recipe == recipe);
    // A cached picture of one lamp is not taken for another's.
    Cache cache(std::size_t{1} << 28);
    const Bundle cached = cloth(recipe, square, 0, &cache);
    CHECK(same_bytes(cached, first));
    CHECK(same_bytes(cloth(turned, square, 0, &cache), cloth(turned, square)));
    std::string wrong = write_recipe(turned);
    wrong.replace(wrong.find("\"elevation\": 45"), 15, "\"elevation\": 95");
    REQUIRE(read_recipe(wrong).first_fault());
    CHECK(read_recipe(wrong).first_fault()->pointer == "/lamp/elevation");
}
