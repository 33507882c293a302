// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include <algorithm>
#include <cmath>
#include <set>

#include "core/noise/clouds.h"
#include "core/noise/grains.h"
#include "core/noise/lattice.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

void values(const LatticeNoise& field, int y, std::vector<float>& out, const float* du = nullptr, const float* dv = nullptr) {
    std::fill(out.begin(), out.end(), 0.0f);
    field.add_row(y, 1, out.data(), du, dv);
}

Plane noise(const Lattice& lattice, Basis basis, std::uint64_t seed, Size size) {
    const LatticeNoise field(lattice, basis, seed, size);
    Plane plane(size);
    std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
    for (int y = 0; y < size.height; ++y) {
        std::fill(row.begin(), row.end(), 0.0f);
        field.add_row(y, 1, row.data());
        std::copy_n(row.begin(), size.width, plane.row(y));
    }
    return plane;
}

Plane clouds(const CloudSettings& settings, Size size) {
    const CloudField field(settings, size);
    Plane plane(size);
    std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
    for (int y = 0; y < size.height; ++y) {
        field.row(y, row.data());
        std::copy_n(row.begin(), size.width, plane.row(y));
    }
    return plane;
}

int residue(const Lattice& l, int i, int j, int which) {
    const long long k = which == 1 ? 1LL * l.r11 * i + 1LL * l.r12 * j : 1LL * l.r21 * i + 1LL * l.r22 * j;
    const int d = which == 1 ? l.d1 : l.d2;
    return static_cast<int>(((k % d) + d) % d);
}

/// Correlation of a plane with itself moved.
double correlation(const Plane& plane, int dx, int dy) {
    const double mean = mean_of(plane), deviation = deviation_of(plane);
    double sum = 0;
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x) sum += (plane.at(x, y) - mean) * (plane.wrapped(x + dx, y + dy) - mean);
    return sum / static_cast<double>(plane.size().pixels()) / (deviation * deviation);
}

}  // namespace

TEST_CASE("lattice points are the same exactly when they lie whole tiles apart", "[noise]") {
    for (const Lattice& l : {Lattice::of(4, 0, 0, 4), Lattice::of(2, -1, 1, 2), Lattice::of(6, -9, 4, 6),
                             Lattice::of(3, 0, 0, 17), Lattice::of(5, -3, 0, 6)}) {
        const int determinant = std::abs(l.a * l.d - l.b * l.c);
        CHECK(l.d1 * l.d2 == determinant);
        std::set<std::pair<int, int>> seen;
        for (int i = 0; i < 60; ++i)
            for (int j = 0; j < 60; ++j) {
                seen.insert({residue(l, i, j, 1), residue(l, i, j, 2)});
                // One tile across is (a, c) in cells, one down is (b, d).
                for (int which : {1, 2}) {
                    REQUIRE(residue(l, i + l.a, j + l.c, which) == residue(l, i, j, which));
                    REQUIRE(residue(l, i + l.b, j + l.d, which) == residue(l, i, j, which));
                }
            }
        CHECK(static_cast<int>(seen.size()) == determinant);
    }
}

TEST_CASE("lattice noise read whole tiles away is the same, also on turned and stretched lattices", "[noise]") {
    for (Basis basis : {Basis::gradient, Basis::value, Basis::simplex})
        for (const Lattice& lattice : {Lattice::of(8, 0, 0, 8), Lattice::of(6, -4, 4, 6), Lattice::of(5, -30, 2, 75)}) {
            const LatticeNoise field(lattice, basis, 5, {96, 64});
            const auto padded = static_cast<std::size_t>(field.padded_width());
            std::vector<float> here(padded), there(padded), du(padded), dv(padded);
            for (int y = 0; y < 64; y += 7) {
                values(field, y, here);
                for (const auto& [u, v] :
                     {std::pair{1.0f, 0.0f}, std::pair{0.0f, 1.0f}, std::pair{-1.0f, 1.0f}, std::pair{2.0f, -3.0f}}) {
                    std::fill(du.begin(), du.end(), u), std::fill(dv.begin(), dv.end(), v);
                    values(field, y, there, du.data(), dv.data());
                    // The fraction loses its last bits to the whole part that is added; the lattice points must be the same.
                    for (std::size_t x = 0; x < 96; ++x) REQUIRE(std::abs(here[x] - there[x]) < 2e-4);
                }
            }
        }
}

TEST_CASE("lattice noise is periodic to the last bit where fractions are exact", "[noise][clouds]") {
    // Cells and pixels are powers of two here, so that adding whole tiles loses no bit: the same bytes have to come out.
    for (Basis basis : {Basis::gradient, Basis::value, Basis::simplex})
        for (const Lattice& lattice : {Lattice::of(8, 0, 0, 8), Lattice::of(8, -4, 4, 8), Lattice::of(2, -16, 1, 32)}) {
            const LatticeNoise field(lattice, basis, 3, {128, 128});
            const auto padded = static_cast<std::size_t>(field.padded_width());
            std::vector<float> here(padded), there(padded), du(padded), dv(padded);
            for (int y = 0; y < 128; y += 3) {
                values(field, y, here);
                for (const auto& [u, v] : {std::pair{1.0f, 0.0f}, std::pair{0.0f, 1.0f}, std::pair{-1.0f, 2.0f}}) {
                    std::fill(du.begin(), du.end(), u), std::fill(dv.begin(), dv.end(), v);
                    values(field, y, there, du.data(), dv.data());
                    REQUIRE(std::equal(here.begin(), here.begin() + 128, there.begin()));
                }
            }
        }
}

TEST_CASE("lattice noise has mean 0 and the deviation it states", "[noise]") {
    for (Basis basis : {Basis::gradient, Basis::value, Basis::simplex}) {
        double mean = 0, deviation = 0, most = 0;
        constexpr int seeds = 12;
        for (int seed = 0; seed < seeds; ++seed) {
            const Plane plane = noise(Lattice::of(32, 0, 0, 32), basis, static_cast<std::uint64_t>(seed), {256, 256});
            mean += mean_of(plane) / seeds, deviation += deviation_of(plane) / seeds;
            for (std::size_t i = 0; i < plane.size().pixels(); ++i) most = std::max(most, std::abs(double(plane.data()[i])));
        }
        INFO(static_cast<int>(basis) << " deviation " << deviation << " most " << most);
        CHECK(std::abs(mean) < 0.02);
        CHECK(deviation == Approx(LatticeNoise::deviation(basis)).epsilon(0.08));
        // Three uniform values add up to at most their number over its root.
        CHECK(most < (basis == Basis::value ? 1.74 : 1.2));
    }
}

TEST_CASE("clouds of two seeds do not look alike", "[noise][clouds]") {
    double sum = 0;
    constexpr int pairs = 8;
    for (int pair = 0; pair < pairs; ++pair) {
        CloudSettings settings;
        settings.across = settings.down = 16, settings.octaves = 4, settings.seed = static_cast<std::uint64_t>(2 * pair);
        const Plane a = clouds(settings, {256, 256});
        ++settings.seed;
        const Plane b = clouds(settings, {256, 256});
        double product = 0;
        for (std::size_t i = 0; i < a.size().pixels(); ++i) product += a.data()[i] * b.data()[i];
        const double likeness = product / static_cast<double>(a.size().pixels()) / (deviation_of(a) * deviation_of(b));
        CHECK(std::abs(likeness) < 0.25);
        sum += likeness / pairs;
    }
    CHECK(std::abs(sum) < 0.08);
}

TEST_CASE("clouds have no preferred direction", "[noise][clouds]") {
    double across = 0, down = 0, rising = 0, falling = 0;
    constexpr int seeds = 16;
    for (int seed = 0; seed < seeds; ++seed) {
        CloudSettings settings;
        settings.across = settings.down = 12, settings.octaves = 4, settings.seed = static_cast<std::uint64_t>(seed);
        const Plane plane = clouds(settings, {256, 256});
        across += correlation(plane, 10, 0) / seeds, down += correlation(plane, 0, 10) / seeds;
        rising += correlation(plane, 7, 7) / seeds, falling += correlation(plane, 7, -7) / seeds;
    }
    INFO(across << " " << down << " " << rising << " " << falling);
    CHECK(std::abs(across - down) < 0.05);
    CHECK(std::abs(rising - falling) < 0.05);
    CHECK(std::abs((across + down) - (rising + falling)) < 0.1);
}

TEST_CASE("every form of clouds has mean 0 and deviation 1, roughly, whatever the octaves", "[noise][clouds]") {
    for (CloudForm form : {CloudForm::smooth, CloudForm::billowed, CloudForm::ridged, CloudForm::folded, CloudForm::single_band})
        for (int octaves : {1, 4, 7}) {
            // The finest octave alone is finer than these pixels and rightly averages out.
            if (form == CloudForm::single_band && octaves == 7) continue;
            double mean = 0, deviation = 0;
            constexpr int seeds = 6;
            for (int seed = 0; seed < seeds; ++seed) {
                CloudSettings settings;
                settings.across = settings.down = 8, settings.form = form, settings.octaves = octaves,
                settings.seed = static_cast<std::uint64_t>(seed);
                const Plane plane = clouds(settings, {512, 512});
                mean += mean_of(plane) / seeds, deviation += deviation_of(plane) / seeds;
            }
            INFO("form " << static_cast<int>(form) << " octaves " << octaves << " mean " << mean << " deviation " << deviation);
            CHECK(std::abs(mean) < 0.3);
            CHECK(deviation > 0.6);
            CHECK(deviation < 1.5);
        }
}

TEST_CASE("grains have the spread that is asked for", "[noise][grains]") {
    for (Spread spread : {Spread::even, Spread::gaussian})
        for (float tails : {0.0f, 1.0f}) {
            GrainSettings settings;
            settings.spread = spread, settings.across = settings.down = 512, settings.tails = tails, settings.seed = 3;
            const GrainField field(settings, {512, 512});
            Plane plane({512, 512});
            for (int y = 0; y < 512; ++y) field.row(y, 0, 512, plane.row(y));
            CHECK(std::abs(mean_of(plane)) < 0.01);
            CHECK(deviation_of(plane) == Approx(1).margin(0.02));
            double fourth = 0;
            for (std::size_t i = 0; i < plane.size().pixels(); ++i)
                fourth += std::pow(plane.data()[i], 4.0) / static_cast<double>(plane.size().pixels());
            // Kurtosis: 1.8 for even, 3 for normal deviates, more with heavy tails.
            if (tails == 0)
                CHECK(fourth == Approx(spread == Spread::even ? 1.8 : 3.0).epsilon(0.03));
            else
                CHECK(fourth > (spread == Spread::even ? 2.2 : 8.0));
        }
}

TEST_CASE("a smaller rendering shows the averages of the same grains, a larger one the same grains", "[noise][grains]") {
    GrainSettings settings;
    settings.across = 96, settings.down = 64, settings.seed = 11;
    auto plane = [&](Size size) {
        const GrainField field(settings, size);
        Plane out(size);
        for (int y = 0; y < size.height; ++y) field.row(y, 0, size.width, out.row(y));
        return out;
    };
    const Plane whole = plane({96, 64});
    CHECK(greatest_difference(resized(whole, {32, 16}), plane({32, 16})) < 1e-5);
    CHECK(greatest_difference(resized(plane({288, 192}), {96, 64}), whole) < 1e-5);
    // A size that is no whole share of the grains still averages exactly.
    CHECK(greatest_difference(resized(whole, {40, 27}), plane({40, 27})) < 1e-4);
}

TEST_CASE("sparse grains light the share that is asked for", "[noise][grains]") {
    GrainSettings settings;
    settings.spread = Spread::sparse, settings.across = settings.down = 512, settings.share = 0.07f;
    const GrainField field(settings, {512, 512});
    Plane plane({512, 512});
    for (int y = 0; y < 512; ++y) field.row(y, 0, 512, plane.row(y));
    CHECK(mean_of(plane) == Approx(0.07).margin(0.003));
}
