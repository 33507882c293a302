// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Steps against what they should give for a picture that is known at every place: a sum of two waves. Where a step moves the
// picture, the wave is read at the place it comes from; where it averages, the average is added up or known in closed form.
#include <cmath>
#include <functional>

#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{128, 96};

/// The picture at a place in tiles; it repeats.
double waves(double u, double v) {
    return 0.5 + 0.2 * std::sin(2 * pi * (2 * u + v) + 0.3) + 0.15 * std::cos(2 * pi * (u - 3 * v));
}

/// A picture made of a function of the place in pixels (middle of the first pixel at 0.5).
Plane drawn(const std::function<double(double, double)>& value, Size of = size) {
    Plane plane(of);
    for (int y = 0; y < of.height; ++y)
        for (int x = 0; x < of.width; ++x) plane.row(y)[x] = static_cast<float>(value(x + 0.5, y + 0.5));
    return plane;
}

double wave_at(double px, double py) { return waves(px / size.width, py / size.height); }

Bundle picture() { return Bundle::of(drawn(wave_at)); }

/// The greatest difference between a step's result and a function of the place in pixels.
double off(const std::string& step, const Values& set, const std::function<double(double, double)>& expected) {
    const Bundle in = picture(), out = applied(step, set, &in, size);
    return greatest_difference(out.channel(0), drawn(expected));
}

/// The mean over [0, 1] of what lies along a way.
double mean_along(const std::function<double(double)>& value) {
    double sum = 0;
    constexpr int steps = 400;
    for (int k = 0; k < steps; ++k) sum += value((k + 0.5) / steps);
    return sum / steps;
}

}  // namespace

TEST_CASE("places are bent as their formulas say", "[references][bend]") {
    const double cx = 64, cy = 48;
    // Swirl: turned most in the middle, by a smooth step towards the rim.
    CHECK(off("swirl", {{"radius", 40.0}, {"turn", 100.0}}, [&](double x, double y) {
              const double dx = x - cx, dy = y - cy, t = 1 - std::hypot(dx, dy) / 40;
              if (t <= 0) return wave_at(x, y);
              const double turn = 100 * pi / 180 * t * t * (3 - 2 * t);
              return wave_at(cx + std::cos(turn) * dx - std::sin(turn) * dy, cy + std::sin(turn) * dx + std::cos(turn) * dy);
          }) < 4e-3);
    for (double strength : {60.0, -60.0}) {
        INFO(strength);
        CHECK(off("swell", {{"radius", 40.0}, {"strength", strength}}, [&](double x, double y) {
                  const double dx = x - cx, dy = y - cy, t = std::hypot(dx, dy) / 40;
                  if (t >= 1) return wave_at(x, y);
                  const double scale = std::pow(t, (std::exp2(strength / 100) - 1) * (1 - t * t));
                  return wave_at(cx + dx * scale, cy + dy * scale);
              }) < 4e-3);
    }
    CHECK(off("ripple", {{"radius", 44.0}, {"wavelength", 16.0}, {"height", 3.0}, {"phase", 40.0}}, [&](double x, double y) {
              const double dx = x - cx, dy = y - cy, d = std::hypot(dx, dy), t = 1 - d / 44;
              if (t <= 0) return wave_at(x, y);
              const double rim = std::min(1.0, 3 * t),
                           way = 3 * rim * rim * (3 - 2 * rim) * std::min(1.0, d / 4) * std::sin(2 * pi * (d / 16 - 40.0 / 360));
              return wave_at(cx + dx * (1 + way / d), cy + dy * (1 + way / d));
          }) < 4e-3);
}

TEST_CASE("the picture is placed by its matrix: scaled, turned, mirrored and moved", "[references][bend][place]") {
    for (const auto& [scale, turn] : {std::pair{150.0, 0.0}, std::pair{100.0, 30.0}, std::pair{220.0, -75.0}})
        for (const char* mirror : {"none", "across", "both"}) {
            INFO(scale << " " << turn << " " << mirror);
            CHECK(off("place",
                      {{"scale", scale},
                       {"turn", turn},
                       {"x", 12.5},
                       {"y", -25.0},
                       {"mirror", std::string(mirror)},
                       {"keep", false}},
                      [&](double x, double y) {
                          // Back from the result: moved, then turned and shrunk about the middle, then mirrored.
                          const double dx = x - 64 - 0.125 * size.width, dy = y - 48 + 0.25 * size.height, a = turn * pi / 180;
                          double px = (std::cos(a) * dx - std::sin(a) * dy) * 100 / scale,
                                 py = (std::sin(a) * dx + std::cos(a) * dy) * 100 / scale;
                          if (std::string(mirror) != "none") px = -px;
                          if (std::string(mirror) == "both") py = -py;
                          return wave_at(64 + px, 48 + py);
                      }) < 4e-3);
        }
    CHECK(off("shift", {{"x", 7.5}, {"y", -3.25}}, [](double x, double y) { return wave_at(x - 7.5, y + 3.25); }) < 4e-3);
}

TEST_CASE("rolling up and laying out are polar coordinates", "[references][bend][polar]") {
    const double radius = 48;
    const Bundle in = picture();
    const Bundle flat =
        applied("polar", {{"way", std::string("straight")}, {"reach", std::string("edge")}, {"average", false}, {"turn", 30.0}},
                &in, size);
    CHECK(greatest_difference(flat.channel(0), drawn([&](double x, double y) {
                                  const double turn = 2 * pi * (x / size.width + 30.0 / 360), d = radius * y / size.height;
                                  return wave_at(64 + d * std::cos(turn), 48 - d * std::sin(turn));
                              })) < 4e-3);
    const Bundle round = applied(
        "polar",
        {{"way", std::string("round")}, {"reach", std::string("edge")}, {"beyond", std::string("hold")}, {"average", false}}, &in,
        size);
    double worst = 0;
    for (int y = 6; y < 90; ++y)
        for (int x = 20; x < 108; ++x) {
            const double dx = x + 0.5 - 64, dy = 48 - y - 0.5, d = std::hypot(dx, dy);
            if (d < 4 || d > 46) continue;
            double turn = std::atan2(dy, dx) / (2 * pi);
            turn -= std::floor(turn);
            worst = std::max(worst, std::abs(double(round.channel(0).at(x, y)) -
                                             wave_at(turn * size.width, d / radius * (size.height - 1) + 0.5)));
        }
    CHECK(worst < 6e-3);
}

TEST_CASE("a Gaussian calms a wave by its closed form, apart for both directions", "[references][soften]") {
    auto calmed = [&](double u, double v, double across, double down) {
        // exp(-2 pi^2 sigma^2 f^2) for frequencies in waves a pixel.
        auto share = [&](double fx, double fy) {
            return std::exp(
                -2 * pi * pi *
                (across * across * fx * fx / (size.width * size.width) + down * down * fy * fy / (size.height * size.height)));
        };
        return 0.5 + share(2, 1) * 0.2 * std::sin(2 * pi * (2 * u + v) + 0.3) +
               share(1, -3) * 0.15 * std::cos(2 * pi * (u - 3 * v));
    };
    for (double radius : {0.8, 2.5, 9.0, 30.0}) {
        INFO(radius);
        CHECK(off("gaussian", {{"radius", radius}},
                  [&](double x, double y) { return calmed(x / size.width, y / size.height, radius, radius); }) < 2e-3);
    }
    CHECK(off("gaussian", {{"radius", 12.0}, {"apart", true}, {"radius-down", 2.0}},
              [&](double x, double y) { return calmed(x / size.width, y / size.height, 12, 2); }) < 2e-3);
}

TEST_CASE("blurs along lines, arcs and rays are the means along them", "[references][soften]") {
    for (double direction : {0.0, 90.0, 27.0, -63.0})
        for (double length : {9.0, 60.0, 300.0}) {
            INFO(direction << " " << length);
            const double dx = std::cos(direction * pi / 180) * length, dy = -std::sin(direction * pi / 180) * length;
            CHECK(off("directional", {{"direction", direction}, {"length", length}}, [&](double x, double y) {
                      return mean_along([&](double t) { return wave_at(x + (t - 0.5) * dx, y + (t - 0.5) * dy); });
                  }) < 8e-3);
        }
    // Near the centre and beyond the edges, where nothing repeats, is left out.
    const Bundle in = picture();
    const Bundle spun = applied("spin", {{"measure", std::string("angle")}, {"sweep", 40.0}}, &in, size),
                 zoomed = applied("zoom", {{"measure", std::string("share")}, {"reach", 30.0}}, &in, size);
    double worst_spin = 0, worst_zoom = 0;
    for (int y = 16; y < 80; y += 3)
        for (int x = 24; x < 104; x += 3) {
            const double dx = x + 0.5 - 64, dy = y + 0.5 - 48, d = std::hypot(dx, dy), turn = std::atan2(dy, dx);
            if (d < 6 || d > 44) continue;
            const double arc = mean_along([&](double t) {
                const double a = turn + (t - 0.5) * 40 * pi / 180;
                return wave_at(64 + d * std::cos(a), 48 + d * std::sin(a));
            });
            const double ray = mean_along([&](double t) { return wave_at(64 + dx * (1 - 0.3 * t), 48 + dy * (1 - 0.3 * t)); });
            worst_spin = std::max(worst_spin, std::abs(double(spun.channel(0).at(x, y)) - arc));
            worst_zoom = std::max(worst_zoom, std::abs(double(zoomed.channel(0).at(x, y)) - ray));
        }
    CHECK(worst_spin < 1.2e-2);
    CHECK(worst_zoom < 1.6e-2);
}

TEST_CASE("tones are banded, cut, mapped and turned over by their formulas", "[references][tune]") {
    CHECK(off("invert", {}, [](double x, double y) { return 1 - wave_at(x, y); }) < 1e-6);
    for (int count : {2, 3, 7}) {
        INFO(count);
        // Equal shares of the range become equally spaced tones; near a step a rounding may fall to either side.
        const Bundle in = picture(), out = applied("posterise", {{"count", double(count)}, {"softness", 0.0}}, &in, size);
        int wrong = 0;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x) {
                const double band = std::min(double(count - 1), std::floor(wave_at(x + 0.5, y + 0.5) * count)) / (count - 1);
                wrong += std::abs(double(out.channel(0).at(x, y)) - band) > 1e-5;
            }
        CHECK(wrong < 4);
    }
    CHECK(off("threshold", {{"tone", 0.55}, {"softness", 20.0}}, [](double x, double y) {
              const double t = std::clamp((wave_at(x, y) - 0.45) / 0.2, 0.0, 1.0);
              return t * t * (3 - 2 * t);
          }) < 2e-2);
    const Stops stops{{0.1, {0.1f, 0.1f, 0.1f}, 0}, {0.6, {0.9f, 0.9f, 0.9f}, 0}, {1, {0.2f, 0.2f, 0.2f}, 0}};
    for (bool reverse : {false, true})
        CHECK(off("gradientmap", {{"stops", stops}, {"mix", std::string("srgb")}, {"reverse", reverse}}, [&](double x, double y) {
                  const double t = reverse ? 1 - wave_at(x, y) : wave_at(x, y);
                  if (t <= 0.1) return 0.1;
                  return t <= 0.6 ? 0.1 + (t - 0.1) / 0.5 * 0.8 : 0.9 - (t - 0.6) / 0.4 * 0.7;
              }) < 1e-3);
    for (const char* form : {"round", "tile"})
        CHECK(off("vignette",
                  {{"size", 80.0}, {"softness", 50.0}, {"strength", 70.0}, {"soft-ends", false}, {"form", std::string(form)}},
                  [&](double x, double y) {
                      const double u = std::abs(2 * x / size.width - 1), v = std::abs(2 * y / size.height - 1);
                      const double d =
                          std::string(form) == "round" ? std::hypot(u, v) : std::pow(std::pow(u, 6) + std::pow(v, 6), 1 / 6.0);
                      const double t = std::clamp((d - 0.8 + 0.25) / 0.5, 0.0, 1.0);
                      return wave_at(x, y) * (1 - 0.7 * t * t * (3 - 2 * t));
                  }) < 1e-5);
}

TEST_CASE("evening out takes waves away by what a Gaussian leaves of them", "[references][finish]") {
    auto left = [](double fx, double fy) { return 1 - std::exp(-2 * pi * pi * 0.15 * 0.15 * (fx * fx + fy * fy)); };
    CHECK(off("evenout", {{"size", 15.0}, {"strength", 100.0}}, [&](double x, double y) {
              const double u = x / size.width, v = y / size.height;
              return 0.5 + left(2, 1) * 0.2 * std::sin(2 * pi * (2 * u + v) + 0.3) +
                     left(1, -3) * 0.15 * std::cos(2 * pi * (u - 3 * v));
          }) < 3e-3);
}

TEST_CASE("relief light is that of the true slopes", "[references][shade]") {
    // Lambert's law on the surface of the wave, beside what a level place gets; in linear light.
    const double depth = 6, direction = 60, elevation = 50;
    const double lx = std::cos(direction * pi / 180) * std::cos(elevation * pi / 180),
                 ly = std::sin(direction * pi / 180) * std::cos(elevation * pi / 180), lz = std::sin(elevation * pi / 180);
    const Bundle in = picture();
    const Bundle lit = applied("relief",
                               {{"depth", depth},
                                {"direction", direction},
                                {"elevation", elevation},
                                {"shine", 0.0},
                                {"ambient", 0.0},
                                {"result", std::string("light")}},
                               &in, size);
    double worst = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const double e = 1e-3, px = x + 0.5, py = y + 0.5;
            const double sx = depth * (wave_at(px + e, py) - wave_at(px - e, py)) / (2 * e),
                         sy = -depth * (wave_at(px, py + e) - wave_at(px, py - e)) / (2 * e);
            const double light = std::max(0.0, (-sx * lx - sy * ly + lz) / std::sqrt(1 + sx * sx + sy * sy));
            worst = std::max(worst, std::abs(light - double(lit.channel(0).at(x, y))));
        }
    CHECK(worst < 8e-3);
}

TEST_CASE("a single wave pushes along its crests, across them, and as far as it says", "[references][bend][wave]") {
    // One wave heading right: its crests lie along x, so it rises along y. Pictures that vary one way only tell the push.
    const Values one{{"waves", 1.0},         {"length", 48.0}, {"length-spread", 0.0}, {"height", 4.0},
                     {"height-spread", 0.0}, {"heading", 0.0}, {"heading-spread", 0.0}};
    auto swayed = [&](const char* sway, const std::function<double(double, double)>& value) {
        Values set = one;
        set["sway"] = std::string(sway);
        const Bundle in = Bundle::of(drawn(value));
        return mean_difference(applied("wave", set, &in, size, 3).channel(0), in.channel(0));
    };
    const auto columns = [](double x, double) { return 0.5 + 0.4 * std::sin(2 * pi * 4 * x / size.width); };
    const auto rows = [](double, double y) { return 0.5 + 0.4 * std::sin(2 * pi * 3 * y / size.height); };
    CHECK(swayed("along", columns) > 0.05);
    CHECK(swayed("along", rows) < 1e-4);
    CHECK(swayed("across", rows) > 0.05);
    CHECK(swayed("across", columns) < 1e-4);
    // The farthest that a place is moved is the height: told by a picture that is its own x.
    Values set = one;
    set["sway"] = std::string("along");
    const Bundle ramp = Bundle::of(drawn([](double x, double) { return x / size.width; }));
    const Bundle out = applied("wave", set, &ramp, size, 3);
    double most = 0;
    for (int y = 0; y < size.height; ++y)
        most = std::max(most, std::abs(double(out.channel(0).at(64, y)) - 64.5 / size.width) * size.width);
    CHECK(most == Approx(4).margin(0.1));
}
