// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Spark, kinship and play by direct sums in double.
#include <cmath>
#include <vector>

#include "core/colour/colour.h"
#include "core/measure/life.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

const Size size{96, 80};
using Field = std::vector<double>;

Field blurred(const Field& of, double deviation) {
    const int reach = static_cast<int>(std::ceil(5 * deviation));
    std::vector<double> weights;
    double total = 0;
    for (int k = -reach; k <= reach; ++k)
        weights.push_back(std::exp(-0.5 * k * k / (deviation * deviation))), total += weights.back();
    const auto along = [&](const Field& from, int dx, int dy) {
        Field out(from.size());
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x)
                for (int k = -reach; k <= reach; ++k)
                    out[size_t(y * size.width + x)] +=
                        weights[size_t(k + reach)] / total *
                        from[size_t(wrap(y + k * dy, size.height) * size.width + wrap(x + k * dx, size.width))];
        return out;
    };
    return along(along(of, 1, 0), 0, 1);
}

double mean(const Field& f) {
    double sum = 0;
    for (double v : f) sum += v;
    return sum / double(f.size());
}
double moment(const Field& f, int power) {
    const double m = mean(f);
    double sum = 0;
    for (double v : f) sum += std::pow(v - m, power);
    return sum / double(f.size());
}
Field minus(Field a, const Field& b) {
    for (size_t i = 0; i < a.size(); ++i) a[i] -= b[i];
    return a;
}
double correlation(const Field& a, const Field& b) {
    const double ma = mean(a), mb = mean(b);
    double sum = 0;
    for (size_t i = 0; i < a.size(); ++i) sum += (a[i] - ma) * (b[i] - mb);
    return sum / double(a.size()) / std::sqrt(moment(a, 2) * moment(b, 2));
}
Field lightness(const Bundle& b) {
    Field out;
    for (size_t i = 0; i < b.size().pixels(); ++i)
        out.push_back(double(to_oklab({b.channel(0).data()[i], b.channel(1).data()[i], b.channel(2).data()[i]}).lightness));
    return out;
}

}  // namespace

TEST_CASE("spark and kinship are kurtosis of bands and correlation of their strength", "[measure][life]") {
    const Bundle picture = applied("clouds", {{"size-x", 12.0}, {"size-y", 12.0}, {"contrast", 180.0}}, nullptr, size, 5);
    const Field light = lightness(picture);
    std::vector<Field> bands;
    for (int k = 0; k < 3; ++k) bands.push_back(minus(blurred(light, 0.7 * (1 << k)), blurred(light, 1.4 * (1 << k))));
    double spark = 0, kinship = 0;
    for (size_t k = 0; k < 2; ++k) {
        spark += moment(bands[k], 4) / std::pow(moment(bands[k], 2), 2) / 2;
        const auto strength = [&](Field f) {
            for (double& v : f) v = std::abs(v);
            return blurred(f, 1.4 * double(1 << k));
        };
        kinship += correlation(strength(bands[k]), strength(bands[k + 1])) / 2;
    }
    const Life life = life_of(picture, job);
    CHECK(life.spark == Approx(spark).epsilon(0.02));
    CHECK(life.kinship == Approx(kinship).margin(0.02));
    CHECK(life.play == 0);
    // Static is Gaussian; few bright dots are not.
    CHECK(
        life_of(applied("static", {{"spread", std::string("gaussian")}, {"amount", 30.0}}, nullptr, {256, 256}, 2), job).spark ==
        Approx(3).margin(0.35));
    CHECK(life_of(applied("static", {{"spread", std::string("sparse")}, {"amount", 2.0}}, nullptr, {256, 256}, 2), job).spark >
          8);
    CHECK(bands_of(picture, job).deviation[1] == Approx(std::sqrt(moment(bands[1], 2))).epsilon(0.02));
}

TEST_CASE("play is colour that lightness does not explain", "[measure][life]") {
    const Bundle tone = cloud_picture(size, 20);
    const Bundle mapped =
        applied("gradientmap", {{"stops", Stops{{0, {0.2f, 0.1f, 0.05f}, 0}, {1, {0.9f, 0.8f, 0.6f}, 0}}}}, &tone, size);
    CHECK(life_of(mapped, job).play < 0.15);
    // A hue that turns by itself counts whole: a's deviation by its known size.
    Plane red(size), green(size), blue(size);
    double a_sum = 0, a_squares = 0, b_sum = 0, b_squares = 0;
    for (int y = 0; y < size.height; ++y)
        for (int x = 0; x < size.width; ++x) {
            const float turn = 6.2831853f * static_cast<float>(x) / 96;
            const Lab lab{0.6f, 0.03f * std::cos(turn), 0.03f * std::sin(turn)};
            const Colour c = from_oklab(lab);
            red.row(y)[x] = c.red, green.row(y)[x] = c.green, blue.row(y)[x] = c.blue;
            a_sum += double(lab.a), a_squares += double(lab.a) * double(lab.a);
            b_sum += double(lab.b), b_squares += double(lab.b) * double(lab.b);
        }
    const double n = double(size.pixels());
    const double expected = 100 * std::sqrt(a_squares / n - a_sum * a_sum / n / n + b_squares / n - b_sum * b_sum / n / n);
    CHECK(life_of(Bundle::of(std::move(red), std::move(green), std::move(blue)), job).play == Approx(expected).epsilon(0.03));
    // Too small or flat: nothing to tell, and no number that is none.
    CHECK(life_of(Bundle::of(Plane({8, 8}, 0.5f)), job).spark == 0);
    const Life flat = life_of(Bundle::of(Plane(size, 0.5f), Plane(size, 0.4f), Plane(size, 0.3f)), job);
    CHECK(flat.spark == 0);
    CHECK(flat.kinship == 0);
    CHECK(flat.play == Approx(0).margin(0.02));
}
