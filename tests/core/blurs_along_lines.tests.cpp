// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Blurs that follow arcs, rays or the picture's own lines, and daubs that keep edges.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size patch{64, 64};

Bundle stripes() { return applied("stripes", {{"size", 16.0}, {"form", std::string("sine")}}, nullptr, patch); }

/// The eight-sector Kuwahara filter with round windows, in double, as its paper writes it.
double slow_kuwahara(const Plane& read, int x, int y, double radius, double sharp) {
    constexpr int sectors = 8, reach = 4;
    std::array<double, sectors> weight{}, mean{}, squared{};
    for (int j = -reach; j <= reach; ++j)
        for (int i = -reach; i <= reach; ++i) {
            const double u = static_cast<double>(i) / reach, v = static_cast<double>(j) / reach, far = std::hypot(u, v);
            if (far > 1.01) continue;
            const double value = sample_bilinear(read, static_cast<float>(x - v * radius), static_cast<float>(y + u * radius));
            for (int k = 0; k < sectors; ++k) {
                const double off = std::remainder(std::atan2(v, u) - k * 3.14159265358979 / 4, 6.283185307179586);
                const double share = far < 1e-9                     ? 1.0 / sectors
                                     : std::abs(off) < 0.7853981634 ? std::pow(std::cos(2 * off), 2)
                                                                    : 0.0;
                const double w = std::exp(-2 * far * far) * share;
                const auto at = static_cast<std::size_t>(k);
                weight[at] += w, mean[at] += w * value, squared[at] += w * value * value;
            }
        }
    double total = 0, sum = 0;
    for (std::size_t k = 0; k < sectors; ++k) {
        const double m = mean[k] / weight[k], spread = std::max(0.0, squared[k] / weight[k] - m * m);
        const double share = std::pow(1 + sharp * spread, -4.0);
        total += share, sum += share * m;
    }
    return sum / total;
}

}  // namespace

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
    CHECK(off(applied("spin", {{"measure", std::string("angle")}, {"sweep", 40.0}}, &rings, of), round) < 0.01);
    CHECK(off(applied("zoom", {{"measure", std::string("share")}, {"reach", 30.0}}, &rays, of), ray) < 0.01);
    // And takes the other away.
    CHECK(deviation_of(applied("spin", {{"measure", std::string("angle")}, {"sweep", 45.0}}, &rays, of).channel(0)) < 0.1);
    CHECK(off(applied("zoom", {{"measure", std::string("share")}, {"reach", 60.0}}, &rings, of), Plane(of, 0.5f)) < 0.12);
    for (const char* kind : {"spin", "zoom", "polar", "vignette"}) CHECK(find_step(kind)->tiles == Tiling::breaks);
}

TEST_CASE("blurs measured by length keep their contrast from the centre to the rim", "[treatments][round]") {
    const Size of{512, 512};
    const Bundle noise = applied("static", {}, nullptr, of, 3);
    for (const char* kind : {"spin", "zoom"}) {
        CAPTURE(kind);
        const Bundle even = applied(kind, {{"length", 24.0}}, &noise, of);
        const auto contrast = [&](double from, double to) {
            double sum = 0, squares = 0;
            int count = 0;
            for (int y = 0; y < of.height; ++y)
                for (int x = 0; x < of.width; ++x)
                    if (const double far = std::hypot(x + 0.5 - 256, y + 0.5 - 256); far > from && far < to) {
                        const auto value = static_cast<double>(even.channel(0).at(x, y));
                        sum += value, squares += value * value, ++count;
                    }
            return std::sqrt(squares / count - sum * sum / count / count);
        };
        CHECK(contrast(60, 110) == Approx(contrast(180, 250)).epsilon(0.2));
    }
}

TEST_CASE("daubs are the Kuwahara filter, and keep edges that a blur would lose", "[treatments][daub]") {
    const Bundle in = cloud_picture(patch, 16);
    const double radius = 4, soft = 0.4 * radius / 4;
    const Plane read = soft > 0.4 ? gaussian_blur(in.channel(0), soft, soft, Job()) : in.channel(0).clone();
    // Round windows have no direction: the sectors may be turned by any eighth, which our slow version is.
    const Bundle out = applied("daub", {{"size", radius}, {"follow", 0.0}, {"sharpness", 60.0}}, &in, patch);
    double worst = 0;
    for (int y = 0; y < patch.height; y += 5)
        for (int x = 0; x < patch.width; x += 5)
            worst = std::max(worst,
                             std::abs(out.channel(0).at(x, y) - slow_kuwahara(read, x, y, radius, std::pow(10.0, 1 + 3 * 0.6))));
    // The step turns its sectors with the picture's structure; ours stand still.
    CHECK(worst < 0.06);
    Plane edge(patch);
    const Plane noise = random_plane(patch, 8, -0.1f, 0.1f);
    for (int y = 0; y < patch.height; ++y)
        for (int x = 0; x < patch.width; ++x) edge.row(y)[x] = (x < 32 ? 0.25f : 0.75f) + noise.at(x, y);
    const Bundle noisy = Bundle::of(std::move(edge));
    const Bundle daubed = applied("daub", {{"size", 5.0}}, &noisy, patch),
                 blurred = applied("gaussian", {{"radius", 2.5}}, &noisy, patch);
    auto jump = [](const Bundle& b) {
        double sum = 0;
        for (int y = 0; y < 64; ++y) sum += (b.channel(0).at(34, y) - b.channel(0).at(29, y)) / 64;
        return sum;
    };
    CHECK(jump(daubed) > 0.42);
    CHECK(jump(blurred) < 0.4);
    double calm = 0;
    for (int y = 0; y < 64; ++y) calm += std::pow(daubed.channel(0).at(12, y) - 0.25, 2.0) / 64;
    CHECK(std::sqrt(calm) < 0.035);
}

TEST_CASE("a flow blur keeps what runs along its lines", "[treatments][flow]") {
    const Bundle in = stripes();
    CHECK(mean_difference(applied("flow", {{"length", 24.0}}, &in, patch).channel(0), in.channel(0)) < 0.01);
    // Straight across them it takes them away.
    CHECK(deviation_of(applied("flow", {{"length", 24.0}, {"turn", 0.0}}, &in, patch).channel(0)) <
          0.45 * deviation_of(in.channel(0)));
    // Another strand's lines are followed as well.
    const Bundle noise = random_bundle(patch, 4, false, 1);
    const Bundle combed = applied("flow", {{"length", 24.0}, {"from", std::string("strand")}, {"strand", std::string("s")}},
                                  &noise, patch, 0, 0, &in);
    double along = 0, across = 0;
    for (int y = 1; y < 63; ++y)
        for (int x = 1; x < 63; ++x) {
            along += std::abs(combed.channel(0).at(x + 1, y) - combed.channel(0).at(x, y));
            across += std::abs(combed.channel(0).at(x, y + 1) - combed.channel(0).at(x, y));
        }
    CHECK(across > 2.5 * along);
}

TEST_CASE("a flow blur along circles is the mean over their arcs", "[treatments][flow]") {
    const Size of{256, 256};
    constexpr int waves = 6;
    Plane rings(of), spokes(of);
    for (int y = 0; y < 256; ++y)
        for (int x = 0; x < 256; ++x) {
            const double dx = x - 128, dy = y - 128;
            rings.row(y)[x] = static_cast<float>(0.5 + 0.4 * std::cos(std::hypot(dx, dy) / 3));
            spokes.row(y)[x] = static_cast<float>(0.5 + 0.4 * std::cos(waves * std::atan2(dy, dx)));
        }
    const Bundle lines = Bundle::of(std::move(rings)), in = Bundle::of(std::move(spokes));
    // Short ones pixel by pixel, long ones as means of means.
    for (double length : {24.0, 80.0, 150.0}) {
        const Bundle out = applied("flow", {{"length", length}, {"from", std::string("strand")}, {"strand", std::string("s")}},
                                   &in, of, 0, 0, &lines);
        for (double radius : {50.0, 75.0, 100.0}) {
            double found = 0;  // of the wave that is left
            for (int k = 0; k < 720; ++k) {
                const double angle = k * 3.14159265358979 / 360;
                const int x = static_cast<int>(std::lround(128 + radius * std::cos(angle))),
                          y = static_cast<int>(std::lround(128 + radius * std::sin(angle)));
                found += 2 * (out.channel(0).at(x, y) - 0.5) * std::cos(waves * std::atan2(y - 128.0, x - 128.0)) / 720;
            }
            // Means that fall off evenly to both sides take the square of a cardinal sine from a wave.
            const double x = waves * length / 4 / radius, expected = 0.4 * std::pow(std::sin(x) / x, 2);
            INFO(length << " px at " << radius << " px: " << found << " of " << expected);
            CHECK(found == Approx(expected).margin(0.008));
        }
    }
}
