// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What pictures must not show: lattices, spokes, nets, outlines and sparks that come from how they are computed.
#include <cmath>

#include "core/image/gaussian.h"
#include "core/noise/clouds.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

/// Power of a periodic picture at one wave.
double power_at(const Plane& plane, int fx, int fy) {
    double c = 0, s = 0;
    for (int y = 0; y < plane.height(); ++y)
        for (int x = 0; x < plane.width(); ++x) {
            const double phase =
                2 * pi * (static_cast<double>(fx * x) / plane.width() + static_cast<double>(fy * y) / plane.height());
            c += static_cast<double>(plane.at(x, y)) * std::cos(phase),
                s += static_cast<double>(plane.at(x, y)) * std::sin(phase);
        }
    return c * c + s * s;
}

/// The greatest power of any direction beside the mean of all, over rings of waves near `radius` and many seeds.
double strongest_direction(const CloudSettings& base, Size size, double radius) {
    constexpr int directions = 16, seeds = 12;
    double strongest = 0, mean = 0;
    std::vector<Plane> planes;
    for (int seed = 0; seed < seeds; ++seed) {
        CloudSettings settings = base;
        settings.seed = static_cast<std::uint64_t>(seed);
        const CloudField field(settings, size);
        Plane plane(size);
        std::vector<float> row(static_cast<std::size_t>(field.padded_width()));
        for (int y = 0; y < size.height; ++y) field.row(y, row.data()), std::copy_n(row.begin(), size.width, plane.row(y));
        planes.push_back(std::move(plane));
    }
    for (int k = 0; k < directions; ++k) {
        const double turn = pi * k / directions;
        double power = 0;
        for (double r : {0.85 * radius, radius, 1.15 * radius})
            for (const Plane& plane : planes)
                power += power_at(plane, static_cast<int>(std::lround(r * std::cos(turn))),
                                  static_cast<int>(std::lround(r * std::sin(turn))));
        strongest = std::max(strongest, power), mean += power / directions;
    }
    return strongest / mean;
}

}  // namespace

TEST_CASE("no basis shows rows and columns, however few octaves there are", "[looks][clouds]") {
    const Size size{128, 128};
    for (Basis basis : {Basis::gradient, Basis::value, Basis::simplex})
        for (int octaves : {1, 2})
            for (double cells : {12.0, 21.0}) {
                CloudSettings settings;
                settings.basis = basis, settings.across = settings.down = cells, settings.octaves = octaves;
                const double worst = strongest_direction(settings, size, 1.1 * cells);
                INFO(static_cast<int>(basis) << " " << octaves << " " << cells << ": " << worst);
                // 36 draws of an exponential deviate scatter by a sixth; one square lattice alone gives more than twice the mean.
                CHECK(worst < 1.75);
            }
    // As people look at it: strong contrast, few octaves. What repeats along rows and columns would tie neighbours there more
    // than along the slants.
    const Bundle out =
        applied("clouds", {{"size-x", 6.0}, {"size-y", 6.0}, {"octaves", 2.0}, {"contrast", 420.0}}, nullptr, {384, 384}, 3);
    const Plane& plane = out.channel(0);
    auto alike = [&](double angle, double distance) {
        double sum = 0;
        const double mean = mean_of(plane);
        const int dx = static_cast<int>(std::lround(distance * std::cos(angle))),
                  dy = static_cast<int>(std::lround(distance * std::sin(angle)));
        for (int y = 0; y < 384; ++y)
            for (int x = 0; x < 384; ++x) sum += (double(plane.at(x, y)) - mean) * (double(plane.wrapped(x + dx, y + dy)) - mean);
        return sum / static_cast<double>(plane.size().pixels()) / (deviation_of(plane) * deviation_of(plane));
    };
    for (double distance : {6.0, 12.0, 18.0}) {
        const double along = (alike(0, distance) + alike(pi / 2, distance)) / 2,
                     slanted = (alike(pi / 4, distance) + alike(-pi / 4, distance)) / 2;
        INFO(distance << ": " << along << " and " << slanted);
        CHECK(std::abs(along - slanted) < 0.06);
    }
}

TEST_CASE("an angular gradient begins centred and closed, without a spoke whatever its turns", "[looks][gradient]") {
    const StepDescription& step = *find_step("gradient");
    Values values;
    set_parameter(step, values, *step.parameter("form"), Value(std::string("angular")));
    for (double turns : {1.0, 2.0, 3.0}) {
        values["turns"] = turns;
        CHECK(step.notice(values).empty());
        const Bundle out = applied("gradient", values, nullptr, {256, 256});
        // All round the middle no step is larger than a smooth ramp's.
        double worst = 0;
        for (int k = 0; k < 720; ++k) {
            auto at = [&](int n) {
                const double a = 2 * pi * n / 720;
                return static_cast<double>(out.channel(0).at(128 + static_cast<int>(std::lround(100 * std::cos(a))),
                                                             128 + static_cast<int>(std::lround(100 * std::sin(a)))));
            };
            worst = std::max(worst, std::abs(at(k + 1) - at(k)));
        }
        INFO(turns << ": " << worst);
        CHECK(worst < 0.05 * turns);
    }
    // What would leave a spoke says so: mirrored an odd number of turns, or turns that are not whole.
    values["close"] = false, values["turns"] = 3.0;
    CHECK_THAT(step.notice(values), Catch::Contains("spoke"));
    values["turns"] = 2.0;
    CHECK(step.notice(values).empty());
    values["turns"] = 2.5;
    CHECK_THAT(step.notice(values), Catch::Contains("whole"));
}

TEST_CASE("long fibres of little spread stay fibres", "[looks][dashes]") {
    for (double length : {40.0, 300.0, 900.0}) {
        const Bundle out = applied("dashes",
                                   {{"count", 120.0},
                                    {"length", length},
                                    {"length-spread", 60.0},
                                    {"direction-spread", 2.0},
                                    {"width", 3.0},
                                    {"curl", 15.0},
                                    {"combine", std::string("lighter")}},
                                   nullptr, {512, 512}, 5);
        // The structure tensor of the strokes: how far from upright their lines run on average.
        const Plane soft = gaussian_blur(out.channel(0), 1, 1, Job());
        double sum = 0, weight = 0;
        for (int y = 0; y < 512; ++y)
            for (int x = 0; x < 512; ++x) {
                const double gx = double(soft.wrapped(x + 1, y)) - double(soft.wrapped(x - 1, y)),
                             gy = double(soft.wrapped(x, y + 1)) - double(soft.wrapped(x, y - 1));
                const double strength = gx * gx + gy * gy;
                sum += strength * std::pow(std::atan(gy / (std::abs(gx) + 1e-9)), 2), weight += strength;
            }
        const double degrees = std::sqrt(sum / weight) * 180 / pi;
        INFO(length << " px: " << degrees);
        // Ends of strokes are round, which short ones have more of.
        CHECK(degrees < (length < 100 ? 22 : 11));
    }
}

TEST_CASE("stacked flakes mirror by their own tilt up to their edges", "[looks][reflections]") {
    const Size size{256, 256};
    const auto scattered = apply_step(*find_step("scatter"), {{"count", 1500.0}, {"size", 26.0}, {"tilt", 0.0}, {"bend", 0.0}}, 4,
                                      size, nullptr, {}, 0, job, {"height", "id", "tilt-x", "tilt-y"});
    REQUIRE(scattered);
    const Bundle mirrored = applied("reflections", {{"height", std::string("height")}, {"depth", 52.0}}, &*scattered, size);
    // Level flakes at many depths: each mirrors the same tone, and so does every edge between two.
    const PlaneRef id = scattered->plane(objects::id);
    REQUIRE(id);
    const float level = mirrored.channel(0).at(128, 128);
    int dark = 0, owned = 0;
    for (int y = 0; y < 256; ++y)
        for (int x = 0; x < 256; ++x) {
            if (id->at(x, y) == 0) continue;
            ++owned, dark += std::abs(mirrored.channel(0).at(x, y) - level) > 0.02f;
        }
    INFO(dark << " of " << owned);
    CHECK(owned > 50000);
    // A sliver narrower than a pixel may be missed.
    CHECK(dark < 20);
    // Tilted ones differ from one to the next, but each is of one tone.
    const auto tilted = apply_step(*find_step("scatter"), {{"count", 300.0}, {"size", 40.0}, {"tilt", 20.0}, {"bend", 0.0}}, 4,
                                   {512, 512}, nullptr, {}, 0, job, {"height", "id", "tilt-x", "tilt-y"});
    REQUIRE(tilted);
    const Bundle shown =
        applied("reflections", {{"height", std::string("height")}, {"depth", 80.0}, {"surroundings", std::string("room")}},
                &*tilted, {512, 512});
    std::map<float, std::pair<float, float>> ranges;
    for (int y = 0; y < 512; ++y)
        for (int x = 0; x < 512; ++x) {
            const float k = tilted->plane(objects::id)->at(x, y), tone = shown.channel(0).at(x, y);
            auto [at, is_new] = ranges.try_emplace(k, tone, tone);
            at->second = {std::min(at->second.first, tone), std::max(at->second.second, tone)};
        }
    int uneven = 0;
    for (const auto& [k, range] : ranges) uneven += k > 0 && range.second - range.first > 0.05f;
    CHECK(ranges.size() > 150);
    CHECK(uneven < static_cast<int>(ranges.size()) / 20);
}

TEST_CASE("highlights have no sparks of single pixels, and low sharpness no haze", "[looks][relief]") {
    const Size size{256, 256};
    // Scales that meet in sharp valleys.
    const Bundle scales = applied("cells", {{"size", 18.0}, {"merging", 0.0}, {"rounding", 0.0}}, nullptr, size, 2);
    const Bundle out = applied(
        "relief", {{"depth", 10.0}, {"diffuse", 0.0}, {"shine", 75.0}, {"sharpness", 70.0}, {"result", std::string("light")}},
        &scales, size);
    int sparks = 0;
    for (int y = 0; y < 256; ++y)
        for (int x = 0; x < 256; ++x) {
            float around = 0;
            for (const auto& [dx, dy] : {std::pair{1, 0}, {-1, 0}, {0, 1}, {0, -1}, {1, 1}, {-1, -1}, {1, -1}, {-1, 1}})
                around = std::max(around, out.channel(0).wrapped(x + dx, y + dy));
            sparks += out.channel(0).at(x, y) > 0.35f && around < 0.4f * out.channel(0).at(x, y);
        }
    CHECK(sparks < 4);
    CHECK(deviation_of(out.channel(0)) > 0.005);
    // A level surface keeps its tone at any sharpness.
    const Bundle flat = Bundle::of(Plane(size, 0.4f));
    for (double sharpness : {1.0, 4.0, 20.0, 100.0}) {
        const Bundle lit = applied("relief", {{"shine", 100.0}, {"sharpness", sharpness}}, &flat, size);
        CHECK(lit.channel(0).at(9, 9) == Approx(0.4).margin(2e-3));
    }
}

TEST_CASE("beyond the edge a displacement wraps, holds or is clear", "[looks][displace]") {
    // Dark at the head, light at the foot; all of it moved up by ten pixels.
    Plane ramp({64, 64});
    for (int y = 0; y < 64; ++y) std::fill_n(ramp.row(y), 64, static_cast<float>(y) / 63);
    const Bundle in = Bundle::of(std::move(ramp)), up = Bundle::of(Plane({64, 64}, 1.0f));
    auto moved = [&](const char* edge, double y) {
        return applied("displace",
                       {{"source", std::string("strand")},
                        {"strand", std::string("m")},
                        {"from", std::string("tone")},
                        {"x", 0.0},
                        {"y", y},
                        {"edge", std::string(edge)}},
                       &in, {64, 64}, 0, 0, &up);
    };
    CHECK(moved("wrap", 10.3).channel(0).at(20, 60) < 0.3f);
    const Bundle held = moved("hold", 10.3);
    for (int y : {58, 60, 63}) CHECK(held.channel(0).at(20, y) == Approx(1).margin(1e-4));
    CHECK(held.channel(0).at(20, 20) == Approx(30.3 / 63).margin(1e-3));
    CHECK_FALSE(held.coverage);
    const Bundle clear = moved("clear", 10.0);
    REQUIRE(clear.coverage);
    CHECK(clear.coverage->at(20, 20) == Approx(1));
    CHECK(clear.coverage->at(20, 60) == Approx(0));
    CHECK(clear.channel(0).at(20, 60) == Approx(0));
    // A place half a pixel out is half there.
    CHECK(moved("clear", 10.5).coverage->at(20, 53) == Approx(0.5).margin(1e-3));
    CHECK(moved("hold", -10.3).channel(0).at(20, 3) == Approx(0).margin(1e-4));
}

TEST_CASE("what is enlarged is made at the size it is shown at, and its memory is told beforehand", "[looks][place]") {
    auto placed = [](bool sharp) {
        return recipe_of({strand_of("a", {{"cells", {{"size", 40.0}, {"merging", 0.0}, {"show", std::string("tone")}}, 3},
                                          {"place", {{"scale", 400.0}, {"keep", false}, {"sharp", sharp}}}})},
                         256);
    };
    auto steepest = [](const Bundle& picture) {
        double most = 0;
        for (int y = 0; y < 256; ++y)
            for (int x = 0; x < 255; ++x)
                most = std::max(most, std::abs(double(picture.channel(0).at(x + 1, y)) - double(picture.channel(0).at(x, y))));
        return most;
    };
    const Size size{256, 256};
    const Bundle soft = cloth(placed(false), size), sharp = cloth(placed(true), size);
    // Edges of a pixel instead of four.
    CHECK(steepest(sharp) > 2 * steepest(soft));
    CHECK(mean_difference(soft.channel(0), sharp.channel(0)) < 0.03);
    const std::size_t plain = make_plan(placed(false), size, {Wanted{}}).peak_bytes(),
                      told = make_plan(placed(true), size, {Wanted{}}).peak_bytes();
    CHECK(told > 8 * plain);
    RenderOptions options;
    options.memory_limit = 2 * plain;
    const auto refused = render_cloth(placed(true), size, options, job);
    REQUIRE_FALSE(refused);
    CHECK(refused.error().fault == Fault::memory);
    // In a mask, too, and behind a step that is switched off.
    Recipe masked = placed(true);
    Strand strand = *masked.strands[0];
    strand.mask.push_back(strand.steps[1]);
    strand.mask.change(0).id = "m1";
    strand.steps.erase(strand.steps.back().id);
    masked.strands[0] = std::make_shared<const Strand>(strand);
    CHECK(cloth(masked, size).coverage);
    // A strand that goes round in a circle through enlarged places still ends.
    Recipe ring = placed(true);
    Strand around = *ring.strands[0];
    around.steps.change(0).kind = "borrow", around.steps.change(0).set = {{"strand", std::string("a")}};
    ring.strands[0] = std::make_shared<const Strand>(around);
    CHECK(cloth(ring, {32, 32}).size() == Size{32, 32});
}
