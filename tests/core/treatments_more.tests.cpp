// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Painterly, flowing and shading treatments.
#include <algorithm>
#include <array>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/measure/measure.h"
#include "core/recipe/edits.h"
#include "core/recipe/json.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{64, 64};

Bundle soft_noise(std::uint32_t seed = 3) {
    return applied("clouds", {{"size-x", 16.0}, {"size-y", 16.0}, {"contrast", 140.0}}, nullptr, size, seed);
}

Bundle stripes() { return applied("stripes", {{"size", 16.0}, {"form", std::string("sine")}}, nullptr, size); }

double difference(const Bundle& a, const Bundle& b) { return mean_difference(a.channel(0), b.channel(0)); }

/// The eight-sector Kuwahara filter with round windows, in double, as its paper writes it.
double slow_kuwahara(const Plane& read, int x, int y, double radius, double sharp) {
    constexpr int sectors = 8, reach = 4;
    std::array<double, sectors> weight{}, mean{}, square{};
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
                weight[at] += w, mean[at] += w * value, square[at] += w * value * value;
            }
        }
    double total = 0, sum = 0;
    for (std::size_t k = 0; k < sectors; ++k) {
        const double m = mean[k] / weight[k], spread = std::max(0.0, square[k] / weight[k] - m * m);
        const double share = std::pow(1 + sharp * spread, -4.0);
        total += share, sum += share * m;
    }
    return sum / total;
}

}  // namespace

TEST_CASE("daubs are the Kuwahara filter, and keep edges that a blur would lose", "[treatments][daub]") {
    const Bundle in = soft_noise();
    const double radius = 4, soft = 0.4 * radius / 4;
    const Plane read = soft > 0.4 ? gaussian_blur(in.channel(0), soft, soft, Job()) : in.channel(0).clone();
    // Round windows have no direction: the sectors may be turned by any eighth, which our slow version is.
    const Bundle out = applied("daub", {{"size", radius}, {"follow", 0.0}, {"sharpness", 60.0}}, &in, size);
    double worst = 0;
    for (int y = 0; y < size.height; y += 5)
        for (int x = 0; x < size.width; x += 5)
            worst = std::max(worst,
                             std::abs(out.channel(0).at(x, y) - slow_kuwahara(read, x, y, radius, std::pow(10.0, 1 + 3 * 0.6))));
    // The step turns its sectors with the picture's structure; ours stand still.
    CHECK(worst < 0.06);
    Plane edge(size);
    const Plane noise = random_plane(size, 8, -0.1f, 0.1f);
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) edge.row(y)[x] = (x < 32 ? 0.25f : 0.75f) + noise.at(x, y);
    const Bundle noisy = Bundle::of(std::move(edge));
    const Bundle daubed = applied("daub", {{"size", 5.0}}, &noisy, size),
                 blurred = applied("gaussian", {{"radius", 2.5}}, &noisy, size);
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
    CHECK(difference(applied("flow", {{"length", 24.0}}, &in, size), in) < 0.01);
    // Straight across them it takes them away.
    CHECK(deviation_of(applied("flow", {{"length", 24.0}, {"turn", 0.0}}, &in, size).channel(0)) <
          0.45 * deviation_of(in.channel(0)));
    // Another strand's lines are followed as well.
    const Bundle noise = random_bundle(size, 4, false, 1);
    const Bundle combed = applied("flow", {{"length", 24.0}, {"from", std::string("strand")}, {"strand", std::string("s")}},
                                  &noise, size, 0, 0, &in);
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

TEST_CASE("tops and hollows are a height less its own blur", "[treatments][hollows]") {
    const Bundle in = soft_noise();
    const Plane soft = gaussian_blur(in.channel(0), 4, 4, Job());
    const Bundle out = applied("hollows", {{"radius", 4.0}, {"spread", 50.0}, {"bias", 10.0}}, &in, size);
    for (std::size_t i = 0; i < size.pixels(); ++i)
        REQUIRE(out.channel(0).data()[i] ==
                Approx(std::clamp(0.55 + in.channel(0).data()[i] - soft.data()[i], 0.0, 1.0)).margin(1e-5));
}

TEST_CASE("a vignette darkens corners and leaves the middle", "[treatments][vignette]") {
    const Bundle in = Bundle::of(Plane(size, 0.8f));
    const Bundle out = applied("vignette", {}, &in, size);
    CHECK(out.channel(0).at(32, 32) == 0.8f);
    CHECK(out.channel(0).at(0, 0) == Approx(0.8 * 0.4).margin(0.01));
    CHECK(out.channel(0).at(63, 63) == Approx(out.channel(0).at(0, 0)).margin(1e-5));
    const Bundle red = applied("vignette", {{"colour", Value(Colour{1, 0, 0})}}, &in, size);
    CHECK(red.channel(0).at(0, 0) > red.channel(1).at(0, 0));
    CHECK_FALSE(find_step("vignette")->tiles_note.empty());
}

TEST_CASE("waves and facets move nothing where they have no height", "[treatments][bend]") {
    const Bundle in = soft_noise();
    CHECK(difference(applied("wave", {{"height", 0.0}}, &in, size), in) < 1e-6);
    CHECK(difference(applied("crinkle", {{"push", 0.0}, {"glint", 0.0}}, &in, size), in) < 1e-6);
    CHECK(difference(applied("fray", {{"reach", 0.0}}, &in, size), in) < 1e-6);
    CHECK(difference(applied("displace", {{"x", 0.0}, {"y", 0.0}}, &in, size), in) < 1e-6);
    for (const char* kind : {"wave", "crinkle", "fray"}) {
        INFO(kind);
        const Bundle out = applied(kind, {}, &in, size, 2);
        CHECK(difference(out, in) > 0.01);
        // Tones are moved about, not made: the mean stays.
        if (std::string_view(kind) != "crinkle") CHECK(mean_of(out.channel(0)) == Approx(mean_of(in.channel(0))).margin(0.03));
    }
}

TEST_CASE("a flat mirror shows one tone, a bumpy one many; rough ones are calmer", "[treatments][reflections]") {
    const Bundle flat = Bundle::of(Plane(size, 0.5f)), in = soft_noise();
    for (const char* surroundings : {"room", "window", "cards"}) {
        INFO(surroundings);
        const Values set{{"surroundings", std::string(surroundings)}};
        CHECK(deviation_of(applied("reflections", set, &flat, size).channel(0)) < 1e-5);
        Values rough = set;
        rough["roughness"] = 90.0;
        const double clear_spread = deviation_of(applied("reflections", set, &in, size).channel(0));
        CHECK(clear_spread > 0.04);
        // A window seen dimly lights more of the surface, so that only the others get calmer.
        if (std::string_view(surroundings) != "window")
            CHECK(deviation_of(applied("reflections", rough, &in, size).channel(0)) < clear_spread);
    }
    Values brushed{{"brushed", 60.0}};
    CHECK(deviation_of(applied("reflections", brushed, &flat, size).channel(0)) > 0.01);
}

TEST_CASE("dapples keep the mean tone roughly and break smooth tone up", "[treatments][dapple]") {
    const Bundle in = applied("gradient", {}, nullptr, {128, 128});
    for (double parting : {10.0, 90.0}) {
        const Bundle out = applied("dapple", {{"size", 8.0}, {"parting", parting}}, &in, {128, 128}, 3);
        double before = 0, after = 0;
        for (int y = 0; y < 128; ++y)
            for (int x = 0; x < 127; ++x) {
                before += std::abs(in.channel(0).at(x + 1, y) - in.channel(0).at(x, y));
                after += std::abs(out.channel(0).at(x + 1, y) - out.channel(0).at(x, y));
            }
        INFO(parting);
        CHECK(after > 20 * before + 50);
        CHECK(mean_of(out.channel(0)) > 0.4 * mean_of(in.channel(0)));
    }
}

TEST_CASE("steps that follow the lamp turn with it, others do not; it is kept in the file", "[treatments][lamp]") {
    const Values follows{{"lamp", std::string("shared")}};
    Recipe recipe = recipe_of({strand_of("a", {{"clouds", {{"size-x", 16.0}, {"size-y", 16.0}}, 3}, {"relief", follows}})}, 64);
    const Bundle first = cloth(recipe, size);
    Recipe turned = with_lamp(recipe, {-45, 45});
    CHECK(greatest_difference(first, cloth(turned, size)) > 0.05);
    // The recipe's lamp at the step's own default is the step's own light.
    Recipe own = recipe_of({strand_of("a", {{"clouds", {{"size-x", 16.0}, {"size-y", 16.0}}, 3}, {"relief", {}}})}, 64);
    CHECK(same_bytes(first, cloth(own, size)));
    CHECK(same_bytes(cloth(own, size), cloth(with_lamp(own, {10, 20}), size)));
    const Reading back = read_recipe(write_recipe(turned));
    CHECK_FALSE(back.first_fault());
    CHECK(back.recipe == turned);
    CHECK_FALSE(back.recipe == recipe);
    // A cached picture of one lamp is not taken for another's.
    Cache cache(std::size_t{1} << 28);
    const Bundle cached = cloth(recipe, size, 0, &cache);
    CHECK(same_bytes(cached, first));
    CHECK(same_bytes(cloth(turned, size, 0, &cache), cloth(turned, size)));
    std::string wrong = write_recipe(turned);
    wrong.replace(wrong.find("\"elevation\": 45"), 15, "\"elevation\": 95");
    REQUIRE(read_recipe(wrong).first_fault());
    CHECK(read_recipe(wrong).first_fault()->pointer == "/lamp/elevation");
}
