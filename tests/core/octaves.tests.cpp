// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops that fold octaves and enlarge coarse ones, against the same written plainly.
#include <cmath>

#include "core/base/hash.h"
#include "core/noise/rectify_kernel.h"
#include "core/noise/clouds.h"
#include "core/noise/rectify_kernel.h"
#include "core/noise/lattice.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("folding octaves is what it is in plain words, at odd widths", "[noise][kernels]") {
    for (int count : {1, 7, 16, 33, 250}) {
        const auto padded = static_cast<std::size_t>(count) + lattice_padding;
        std::vector<float> band(padded), billows(padded, 0.25f), ridges(padded, 0.5f), ridge(padded, 0.8f);
        for (std::size_t k = 0; k < padded; ++k) band[k] = 2 * unit_float(mix64(k)) - 1;
        add_billows(band.data(), 0.7f, count, billows.data());
        add_ridges(band.data(), 0.7f, count, ridge.data(), ridges.data());
        for (std::size_t k = 0; k < static_cast<std::size_t>(count); ++k) {
            const float signal = 1 - std::min(1.0f, 1.6f * std::abs(band[k])), sharp = signal * signal * 0.8f;
            CHECK(billows[k] == Approx(0.25 + 0.7 * double(std::abs(band[k]))).margin(1e-6));
            CHECK(ridges[k] == Approx(0.5 + 0.7 * double(sharp)).margin(1e-6));
            CHECK(ridge[k] == Approx(std::min(1.0, 2 * double(sharp))).margin(1e-6));
        }
        // Nothing behind the row is touched.
        CHECK(billows[static_cast<std::size_t>(count)] == 0.25f);
    }
}

TEST_CASE("folded clouds enlarged from coarse octaves are the exact ones, near enough", "[noise][clouds]") {
    for (CloudForm form : {CloudForm::billowed, CloudForm::ridged}) {
        CloudSettings settings;
        settings.form = form, settings.across = 3, settings.down = 4, settings.octaves = 5, settings.seed = 9;
        const Size size{512, 384};
        const CloudField exact(settings, size), quick(settings, size, &job);
        std::vector<float> a(static_cast<std::size_t>(exact.padded_width())), b(a.size());
        double worst = 0, mean = 0, square = 0;
        for (int y = 0; y < size.height; y += 3) {
            exact.row(y, a.data()), quick.row(y, b.data());
            for (std::size_t x = 0; x < 512; ++x) {
                worst = std::max(worst, std::abs(double(a[x]) - double(b[x])));
                mean += double(b[x]) / (512 * 128), square += double(b[x]) * double(b[x]) / (512 * 128);
            }
        }
        INFO(static_cast<int>(form) << ": " << worst << ", mean " << mean << ", deviation " << std::sqrt(square - mean * mean));
        // In deviations; a hundredth of a tone.
        CHECK(worst < 0.05);
        CHECK(worst > 0);
        CHECK(std::abs(mean) < 0.35);
        CHECK(std::sqrt(square - mean * mean) == Approx(1).margin(0.3));
    }
}

TEST_CASE("every lattice of whole numbers closes, however its directions lie", "[lattice]") {
    // Sheared ones are those that exchanging rows and columns alone would never bring to rest.
    for (int a = -6; a <= 6; ++a)
        for (int b = -40; b <= 40; b += 3)
            for (int c = -6; c <= 6; ++c)
                for (int d : {-17, -4, 1, 5, 12}) {
                    const long determinant = static_cast<long>(a) * d - static_cast<long>(b) * c;
                    if (determinant == 0) continue;
                    const Lattice lattice = Lattice::of(a, b, c, d);
                    REQUIRE(static_cast<long>(lattice.d1) * lattice.d2 == std::labs(determinant));
                    // Cells a tile apart are the same one.
                    const auto same = [&](long i, long j) {
                        return (lattice.r11 * i + lattice.r12 * j) % lattice.d1 == 0 &&
                               (lattice.r21 * i + lattice.r22 * j) % lattice.d2 == 0;
                    };
                    REQUIRE(same(a, c));
                    REQUIRE(same(b, d));
                }
}
