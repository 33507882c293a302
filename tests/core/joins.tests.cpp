// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Joins that are more than a formula for a pixel: stipple and height-aware.
#include <algorithm>
#include <cmath>

#include "core/structures/join.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

Bundle flat(Size size, float tone) { return Bundle::of(Plane(size, tone), Plane(size, tone), Plane(size, tone)); }
Bundle covering(Size size, float tone, float cover) {
    Bundle bundle = Bundle::of(Plane(size, tone * cover));
    bundle.coverage = share(Plane(size, cover));
    return bundle;
}
Joining joining(Blend blend, float amount, Size tile, std::uint64_t seed = 1) { return {{blend, amount, false}, tile, seed}; }

double smooth(double t) {
    t = std::clamp(t, 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

}  // namespace

TEST_CASE("a stippled join covers as much as it is told, in whole dots", "[joins][stipple]") {
    const Size tile{128, 128};
    for (float cover : {0.1f, 0.35f, 0.8f})
        for (int times : {1, 4}) {
            const Size size{128 * times, 128 * times};
            INFO(cover << " at " << times);
            const Bundle out = joined(flat(size, 0), flat(size, 1), joining(Blend::stipple, cover, tile), nullptr, job);
            CHECK(mean_of(out.channel(0)) == Approx(cover).margin(0.03));
            if (times == 1) continue;
            // What is neither dot nor ground are edges of dots.
            double between = 0;
            for (std::size_t i = 0; i < size.pixels(); ++i)
                between += out.channel(0).data()[i] > 0.1f && out.channel(0).data()[i] < 0.9f;
            CHECK(between / static_cast<double>(size.pixels()) < 0.35);
            CHECK(deviation_of(out.channel(0)) > 0.75 * std::sqrt(cover * (1 - cover)));
        }
}

TEST_CASE("dots of a join lie by the design, whatever the picture's size, and differ from seed to seed", "[joins][stipple]") {
    const Size tile{96, 96};
    const auto at = [&](int times, std::uint64_t seed) {
        const Size size{96 * times, 96 * times};
        return joined(flat(size, 0), covering(size, 1, 0.4f), joining(Blend::stipple, 1, tile, seed), nullptr, job);
    };
    const Bundle large = resized(at(4, 1), {192, 192}), small = at(2, 1), other = at(2, 2);
    CHECK(mean_difference(large.channel(0), small.channel(0)) < 0.06);
    CHECK(mean_difference(other.channel(0), small.channel(0)) > 0.2);
    // Nothing shows where nothing covers, and no dark rim either.
    Bundle half = covering({192, 192}, 1, 0.5f);
    Plane cover(Size{192, 192}, 0.0f), tone(Size{192, 192}, 0.0f);
    for (int y = 0; y < 192; ++y)
        for (int x = 40; x < 100; ++x) cover.row(y)[x] = 0.5f, tone.row(y)[x] = 0.5f;
    half.colour = {share(std::move(tone))}, half.coverage = share(std::move(cover));
    const Bundle out = joined(flat({192, 192}, 0.6f), half, joining(Blend::stipple, 1, tile), nullptr, job);
    for (int y = 0; y < 192; ++y)
        for (int x = 0; x < 192; ++x) REQUIRE(out.channel(0).at(x, y) >= 0.6f - 1e-5f);
    CHECK(out.channel(0).at(10, 10) == Approx(0.6));
}

TEST_CASE("in a height-aware join the higher shows, with a soft edge", "[joins][height]") {
    const Size size{64, 48};
    Bundle under = flat(size, 0), over = flat(size, 1);
    under.named["height"] = share(random_plane(size, 1)), over.named["height"] = share(random_plane(size, 2));
    for (float amount : {1.0f, 0.7f, 0.0f}) {
        const Bundle out = joined(under, over, joining(Blend::height_aware, amount, size), nullptr, job);
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const double lead =
                double(over.plane("height")->data()[i]) - double(under.plane("height")->data()[i]) - (1 - double(amount)) * 1.05;
            REQUIRE(out.channel(0).data()[i] == Approx(smooth(lead / 0.1 + 0.5)).margin(1e-4));
        }
    }
    // The height of what shows comes along.
    const Bundle out = joined(under, over, joining(Blend::height_aware, 1, size), nullptr, job);
    const PlaneRef height = out.plane("height");
    REQUIRE(height);
    for (std::size_t i = 0; i < size.pixels(); ++i)
        REQUIRE(height->data()[i] == std::max(over.plane("height")->data()[i], under.plane("height")->data()[i]));
    // Over nothing everything is higher; kept within, nothing shows outside.
    CHECK(mean_of(joined(Bundle::nothing(size), over, joining(Blend::height_aware, 1, size), nullptr, job).channel(0)) ==
          Approx(1));
    CHECK(mean_of(joined(under, over, joining(Blend::height_aware, 1, size), share(Plane(size, 0.0f)), job).channel(0)) ==
          Approx(0));
}

TEST_CASE("a recipe joins by height and by dots, and makes the heights it needs", "[joins][recipe]") {
    Join by_height;
    by_height.blend = Blend::height_aware;
    const Strand ground = strand_of("ground", {{"cells", {{"show", std::string("dome")}}, 1}, {"gradientmap", {}}});
    const Recipe recipe = recipe_of({ground, strand_of("upper", {{"cells", {{"show", std::string("dome")}}, 5}}, by_height)});
    const Bundle both = cloth(recipe, {128, 128});
    // Both are seen somewhere.
    const Bundle below = cloth(recipe_of({ground}), {128, 128});
    double same = 0;
    for (std::size_t i = 0; i < both.size().pixels(); ++i) same += both.channel(0).data()[i] == below.channel(0).data()[i];
    same /= static_cast<double>(both.size().pixels());
    CHECK(same > 0.15);
    CHECK(same < 0.85);

    Join dotted;
    dotted.blend = Blend::stipple, dotted.amount = 50;
    const Recipe dots = recipe_of({strand_of("a", {{"flat", {{"colour", Colour{0, 0, 0}}}}}),
                                   strand_of("b", {{"flat", {{"colour", Colour{1, 1, 1}}}}}, dotted),
                                   strand_of("c", {{"flat", {{"colour", Colour{1, 0, 0}}}}}, dotted)});
    const Bundle out = cloth(dots, {256, 256});
    CHECK(mean_of(out.channel(0)) == Approx(0.75).margin(0.04));
    CHECK(mean_of(out.channel(1)) == Approx(0.25).margin(0.04));
    // In pieces it is the same, though dots reach over their edges.
    CHECK(same_bytes(out, cloth(dots, {256, 256}, 1)));
}
