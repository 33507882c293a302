// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <cmath>

#include "core/colour/colour.h"
#include "tests/support/support.h"

using namespace loom;

TEST_CASE("the sRGB transfer follows its formula within a step of 16 bit", "[colour]") {
    for (int k = -20; k <= 1200; ++k) {
        const double encoded = k / 1000.0;
        const double size = std::abs(encoded);
        const double linear = std::copysign(size <= 0.04045 ? size / 12.92 : std::pow((size + 0.055) / 1.055, 2.4), encoded);
        CHECK(std::abs(to_linear(static_cast<float>(encoded)) - linear) < 1.0 / 65535);
        CHECK(std::abs(to_encoded(static_cast<float>(linear)) - encoded) < 1.0 / 65535);
    }
}

TEST_CASE("OKLab has the published values", "[colour]") {
    // From the method's own table: white, and pure sRGB red.
    const Lab white = to_oklab({1, 1, 1}), red = to_oklab({1, 0, 0});
    CHECK(white.lightness == Approx(1).margin(1e-4));
    CHECK(white.a == Approx(0).margin(1e-4));
    CHECK(red.lightness == Approx(0.62796).margin(1e-3));
    CHECK(red.a == Approx(0.22486).margin(1e-3));
    CHECK(red.b == Approx(0.12585).margin(1e-3));
}

TEST_CASE("colour spaces lead back to where they came from", "[colour]") {
    for (int k = 0; k < 500; ++k) {
        const Plane p = test::random_plane({3, 1}, static_cast<std::uint64_t>(k));
        const Colour colour{p.at(0, 0), p.at(1, 0), p.at(2, 0)};
        for (const Colour& back :
             {from_oklab(to_oklab(colour)), from_oklab(from_lch(to_lch(to_oklab(colour)))), from_cielab(to_cielab(colour))}) {
            CHECK(std::abs(back.red - colour.red) < 2e-4);
            CHECK(std::abs(back.green - colour.green) < 2e-4);
            CHECK(std::abs(back.blue - colour.blue) < 2e-4);
        }
    }
}

TEST_CASE("colours are read and written as hexadecimal", "[colour]") {
    CHECK(write_colour(*parse_colour("#A92f48")) == "#a92f48");
    CHECK(write_colour(*parse_colour("#fa0")) == "#ffaa00");
    for (const char* wrong : {"", "a92f48", "#a92f4", "#a92f4g", "#a92f48ff", "red"}) CHECK_FALSE(parse_colour(wrong));
}
