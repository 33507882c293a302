// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Filters over a neighbourhood, against plain, slow versions of themselves.
#include <algorithm>
#include <cmath>

#include "core/image/box.h"
#include "core/image/gaussian.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size oblong{72, 56};

/// Mean over a box of whole radius, added up pixel by pixel.
Plane slow_mean(const Plane& in, int rx, int ry) {
    Plane out(in.size());
    for (int y = 0; y < in.height(); ++y)
        for (int x = 0; x < in.width(); ++x) {
            double sum = 0;
            for (int j = -ry; j <= ry; ++j)
                for (int i = -rx; i <= rx; ++i) sum += in.wrapped(x + i, y + j);
            out.row(y)[x] = static_cast<float>(sum / ((2 * rx + 1) * (2 * ry + 1)));
        }
    return out;
}

template <class Choose>
Plane over_form(const Plane& in, int radius, bool round, Choose&& choose) {
    Plane out(in.size());
    for (int y = 0; y < in.height(); ++y)
        for (int x = 0; x < in.width(); ++x) {
            float value = in.at(x, y);
            for (int j = -radius; j <= radius; ++j)
                for (int i = -radius; i <= radius; ++i)
                    if (!round || i * i + j * j <= radius * radius) value = choose(value, in.wrapped(x + i, y + j));
            out.row(y)[x] = value;
        }
    return out;
}

}  // namespace

TEST_CASE("box means are sums over boxes, across the edges, and fractions count in part", "[treatments][box]") {
    const Plane in = random_plane(oblong, 4);
    for (const auto& [rx, ry] : {std::pair{0, 0}, std::pair{1, 3}, std::pair{5, 2}, std::pair{20, 27}})
        CHECK(greatest_difference(box_mean(in, rx, ry, job), slow_mean(in, rx, ry)) < 1e-5);
    const Plane half = box_mean(in, 2.5, 0, job);
    for (int x = 0; x < oblong.width; ++x) {
        double sum = 0.5 * (in.wrapped(x - 3, 7) + in.wrapped(x + 3, 7));
        for (int k = -2; k <= 2; ++k) sum += in.wrapped(x + k, 7);
        REQUIRE(half.at(x, 7) == Approx(sum / 6).margin(1e-5));
    }
}

TEST_CASE("the edge-keeping smooth is the guided filter", "[treatments][smooth]") {
    const Bundle in = random_bundle(oblong, 5, false, 1);
    const Plane& p = in.channel(0);
    for (double edge : {0.02, 0.3}) {
        Plane squares(oblong);
        for (std::size_t i = 0; i < oblong.pixels(); ++i) squares.data()[i] = p.data()[i] * p.data()[i];
        Plane mean = slow_mean(p, 3, 3), a = slow_mean(squares, 3, 3), b(oblong);
        for (std::size_t i = 0; i < oblong.pixels(); ++i) {
            const double variance = static_cast<double>(a.data()[i]) - static_cast<double>(mean.data()[i]) * mean.data()[i];
            a.data()[i] = static_cast<float>(variance / (variance + edge * edge));
            b.data()[i] = mean.data()[i] * (1 - a.data()[i]);
        }
        a = slow_mean(a, 3, 3), b = slow_mean(b, 3, 3);
        const Bundle out = applied("smooth", {{"radius", 3.0}, {"edge", edge}}, &in, oblong);
        for (std::size_t i = 0; i < oblong.pixels(); ++i)
            REQUIRE(out.channel(0).data()[i] == Approx(a.data()[i] * p.data()[i] + b.data()[i]).margin(1e-4));
    }
}

TEST_CASE("the median and other ranks are those of all neighbours", "[treatments][median]") {
    const Bundle in = random_bundle(oblong, 6, false, 1);
    // Few neighbours are looked at directly, many by way of tones.
    for (int radius : {3, 6})
        for (double rank : {10.0, 50.0, 90.0}) {
            const Bundle out = applied("median", {{"radius", static_cast<double>(radius)}, {"rank", rank}}, &in, oblong);
            const int count = (2 * radius + 1) * (2 * radius + 1);
            for (int y = 0; y < oblong.height; y += 3)
                for (int x = 0; x < oblong.width; x += 2) {
                    std::vector<float> near;
                    for (int j = -radius; j <= radius; ++j)
                        for (int i = -radius; i <= radius; ++i) near.push_back(in.channel(0).wrapped(x + i, y + j));
                    std::sort(near.begin(), near.end());
                    const double at = rank / 100 * count - 0.5;
                    const auto k = static_cast<std::size_t>(std::clamp(std::floor(at), 0.0, count - 2.0));
                    // Between the values next to the rank, give or take a step of the tones that are tried.
                    const float most = radius == 3 ? 1e-6f : 0.012f;
                    CHECK(out.channel(0).at(x, y) > near[k] - most);
                    CHECK(out.channel(0).at(x, y) < near[k + 1] + most);
                }
        }
    // Specks go and edges stay.
    Plane edge(oblong, 0.2f);
    for (int y = 0; y < oblong.height; ++y)
        for (int x = 36; x < oblong.width; ++x) edge.row(y)[x] = 0.8f;
    edge.row(20)[10] = 1, edge.row(30)[50] = 0;
    const Bundle speckled = Bundle::of(edge.clone());
    const Bundle cleaned = applied("median", {{"radius", 2.0}}, &speckled, oblong);
    CHECK(cleaned.channel(0).at(10, 20) == Approx(0.2).margin(0.01));
    CHECK(cleaned.channel(0).at(35, 25) == Approx(0.2).margin(0.01));
    CHECK(cleaned.channel(0).at(36, 25) == Approx(0.8).margin(0.01));
}

TEST_CASE("growing and shrinking take the extremes over a disc or a square", "[treatments][morph]") {
    const Bundle in = random_bundle(oblong, 7, false, 1);
    auto most = [](float a, float b) { return std::max(a, b); };
    auto least = [](float a, float b) { return std::min(a, b); };
    for (int radius : {1, 3, 7})
        for (bool round : {true, false}) {
            Values set{{"radius", static_cast<double>(radius)}, {"form", std::string(round ? "round" : "square")}};
            auto with = [&](const char* kind) {
                set["kind"] = std::string(kind);
                return applied("morph", set, &in, oblong);
            };
            INFO(radius << (round ? " round" : " square"));
            const Plane grown = over_form(in.channel(0), radius, round, most),
                        shrunk = over_form(in.channel(0), radius, round, least);
            CHECK(greatest_difference(with("grow").channel(0), grown) == 0);
            CHECK(greatest_difference(with("shrink").channel(0), shrunk) == 0);
            CHECK(greatest_difference(with("open").channel(0), over_form(shrunk, radius, round, most)) == 0);
            CHECK(greatest_difference(with("close").channel(0), over_form(grown, radius, round, least)) == 0);
        }
}

TEST_CASE("edge lines are gradient magnitudes", "[treatments][edges]") {
    const Bundle in = cloud_picture(oblong, 24);
    const Plane& p = in.channel(0);
    const Plane soft = gaussian_blur(p, 0.5, 0.5, Job());
    auto at = [&](int x, int y) { return static_cast<double>(soft.wrapped(x, y)); };
    const Bundle sobel =
        applied("edges", {{"measure", std::string("fixed")}, {"strength", 100.0}, {"thickness", 1.0}}, &in, oblong);
    const Bundle laplacian = applied(
        "edges", {{"operator", std::string("laplacian")}, {"measure", std::string("fixed")}, {"strength", 100.0}}, &in, oblong);
    for (int y = 0; y < oblong.height; ++y)
        for (int x = 0; x < oblong.width; ++x) {
            const double gx =
                2 * (at(x + 1, y) - at(x - 1, y)) + at(x + 1, y - 1) + at(x + 1, y + 1) - at(x - 1, y - 1) - at(x - 1, y + 1);
            const double gy =
                2 * (at(x, y + 1) - at(x, y - 1)) + at(x - 1, y + 1) + at(x + 1, y + 1) - at(x - 1, y - 1) - at(x + 1, y - 1);
            REQUIRE(sobel.channel(0).at(x, y) == Approx(std::min(1.0, std::hypot(gx, gy) / 4)).margin(1e-5));
            const double l = at(x + 1, y) + at(x - 1, y) + at(x, y + 1) + at(x, y - 1) - 4 * at(x, y);
            REQUIRE(laplacian.channel(0).at(x, y) == Approx(std::min(1.0, std::abs(l))).margin(1e-5));
        }
    const Bundle light =
        applied("edges", {{"measure", std::string("fixed")}, {"strength", 100.0}, {"ground", std::string("light")}}, &in, oblong);
    CHECK(light.channel(0).at(5, 5) == Approx(1 - sobel.channel(0).at(5, 5)));
}

TEST_CASE("edge lines show on soft pictures as they do on hard ones", "[treatments][edges]") {
    const Bundle soft = cloud_picture(oblong, 40);
    Plane less = soft.channel(0).clone();
    for (std::size_t i = 0; i < less.count(); ++i) less.data()[i] = 0.5f + 0.1f * (less.data()[i] - 0.5f);
    const Bundle faint = Bundle::of(std::move(less));
    const Bundle one = applied("edges", {}, &soft, oblong), other = applied("edges", {}, &faint, oblong);
    CHECK(mean_of(one.channel(0)) > 0.15);
    CHECK(greatest_difference(one.channel(0), other.channel(0)) < 0.02);
}
