// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gradients: their forms, their ends, their stops, and the loop that reads many places of a ramp at once.
#include <cmath>

#include "core/colour/colour.h"
#include "core/structures/ramp.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size wide{64, 48};
const Stops black_white{{0, {0, 0, 0}, 0}, {1, {1, 1, 1}, 0}};
float first(const Bundle& bundle, int x = 0, int y = 0) { return bundle.channel(0).at(x, y); }

Bundle gradient(Values set) {
    set["stops"] = black_white;
    set["mix"] = std::string("srgb");
    return applied("gradient", set, nullptr, wide);
}

}  // namespace

TEST_CASE("gradients lie as their form says", "[steps][gradient]") {
    const Bundle down = gradient({{"repeat", std::string("once")}});
    CHECK(first(down, 5, 0) == Approx(0.5 / 48).margin(1e-4));
    CHECK(first(down, 60, 47) == Approx(47.5 / 48).margin(1e-4));
    const Bundle radial = gradient({{"form", std::string("radial")},
                                    {"from-x", 50.0},
                                    {"from-y", 50.0},
                                    {"to-x", 100.0},
                                    {"to-y", 50.0},
                                    {"repeat", std::string("once")}});
    CHECK(first(radial, 32, 24) == Approx(std::hypot(0.5, 0.5) / 32).margin(1e-4));
    CHECK(first(radial, 63, 24) == Approx(std::hypot(31.5, 0.5) / 32).margin(1e-4));
    // Measured to the nearest copy of the centre, so that it closes.
    CHECK(first(radial, 0, 24) == Approx(first(radial, 63, 24)).margin(1e-4));
    const Bundle square = gradient({{"form", std::string("square")},
                                    {"from-x", 50.0},
                                    {"from-y", 50.0},
                                    {"to-x", 100.0},
                                    {"to-y", 50.0},
                                    {"repeat", std::string("once")}});
    CHECK(first(square, 40, 24) == Approx(8.5 / 32).margin(1e-4));
    CHECK(first(square, 32, 40) == Approx(16.5 / 32).margin(1e-4));
    const Bundle around = gradient({{"form", std::string("angular")},
                                    {"from-x", 50.0},
                                    {"from-y", 50.0},
                                    {"to-x", 100.0},
                                    {"to-y", 50.0},
                                    {"repeat", std::string("loop")}});
    CHECK(first(around, 32, 47) == Approx(0.25).margin(0.02));
    CHECK(first(around, 0, 24) == Approx(0.5).margin(0.02));
}

TEST_CASE("what lies beyond a gradient's ends is held, looped or mirrored", "[steps][gradient]") {
    auto at = [&](const char* repeat, int y) { return first(gradient({{"to-y", 50.0}, {"repeat", std::string(repeat)}}), 3, y); };
    CHECK(at("once", 36) == 1);
    CHECK(at("loop", 36) == Approx(at("loop", 12)).margin(1e-4));
    CHECK(at("mirror", 36) == Approx(11.5 / 24).margin(1e-3));
}

TEST_CASE("an angular gradient warns of its spoke, and closing the loop takes it away", "[steps][gradient]") {
    const Values open{{"form", std::string("angular")}, {"repeat", std::string("loop")}};
    CHECK_THAT(find_step("gradient")->notice(open), Catch::Contains("spoke"));
    Values closed = open;
    closed["close"] = true;
    CHECK(find_step("gradient")->notice(closed).empty());
    const Ramp ramp(black_white, Interpolation::srgb, true);
    CHECK(ramp.colour(0).red == Approx(ramp.colour(1).red).margin(1e-3));
    CHECK(Ramp(black_white, Interpolation::srgb).colour(1).red == 1);
}

TEST_CASE("a stop's grain roughens the ramp there and nowhere else", "[steps][gradient]") {
    const Stops grainy{{0, {0.5f, 0.5f, 0.5f}, 0}, {0.5, {0.5f, 0.5f, 0.5f}, 60}, {1, {0.5f, 0.5f, 0.5f}, 0}};
    const Bundle picture = applied("gradient", {{"stops", grainy}, {"repeat", std::string("once")}}, nullptr, {256, 256}, 3);
    auto spread = [&](int row) {
        double sum = 0;
        for (int x = 0; x < 256; ++x) sum += std::pow(picture.channel(0).at(x, row) - 0.5, 2.0) / 256;
        return std::sqrt(sum);
    };
    CHECK(spread(0) < 0.005);
    CHECK(spread(128) == Approx(0.6 * full_deviation).epsilon(0.2));
    CHECK(spread(64) == Approx(0.3 * full_deviation).epsilon(0.2));
}

TEST_CASE("a new stop changes nothing", "[steps][gradient]") {
    const Stops stops{{0, {0.1f, 0.2f, 0.3f}, 10}, {0.6, {0.9f, 0.4f, 0.2f}, 50}, {1, {1, 1, 1}, 0}};
    for (Interpolation mix : {Interpolation::srgb, Interpolation::oklab})
        for (double place : {0.0, 0.2, 0.45, 0.6, 0.8, 1.0}) {
            Stops more = stops;
            more.push_back(stop_between(stops, place, mix));
            const Ramp before(stops, mix), after(more, mix);
            for (float t = 0; t <= 1; t += 0.05f) {
                CHECK(before.colour(t).green == Approx(after.colour(t).green).margin(2e-3));
                CHECK(before.grain(t) == Approx(after.grain(t)).margin(2e-3));
            }
        }
}

TEST_CASE("many places of a ramp are each what one place is", "[gradient][kernels]") {
    const Stops stops{{0.1, {0.9f, 0.1f, 0}, 20}, {0.4, {0.1f, 0.5f, 0.2f}, 0}, {0.4, {0, 0, 1}, 50}, {0.9, {1, 1, 1}, 5}};
    for (const auto interpolation : {Interpolation::srgb, Interpolation::oklab})
        for (bool closed : {false, true})
            for (int count : {1, 3, 64, 67, 201}) {
                const Ramp ramp(stops, interpolation, closed);
                const auto n = static_cast<std::size_t>(count);
                std::vector<float> places(n), red(n), green(n), blue(n), grain(n), without(n);
                for (std::size_t k = 0; k < n; ++k) places[k] = -0.2f + 1.4f * static_cast<float>(k) / static_cast<float>(n);
                ramp.colours(places.data(), count, red.data(), green.data(), blue.data(), grain.data());
                ramp.colours(places.data(), count, without.data(), green.data(), blue.data(), nullptr);
                for (std::size_t k = 0; k < n; ++k) {
                    const Colour one = ramp.colour(places[k]);
                    CHECK(red[k] == Approx(one.red).margin(1e-6));
                    CHECK(green[k] == Approx(one.green).margin(1e-6));
                    CHECK(blue[k] == Approx(one.blue).margin(1e-6));
                    CHECK(grain[k] == Approx(ramp.grain(places[k])).margin(1e-6));
                    CHECK(without[k] == red[k]);
                }
            }
}
