// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Heights that are summed, joined and carried along.
#include <algorithm>
#include <cmath>

#include "core/image/surface.h"
#include "core/image/tally.h"
#include "core/recipe/edits.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{96, 96};

std::string word(const char* text) { return text; }

Bundle with_height(Plane tone, Plane height) {
    Bundle bundle = Bundle::of(std::move(tone));
    bundle.named[std::string(height_plane)] = share(std::move(height));
    return bundle;
}

/// The height that a step hands on; null if it has none.
PlaneRef height_after(const char* kind, const Values& set, const Bundle& in) {
    const auto out = apply_step(*find_step(kind), set, 0, size, &in, {}, 0, job, {std::string(height_plane)});
    REQUIRE(out);
    return out->plane(height_plane);
}

double smooth_least(double a, double b, double width) {
    const double h = std::max(width - std::abs(a - b), 0.0);
    return std::min(a, b) - h * h / (4 * width);
}

}  // namespace

TEST_CASE("sums of heights are signed, clip nothing and are the same in linear light", "[heights][blend]") {
    const Bundle under = random_bundle(size, 1, false, 1), over = Bundle::of(random_plane(size, 2, -0.5f, 1.8f));
    struct Case {
        Blend blend;
        std::function<double(double, double)> of;
    };
    for (const Case& each : {Case{Blend::add_relief, [](double a, double b) { return a + b - 0.5; }},
                             Case{Blend::minimum, [](double a, double b) { return std::min(a, b); }},
                             Case{Blend::maximum, [](double a, double b) { return std::max(a, b); }},
                             Case{Blend::smooth_minimum, [](double a, double b) { return smooth_least(a, b, 0.3); }},
                             Case{Blend::smooth_maximum, [](double a, double b) { return -smooth_least(-a, -b, 0.3); }}}) {
        CAPTURE(std::string(blend_id(each.blend)));
        for (const float amount : {1.0f, 0.4f}) {
            const Bundle out = blended(under, over, {each.blend, amount, false, 0.3f}, nullptr, job);
            for (std::size_t i = 0; i < size.pixels(); ++i) {
                const double a = static_cast<double>(under.channel(0).data()[i]),
                             b = static_cast<double>(over.channel(0).data()[i]);
                REQUIRE(static_cast<double>(out.channel(0).data()[i]) ==
                        Approx(a + static_cast<double>(amount) * (each.of(a, b) - a)).margin(1e-5));
            }
            CHECK(same_bytes(out, blended(under, over, {each.blend, amount, true, 0.3f}, nullptr, job)));
        }
    }
    // A small bump on a slope that is white already is still a bump.
    const Bundle white = Bundle::of(Plane(size, 1.0f)), bump = Bundle::of(Plane(size, 0.75f));
    CHECK(blended(white, bump, {Blend::add_relief}, nullptr, job).channel(0).at(3, 3) == Approx(1.25f));
}

TEST_CASE("heights are summed by joins and routes, smoothly over the width that is set", "[heights][joins]") {
    Join join;
    join.blend = Blend::smooth_maximum, join.width = 0.4;
    const Recipe wide = recipe_of({strand_of("a", {{"clouds", {}, 1}}), strand_of("b", {{"clouds", {}, 2}}, join)}, 96);
    Recipe narrow = wide;
    join.width = 0;
    narrow = with_join(narrow, "b", join);
    const Bundle soft = cloth(wide, size), hard = cloth(narrow, size);
    CHECK(mean_of(soft.channel(0)) > mean_of(hard.channel(0)) + 0.005);
    for (std::size_t i = 0; i < size.pixels(); ++i) REQUIRE(soft.channel(0).data()[i] >= hard.channel(0).data()[i] - 1e-6f);
    Recipe routed = with_route(wide, "a", Map::height, Route{});
    routed = with_route(routed, "b", Map::height, Route{Blend::add_relief, 50});
    RenderOptions options;
    const auto maps = render(routed, size, {{Wanted::What::map, "", "", Map::height}}, options, job);
    REQUIRE(maps);
    const Plane& height = maps->results.begin()->second.channel(0);
    const Bundle a = cloth(recipe_of({*wide.strand("a")}, 96), size);
    Strand only = *wide.strand("b");
    only.join = {};
    const Bundle b = cloth(recipe_of({only}, 96), size);
    for (std::size_t i = 0; i < size.pixels(); i += 7)
        REQUIRE(height.data()[i] == Approx(a.channel(0).data()[i] + 0.5f * (b.channel(0).data()[i] - 0.5f)).margin(1e-4));
}

TEST_CASE("laying in joins heights as it joins pictures, and what has none is as high as it is light", "[heights][inlay]") {
    const Bundle plain = random_bundle(size, 5, false, 1), over = with_height(Plane(size, 0.9f), random_plane(size, 6));
    const auto height_of = [&](double amount, const char* blend, const char* planes) {
        return applied("inlay",
                       {{"strand", word("o")}, {"join-amount", amount}, {"blend", word(blend)}, {"planes", word(planes)}}, &plain,
                       size, 0, 0, &over)
            .plane(height_plane);
    };
    const PlaneRef own = over.plane(height_plane);
    for (const double amount : {30.0, 70.0, 100.0}) {
        const PlaneRef joined = height_of(amount, "normal", "joined");
        REQUIRE(joined);
        for (std::size_t i = 0; i < size.pixels(); i += 5) {
            const float tone = plain.channel(0).data()[i],
                        wanted = tone + static_cast<float>(amount / 100) * (own->data()[i] - tone);
            REQUIRE(joined->data()[i] == Approx(wanted).margin(1e-5));
        }
        CHECK(deviation_of(*joined) > 0.1);
    }
    CHECK_FALSE(height_of(100, "normal", "picture"));
    // What has no height lies flat on what has one, wherever it covers.
    const Bundle high = with_height(Plane(size, 0.2f), random_plane(size, 7)), form = random_bundle(size, 8, true, 1);
    const Bundle laid = applied("inlay", {{"strand", word("o")}}, &high, size, 0, 0, &form);
    CHECK(same_bytes(*laid.plane(height_plane), *high.plane(height_plane)));
}

TEST_CASE("a height that comes along goes through every step as its kind says", "[heights][catalogue]") {
    // What changes tones by a curve changes it by the same, what filters or moves treats it as a picture, all else leaves it.
    const Plane tone = random_plane(size, 9, 0.1f, 0.9f);
    for (const StepDescription& step : all_steps()) {
        if (step.family == Family::make || step.carry) continue;
        CAPTURE(std::string(step.id));
        const Bundle in = with_height(tone.clone(), tone.clone());
        // Two bends tone what they bend besides.
        Values plain;
        if (step.id == "byobject") plain["tone"] = 0.0;
        if (step.id == "crinkle") plain["glint"] = 0.0;
        // Dirt fills a height, and wear lowers it, by so much as they say.
        if (step.id == "settle") plain["thickness"] = 0.0;
        if (step.id == "wear") plain["depth"] = 0.0;
        const Bundle out = applied(std::string(step.id), plain, &in, size, 1);
        const PlaneRef height = out.plane(height_plane);
        const bool makes = std::find(step.planes.begin(), step.planes.end(), height_plane) != step.planes.end();
        if (makes) continue;
        REQUIRE(height);
        const bool follows = step.parameter("height-follows") || step.family == Family::soften || step.family == Family::bend;
        if (follows && out.grey() && out.size() == size)
            CHECK(greatest_difference(*height, out.channel(0)) < 0.02);
        else if (step.family == Family::tune || step.family == Family::mask || step.family == Family::shade)
            CHECK(greatest_difference(*height, tone) < 1e-6);
        if (!step.parameter("height-follows")) continue;
        CHECK(same_bytes(*applied(std::string(step.id), {{"height-follows", false}}, &in, size, 1).plane(height_plane), tone));
    }
    // The curve is not nothing.
    const Bundle in = with_height(tone.clone(), tone.clone());
    const Recipe recipe = recipe_of(
        {strand_of("a", {{"cells", {{"show", word("dome")}}, 2}, {"levels", {{"in-black", 0.3}, {"in-white", 0.7}}}})}, 96);
    RenderOptions options;
    const auto made = render(recipe, size, {{Wanted::What::map, "", "", Map::height}}, options, job);
    REQUIRE(made);
    const Bundle tight = applied("levels", {{"in-black", 0.3}, {"in-white", 0.7}}, &in, size);
    CHECK(greatest_difference(*tight.plane(height_plane), tight.channel(0)) < 1e-6);
    CHECK(deviation_of(tight.channel(0)) > 1.3 * deviation_of(tone));
}

TEST_CASE("a bevelled form is as high as its slope, without a jump at its edge", "[heights][edge]") {
    const Bundle form = applied("shape", {{"width", 60.0}, {"height", 60.0}}, nullptr, size);
    for (const char* side : {"inner", "both"}) {
        CAPTURE(side);
        const PlaneRef height = height_after("bevel", {{"width", 16.0}, {"rise", 16.0}, {"side", word(side)}}, form);
        REQUIRE(height);
        CHECK(static_cast<double>(height->at(48, 48)) == Approx(16 / height_range_px).margin(0.02));
        CHECK(height->at(2, 2) == Approx(0).margin(1e-4));
        float steepest = 0;
        for (int x = 1; x < size.width; ++x) steepest = std::max(steepest, std::abs(height->at(x, 48) - height->at(x - 1, 48)));
        // The profile's steepest part rises three times as fast as the mean.
        CHECK(static_cast<double>(steepest) < 3.5 / height_range_px);
    }
}

TEST_CASE("a rim line stands in the height, and dents what it lies on", "[heights][edge]") {
    const Bundle form =
        applied("shape", {{"width", 70.0}, {"height", 70.0}, {"colour", Colour{0.5f, 0.5f, 0.5f}}}, nullptr, size);
    const Values set{{"inset", 10.0}, {"width", 6.0}};
    CHECK_FALSE(height_after("rim", set, form));
    Values high = set;
    high["rise"] = 4.0, high["dent"] = 3.0;
    const PlaneRef height = height_after("rim", high, form);
    REQUIRE(height);
    // The form begins at 13; the line lies from 23 to 29, its ground beside it is drawn down.
    CHECK(static_cast<double>(height->at(26, 48)) == Approx(0.5 + 4 / height_range_px).margin(0.03));
    CHECK(height->at(21, 48) < 0.5f - 0.01f);
    CHECK(height->at(48, 48) == Approx(0.5f).margin(0.002));
    high["rise"] = -4.0, high["dent"] = 0.0;
    CHECK(height_after("rim", high, form)->at(26, 48) < 0.45f);
}
