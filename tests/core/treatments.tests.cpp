// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Treatments against plain, slow versions of themselves, and against what they promise.
#include <algorithm>
#include <cmath>
#include <set>

#include "core/image/box.h"
#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/measure/measure.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{72, 56};

Bundle clouds(Size of = size, std::uint32_t seed = 3) {
    return applied("clouds", {{"size-x", 24.0}, {"size-y", 24.0}, {"contrast", 140.0}}, nullptr, of, seed);
}

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

TEST_CASE("box means are sums over boxes, across the edges; fractions count in part", "[treatments][box]") {
    const Job job;
    const Plane in = random_plane(size, 4);
    for (const auto& [rx, ry] : {std::pair{0, 0}, std::pair{1, 3}, std::pair{5, 2}, std::pair{20, 27}})
        CHECK(greatest_difference(box_mean(in, rx, ry, job), slow_mean(in, rx, ry)) < 1e-5);
    const Plane half = box_mean(in, 2.5, 0, job);
    for (int x = 0; x < size.width; ++x) {
        double sum = 0.5 * (in.wrapped(x - 3, 7) + in.wrapped(x + 3, 7));
        for (int k = -2; k <= 2; ++k) sum += in.wrapped(x + k, 7);
        REQUIRE(half.at(x, 7) == Approx(sum / 6).margin(1e-5));
    }
}

TEST_CASE("the edge-keeping smooth is the guided filter", "[treatments][smooth]") {
    const Bundle in = random_bundle(size, 5, false, 1);
    const Plane& p = in.channel(0);
    for (double edge : {0.02, 0.3}) {
        Plane squares(size);
        for (std::size_t i = 0; i < size.pixels(); ++i) squares.data()[i] = p.data()[i] * p.data()[i];
        Plane mean = slow_mean(p, 3, 3), a = slow_mean(squares, 3, 3), b(size);
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const double variance = static_cast<double>(a.data()[i]) - static_cast<double>(mean.data()[i]) * mean.data()[i];
            a.data()[i] = static_cast<float>(variance / (variance + edge * edge));
            b.data()[i] = mean.data()[i] * (1 - a.data()[i]);
        }
        a = slow_mean(a, 3, 3), b = slow_mean(b, 3, 3);
        const Bundle out = applied("smooth", {{"radius", 3.0}, {"edge", edge}}, &in, size);
        for (std::size_t i = 0; i < size.pixels(); ++i)
            REQUIRE(out.channel(0).data()[i] == Approx(a.data()[i] * p.data()[i] + b.data()[i]).margin(1e-4));
    }
}

TEST_CASE("the median and other ranks are those of all neighbours", "[treatments][median]") {
    const Bundle in = random_bundle(size, 6, false, 1);
    // Few neighbours are looked at directly, many by way of tones.
    for (int radius : {3, 6})
        for (double rank : {10.0, 50.0, 90.0}) {
            const Bundle out = applied("median", {{"radius", static_cast<double>(radius)}, {"rank", rank}}, &in, size);
            const int count = (2 * radius + 1) * (2 * radius + 1);
            for (int y = 0; y < size.height; y += 3)
                for (int x = 0; x < size.width; x += 2) {
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
    Plane edge(size, 0.2f);
    for (int y = 0; y < size.height; ++y)
        for (int x = 36; x < size.width; ++x) edge.row(y)[x] = 0.8f;
    edge.row(20)[10] = 1, edge.row(30)[50] = 0;
    const Bundle speckled = Bundle::of(edge.clone());
    const Bundle cleaned = applied("median", {{"radius", 2.0}}, &speckled, size);
    CHECK(cleaned.channel(0).at(10, 20) == Approx(0.2).margin(0.01));
    CHECK(cleaned.channel(0).at(35, 25) == Approx(0.2).margin(0.01));
    CHECK(cleaned.channel(0).at(36, 25) == Approx(0.8).margin(0.01));
}

TEST_CASE("growing and shrinking take the extremes over a disc or a square", "[treatments][morph]") {
    const Bundle in = random_bundle(size, 7, false, 1);
    auto most = [](float a, float b) { return std::max(a, b); };
    auto least = [](float a, float b) { return std::min(a, b); };
    for (int radius : {1, 3, 7})
        for (bool round : {true, false}) {
            Values set{{"radius", static_cast<double>(radius)}, {"form", std::string(round ? "round" : "square")}};
            auto with = [&](const char* kind) {
                set["kind"] = std::string(kind);
                return applied("morph", set, &in, size);
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
    const Bundle in = clouds();
    const Plane& p = in.channel(0);
    const Plane soft = gaussian_blur(p, 0.5, 0.5, Job());
    auto at = [&](int x, int y) { return static_cast<double>(soft.wrapped(x, y)); };
    const Bundle sobel = applied("edges", {{"strength", 100.0}, {"thickness", 1.0}}, &in, size);
    const Bundle laplacian = applied("edges", {{"operator", std::string("laplacian")}, {"strength", 100.0}}, &in, size);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double gx =
                2 * (at(x + 1, y) - at(x - 1, y)) + at(x + 1, y - 1) + at(x + 1, y + 1) - at(x - 1, y - 1) - at(x - 1, y + 1);
            const double gy =
                2 * (at(x, y + 1) - at(x, y - 1)) + at(x - 1, y + 1) + at(x + 1, y + 1) - at(x - 1, y - 1) - at(x + 1, y - 1);
            REQUIRE(sobel.channel(0).at(x, y) == Approx(std::min(1.0, std::hypot(gx, gy) / 4)).margin(1e-5));
            const double l = at(x + 1, y) + at(x - 1, y) + at(x, y + 1) + at(x, y - 1) - 4 * at(x, y);
            REQUIRE(laplacian.channel(0).at(x, y) == Approx(std::min(1.0, std::abs(l))).margin(1e-5));
        }
    const Bundle light = applied("edges", {{"strength", 100.0}, {"ground", std::string("light")}}, &in, size);
    CHECK(light.channel(0).at(5, 5) == Approx(1 - sobel.channel(0).at(5, 5)));
}

TEST_CASE("a displacement reads where its map says", "[treatments][displace]") {
    const Bundle in = clouds(), map = random_bundle(size, 11);
    const Bundle out = applied("displace",
                               {{"source", std::string("strand")},
                                {"strand", std::string("m")},
                                {"from", std::string("normal")},
                                {"x", 9.0},
                                {"y", -5.0}},
                               &in, size, 0, 0, &map);
    for (int y = 0; y < size.height; y += 3)
        for (int x = 0; x < size.width; x += 3) {
            const float px = static_cast<float>(x + 9 * (2.0 * map.channel(0).at(x, y) - 1)),
                        py = static_cast<float>(y - 5 * (1 - 2.0 * map.channel(1).at(x, y)));
            REQUIRE(out.channel(0).at(x, y) == Approx(CubicPlace(size, px, py).read(in.channel(0))).margin(1e-4));
        }
    // A flat map moves nothing.
    const Bundle flat = Bundle::of(Plane(size, 0.5f));
    CHECK(greatest_difference(
              in, applied("displace",
                          {{"source", std::string("strand")}, {"strand", std::string("m")}, {"from", std::string("tone")}}, &in,
                          size, 0, 0, &flat)) < 1e-5);
}

TEST_CASE("bends round a centre leave what lies outside alone and repeat within half a tile", "[treatments][bend]") {
    const Bundle in = clouds({96, 96});
    for (const auto& [kind, set] : {std::pair{"swirl", Values{{"radius", 40.0}}}, std::pair{"swell", Values{{"radius", 40.0}}},
                                    std::pair{"ripple", Values{{"radius", 40.0}, {"wavelength", 12.0}, {"height", 3.0}}}}) {
        INFO(kind);
        const Bundle out = applied(kind, set, &in, {96, 96});
        int outside = 0, inside = 0;
        for (int y = 0; y < 96; ++y)
            for (int x = 0; x < 96; ++x) {
                const bool far = std::hypot(x + 0.5 - 48, y + 0.5 - 48) > 41;
                const bool moved = std::abs(out.channel(0).at(x, y) - in.channel(0).at(x, y)) > 1e-4f;
                outside += far && moved;
                inside += !far && moved;
            }
        CHECK(outside == 0);
        CHECK(inside > 2000);
        // Round a centre on the edge it closes all the same.
        Values moved = set;
        moved["centre-x"] = 0.0, moved["centre-y"] = 0.0;
        const Bundle aside = rolled(in, 48, 48);
        const Bundle on_edge = applied(kind, moved, &aside, {96, 96});
        CHECK(greatest_difference(rolled(on_edge, 48, 48), out) < 2e-3);
    }
}

TEST_CASE("a spin blur keeps what is round, a zoom blur what is a ray", "[treatments][round]") {
    const Size of{128, 128};
    Plane round(of), ray(of);
    for (int y = 0; y < 128; ++y)
        for (int x = 0; x < 128; ++x) {
            const double dx = x + 0.5 - 64, dy = y + 0.5 - 64;
            round.row(y)[x] = static_cast<float>(0.5 + 0.4 * std::sin(std::hypot(dx, dy) / 5));
            ray.row(y)[x] = static_cast<float>(0.5 + 0.4 * std::sin(8 * std::atan2(dy, dx)));
        }
    const Bundle rings = Bundle::of(round.clone()), rays = Bundle::of(ray.clone());
    auto off = [&](const Bundle& a, const Plane& b) {
        double sum = 0;
        int count = 0;
        for (int y = 0; y < 128; ++y)
            for (int x = 0; x < 128; ++x) {
                const double far = std::hypot(x + 0.5 - 64, y + 0.5 - 64);
                if (far < 20 || far > 60) continue;
                sum += std::abs(a.channel(0).at(x, y) - b.at(x, y)), ++count;
            }
        return sum / count;
    };
    CHECK(off(applied("spin", {{"sweep", 40.0}}, &rings, of), round) < 0.01);
    CHECK(off(applied("zoom", {{"reach", 30.0}}, &rays, of), ray) < 0.01);
    // And takes the other away.
    CHECK(deviation_of(applied("spin", {{"sweep", 45.0}}, &rays, of).channel(0)) < 0.1);
    CHECK(off(applied("zoom", {{"reach", 60.0}}, &rings, of), Plane(of, 0.5f)) < 0.12);
    for (const char* kind : {"spin", "zoom", "polar", "vignette"}) CHECK(find_step(kind)->tiles == Tiling::breaks);
}

TEST_CASE("unrolling what was rolled up gives it back", "[treatments][polar]") {
    const Size of{256, 256};
    const Bundle in = applied("clouds", {{"size-x", 64.0}, {"size-y", 64.0}, {"octaves", 2.0}}, nullptr, of, 2);
    const Bundle round = applied("polar", {}, &in, of), back = applied("polar", {{"way", std::string("straight")}}, &round, of);
    double sum = 0;
    for (int y = 128; y < 240; ++y)
        for (int x = 0; x < 256; ++x) sum += std::abs(back.channel(0).at(x, y) - in.channel(0).at(x, y)) / (112.0 * 256);
    CHECK(sum < 0.02);
}

TEST_CASE("placing keeps the tile: whole copies, turned ones too", "[treatments][place]") {
    const Bundle in = clouds({96, 96});
    const Bundle half = applied("place", {{"scale", 50.0}}, &in, {96, 96});
    CHECK(greatest_difference(rolled(half, 48, 0), half) < 1e-4);
    CHECK(greatest_difference(rolled(half, 0, 48), half) < 1e-4);
    CHECK(mean_of(half.channel(0)) == Approx(mean_of(in.channel(0))).margin(1e-3));
    const Bundle turned = applied("place", {{"scale", 100.0}, {"turn", 90.0}}, &in, {96, 96});
    for (int k = 0; k < 96; k += 7) REQUIRE(turned.channel(0).at(k, 20) == Approx(in.channel(0).at(75, k)).margin(1e-4));
    CHECK_THAT(find_step("place")->rounded({{"scale", 70.0}, {"turn", 44.0}}, {1024, 1024}),
               Catch::Contains("70.7 %") && Catch::Contains("45 degrees"));
    const Bundle mirrored = applied("place", {{"scale", 100.0}, {"mirror", std::string("across")}}, &in, {96, 96});
    CHECK(mirrored.channel(0).at(10, 30) == Approx(in.channel(0).at(85, 30)).margin(1e-5));
}

TEST_CASE("a threshold by share makes that much of the area white", "[treatments][threshold]") {
    const Bundle in = clouds({256, 256});
    for (double share : {5.0, 30.0, 80.0})
        CHECK(mean_of(applied("threshold", {{"by", std::string("share")}, {"share", share}, {"softness", 1.0}}, &in, {256, 256})
                          .channel(0)) == Approx(share / 100).margin(0.01));
    const Bundle bands = applied("posterise", {{"count", 4.0}, {"softness", 0.0}}, &in, {256, 256});
    for (std::size_t i = 0; i < bands.size().pixels(); ++i) {
        const double value = bands.channel(0).data()[i] * 3;
        REQUIRE(std::abs(value - std::round(value)) < 1e-4);
    }
}

TEST_CASE("dots cover what their tone says, whatever the pattern", "[treatments][stipple]") {
    for (const char* pattern : {"white", "blue", "clustered", "strokes"})
        for (float tone : {0.2f, 0.7f}) {
            const Bundle in = Bundle::of(Plane({240, 240}, tone));
            const Bundle dots = applied("stipple", {{"pattern", std::string(pattern)}, {"dot", 5.0}}, &in, {240, 240}, 3);
            INFO(pattern << " " << tone);
            CHECK(mean_of(dots.channel(0)) == Approx(tone).margin(0.02));
            CHECK(deviation_of(dots.channel(0)) > 0.3);
        }
    // Dots are round, at any width: a lone one has as much of itself across as down and along both slants.
    for (double dot : {7.3, 12.0}) {
        const Bundle in = Bundle::of(Plane({256, 256}, 0.02f));
        const Bundle dots =
            applied("stipple", {{"dot", dot}, {"pattern", std::string("clustered")}, {"direction", 30.0}}, &in, {256, 256}, 3);
        double across = 0, down = 0, slant = 0, back = 0;
        const Plane& plane = dots.channel(0);
        for (int y = 0; y < 256; ++y)
            for (int x = 0; x < 256; ++x) {
                const double here = double(plane.at(x, y));
                auto with = [&](int dx, int dy) { return here * double(plane.wrapped(x + dx, y + dy)); };
                across += with(1, 0), down += with(0, 1), slant += with(1, 1), back += with(1, -1);
            }
        INFO(dot);
        CHECK(across == Approx(down).epsilon(0.06));
        CHECK(slant == Approx(back).epsilon(0.06));
        CHECK(slant < across);
    }
    // Blue dots keep apart: a soft look at them is calmer than at white ones.
    auto roughness = [](const char* pattern) {
        const Bundle in = Bundle::of(Plane({240, 240}, 0.5f));
        const Bundle dots = applied("stipple", {{"pattern", std::string(pattern)}, {"dot", 2.0}}, &in, {240, 240}, 3);
        return deviation_of(gaussian_blur(dots.channel(0), 5, 5, Job()));
    };
    CHECK(roughness("blue") < 0.45 * roughness("white"));
    const Bundle covered = random_bundle({120, 120}, 5, true);
    const Bundle cut = applied("stipple", {{"drive", std::string("coverage")}, {"dot", 1.0}, {"pattern", std::string("white")}},
                               &covered, {120, 120}, 1);
    CHECK(mean_of(*cut.coverage) == Approx(mean_of(*covered.coverage)).margin(0.05));
}

TEST_CASE("a mosaic's cells are the means of what they cover", "[treatments][mosaic]") {
    const Bundle in = random_bundle({128, 128}, 9);
    const Bundle out = applied("mosaic", {{"size", 24.0}, {"line", 0.0}}, &in, {128, 128}, 2);
    for (int c = 0; c < 3; ++c) CHECK(mean_of(out.channel(c)) == Approx(mean_of(in.channel(c))).margin(1e-3));
    std::set<float> tones;
    for (std::size_t i = 0; i < out.size().pixels(); ++i) tones.insert(out.channel(0).data()[i]);
    CHECK(tones.size() < 40);
    CHECK(tones.size() > 20);
}

TEST_CASE("evening out takes slow light away and leaves texture", "[treatments][evenout]") {
    const Size of{256, 256};
    const Bundle texture = applied("clouds", {{"size-x", 16.0}, {"size-y", 16.0}}, nullptr, of, 4);
    Plane lit(of);
    for (int y = 0; y < 256; ++y)
        for (int x = 0; x < 256; ++x)
            lit.row(y)[x] = texture.channel(0).at(x, y) + 0.2f * static_cast<float>(std::sin(6.283185307 * x / 256));
    const Bundle in = Bundle::of(std::move(lit)), out = applied("evenout", {{"strength", 100.0}}, &in, of);
    auto slow = [](const Bundle& b) { return deviation_of(gaussian_blur(b.channel(0), 32, 32, Job())); };
    CHECK(slow(out) < 0.35 * slow(in));
    CHECK(mean_of(out.channel(0)) == Approx(mean_of(in.channel(0))).margin(1e-3));
    CHECK(mean_difference(out.channel(0), texture.channel(0)) < 0.05);
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
