// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Blurs against direct convolution in double, written the slow way.
#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/image/line_average.h"
#include "tests/support/convolution.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// The average that line_average promises: samples along the line, linear between the two pixels it passes.
Plane direct_line(const Plane& in, double dx, double dy, Falloff falloff) {
    const bool steep = std::abs(dy) >= std::abs(dx);
    const auto weights = line_weights((steep ? std::abs(dy) : std::abs(dx)) / 2, falloff);
    Plane out(in.size());
    for (int y = 0; y < in.height(); ++y)
        for (int x = 0; x < in.width(); ++x) {
            double sum = 0;
            for (int k = 1 - static_cast<int>(weights.size()); k < static_cast<int>(weights.size()); ++k) {
                const double side = k * (steep ? (dy == 0 ? 0 : dx / dy) : dy / dx);
                const double px = steep ? x + side : x + k, py = steep ? y + k : y + side;
                const double fx = std::floor(px), fy = std::floor(py);
                const int ix = static_cast<int>(fx), iy = static_cast<int>(fy);
                const double tx = px - fx, ty = py - fy;
                sum += weights[static_cast<std::size_t>(std::abs(k))] *
                       ((1 - tx) * (1 - ty) * in.wrapped(ix, iy) + tx * (1 - ty) * in.wrapped(ix + 1, iy) +
                        (1 - tx) * ty * in.wrapped(ix, iy + 1) + tx * ty * in.wrapped(ix + 1, iy + 1));
            }
            out.row(y)[x] = static_cast<float>(sum);
        }
    return out;
}

}  // namespace

TEST_CASE("the Gaussian blur is the periodic convolution, within half a step of 8 bit", "[gaussian]") {
    // Hard edges and noise: the worst there is.
    Plane in = random_plane({97, 61}, 4);
    for (int y = 20; y < 40; ++y)
        for (int x = 30; x < 60; ++x) in.row(y)[x] = (x / 10 + y / 10) % 2 ? 0.0f : 1.0f;
    for (double sigma : {0.3, 0.5, 1.0, 2.0, 2.99, 3.0, 3.01, 5.0, 9.0, 20.0, 60.0, 200.0, 500.0}) {
        INFO("deviation " << sigma);
        CHECK(greatest_difference(gaussian_blur(in, sigma, sigma, job), direct_gaussian(in, sigma, sigma)) < 0.5 / 255);
    }
    CHECK(greatest_difference(gaussian_blur(in, 12, 1.5, job), direct_gaussian(in, 12, 1.5)) < 0.5 / 255);
}

TEST_CASE("the Gaussian blur keeps the mean, and a radius of nothing changes nothing", "[gaussian]") {
    const Plane in = random_plane({64, 48}, 8);
    CHECK(same_bytes(gaussian_blur(in, 0, 0, job), in));
    for (double sigma : {1.0, 4.0, 30.0})
        CHECK(mean_of(gaussian_blur(in, sigma, sigma, job)) == Approx(mean_of(in)).margin(1e-4));
    CHECK(same_bytes(gaussian_blur(in, 7, 0, job), gaussian_blur(in, 7, 0.001, job)));
}

TEST_CASE("the directional blur is the average along the line, at any angle", "[directional]") {
    const Plane in = random_plane({83, 71}, 2);
    for (Falloff falloff : {Falloff::even, Falloff::bell})
        for (double length : {1.0, 7.3, 40.0, 160.0})
            for (int degrees : {0, 90, 180, 17, 45, 62, 100, 135, 178}) {
                const double dx = length * std::cos(degrees * pi / 180), dy = -length * std::sin(degrees * pi / 180);
                INFO(degrees << " degrees, length " << length << (falloff == Falloff::bell ? " bell" : " even"));
                const bool exact = degrees % 90 == 0 || length <= 16;
                const double difference =
                    greatest_difference(line_average(in, dx, dy, falloff, job), direct_line(in, dx, dy, falloff));
                // Between axes the result of a long line is read between lines a quarter pixel apart.
                CHECK(difference < (exact ? 1e-5 : length >= 100 ? 1.5 / 255 : 3.0 / 255));
            }
}

TEST_CASE("the weights of a line sum to one", "[directional]") {
    for (Falloff falloff : {Falloff::even, Falloff::bell})
        for (double half : {0.1, 0.5, 0.8, 3.0, 3.7, 200.2}) {
            const auto weights = line_weights(half, falloff);
            double sum = weights[0];
            for (std::size_t k = 1; k < weights.size(); ++k) sum += 2 * weights[k];
            CHECK(sum == Approx(1).margin(1e-9));
        }
}

TEST_CASE("sampling between pixels meets the pixels and wraps", "[image]") {
    const Plane in = random_plane({9, 7}, 1);
    for (int y = -9; y < 16; ++y)
        for (int x = -11; x < 20; ++x) {
            const CubicPlace place(in.size(), static_cast<float>(x), static_cast<float>(y));
            CHECK(place.read(in) == Approx(in.wrapped(x, y)).margin(1e-6));
            CHECK(sample_bilinear(in, static_cast<float>(x), static_cast<float>(y)) == Approx(in.wrapped(x, y)).margin(1e-6));
        }
    // A ramp is read exactly by the cubic wherever the wrap is far.
    Plane ramp({16, 16});
    for (int y = 0; y < 16; ++y)
        for (int x = 0; x < 16; ++x) ramp.row(y)[x] = static_cast<float>(x);
    CHECK(CubicPlace(ramp.size(), 7.3f, 8.9f).read(ramp) == Approx(7.3).margin(1e-4));
}

TEST_CASE("resizing averages and keeps the mean", "[image]") {
    const Plane in = random_plane({60, 44}, 3);
    for (Size size : {Size{30, 22}, Size{17, 13}, Size{60, 44}, Size{1, 1}})
        CHECK(mean_of(resized(in, size)) == Approx(mean_of(in)).margin(1e-5));
    CHECK(greatest_difference(resized(in, in.size()), in) < 1e-6);
    CHECK(resized(in, {2, 1}).at(0, 0) != resized(in, {2, 1}).at(1, 0));
}
