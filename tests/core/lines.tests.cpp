// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What structures are drawn with: sheets of noise, maps of lines, strokes, nets; each against a plain slow way.
#include <cmath>

#include "core/image/sample.h"
#include "core/image/sample_kernel.h"
#include "core/image/stream_map.h"
#include "core/noise/noise_sheet.h"
#include "core/noise/place_noise.h"
#include "core/structures/courses_kernel.h"
#include "core/structures/stroke.h"
#include "core/structures/vein_net.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

std::vector<float> row_of(const NoiseSheet& sheet, float v) {
    std::vector<float> row(static_cast<std::size_t>(sheet.columns() + NoiseSheet::row_padding));
    sheet.row(v, row.data());
    return row;
}

/// A field of one angle, or of one that `angle` gives for a place in tiles; y down.
template <class Angle>
DirectionField field_of(int side, Angle angle) {
    DirectionField field{Plane({side, side}), Plane({side, side})};
    for (int y = 0; y < side; ++y)
        for (int x = 0; x < side; ++x) {
            const double a = angle((x + 0.5) / side, (y + 0.5) / side);
            field.cosine.row(y)[x] = static_cast<float>(std::cos(2 * a)),
            field.sine.row(y)[x] = static_cast<float>(std::sin(2 * a));
        }
    return field;
}

struct Reached {
    std::vector<float> x, y, back_x, back_y;
};
Reached reached(const StreamMap& map, Size size, int y, std::size_t k) {
    std::vector<float> out[4];
    float* to[4];
    for (int c = 0; c < 4; ++c) out[c].resize(static_cast<std::size_t>(size.width) + 16), to[c] = out[c].data();
    map.row(size, y, 0, size.width, k, to);
    return {out[0], out[1], out[2], out[3]};
}

/// What a straight stroke covers of a pixel, from the distance to its middle line.
double covered(double x, double y, double x0, double y0, double x1, double y1, double half, double taper) {
    const double wx = x1 - x0, wy = y1 - y0, t = std::clamp(((x - x0) * wx + (y - y0) * wy) / (wx * wx + wy * wy), 0.0, 1.0);
    const double away = std::hypot(x - x0 - t * wx, y - y0 - t * wy), thin = 1 - taper * (2 * t - 1) * (2 * t - 1);
    const double wide = std::max(half, 0.5), fade = std::min(1.0, half / 0.5);
    return fade * std::clamp(wide * thin - away + 0.5, 0.0, 1.0) * std::min(1.0, 0.3 + thin);
}

}  // namespace

TEST_CASE("a sheet holds the noise itself, and repeats", "[structures][sheet]") {
    const PlaceNoise noise(40, 9, 17);
    const NoiseSheet sheet(job, {{40, 9, 1, 17}});
    NoiseRows rows(200, 3);
    double worst = 0, sum = 0;
    for (float v : {0.013f, 0.37f, 0.82f, 0.999f}) {
        for (int k = 0; k < 200; ++k) rows[0][k] = static_cast<float>(k) / 200 + 0.0017f, rows[1][k] = v;
        rows.clear(2);
        noise.add(rows[0], rows[1], 200, 1, rows[2]);
        const std::vector<float> row = row_of(sheet, v);
        std::vector<float> read(200, 0.0f), next(200, 0.0f), moved(200);
        add_line(row.data(), sheet.columns(), rows[0], 200, 1, read.data());
        for (std::size_t k = 0; k < 200; ++k) {
            worst = std::max(worst, std::abs(static_cast<double>(read[k] - rows[2][static_cast<int>(k)])));
            sum += std::abs(static_cast<double>(rows[2][static_cast<int>(k)]));
            moved[k] = rows[0][static_cast<int>(k)] - 3;
        }
        // Whole tiles away in both directions lies the same.
        const std::vector<float> below = row_of(sheet, v + 2);
        add_line(below.data(), sheet.columns(), moved.data(), 200, 1, next.data());
        for (std::size_t k = 0; k < 200; ++k) CHECK(next[k] == Approx(read[k]).margin(2e-3));
    }
    CHECK(worst < 0.2);
    CHECK(sum / 800 > 0.5);
    // Several parts add up, and rows begin again behind their end.
    const NoiseSheet both(job, {{40, 9, 1, 17}, {5, 3, 2, 4}}), second(job, {{5, 3, 2, 4}});
    const std::vector<float> a = row_of(sheet, 0.4f), b = row_of(second, 0.4f), c = row_of(both, 0.4f);
    for (int k = 0; k < NoiseSheet::row_padding; ++k)
        CHECK(c[static_cast<std::size_t>(both.columns() + k)] == c[static_cast<std::size_t>(k)]);
    const float at = 0.123f;
    float one = 0, other = 0, whole = 0;
    add_line(a.data(), sheet.columns(), &at, 1, 1, &one), add_line(b.data(), second.columns(), &at, 1, 1, &other);
    add_line(c.data(), both.columns(), &at, 1, 1, &whole);
    CHECK(whole == Approx(one + other).margin(0.08));
    // Never finer than was asked for.
    CHECK(NoiseSheet(job, {{560, 4, 1, 1}}, 256).columns() == 256);
}

TEST_CASE("four planes side by side are read as four planes", "[structures][sample]") {
    const Size of{37, 23};
    std::vector<Plane> planes;
    Plane four({4 * of.width, of.height});
    for (std::uint64_t k = 0; k < 4; ++k) {
        planes.push_back(random_plane(of, 30 + k));
        for (int y = 0; y < of.height; ++y)
            for (int x = 0; x < of.width; ++x) four.row(y)[4 * x + static_cast<int>(k)] = planes.back().at(x, y);
    }
    std::vector<float> x, y;
    for (int k = 0; k < 300; ++k) {
        x.push_back(-80 + 0.711f * static_cast<float>(k)), y.push_back(60 - 0.533f * static_cast<float>(k));
        if (k % 7 == 0) x.back() = static_cast<float>(of.width - 1), y.back() = std::floor(y.back());
    }
    std::vector<std::vector<float>> out(4, std::vector<float>(x.size() + 64));
    float* const to[4] = {out[0].data(), out[1].data(), out[2].data(), out[3].data()};
    read_bilinear_four(four.data(), of, x.data(), y.data(), static_cast<int>(x.size()), to);
    for (std::size_t k = 0; k < x.size(); ++k)
        for (std::size_t c = 0; c < 4; ++c) CHECK(out[c][k] == Approx(sample_bilinear(planes[c], x[k], y[k])).margin(2e-5));
}

TEST_CASE("a map of lines leads straight where lines are straight, and round where they are round", "[structures][streaks]") {
    const Size tile{256, 256}, picture{200, 160};
    const double angle = 0.6;
    const StreamMap straight(field_of(64, [&](double, double) { return angle; }), tile, {3, 40}, job);
    for (int y : {0, 77, 159})
        for (std::size_t k : {0u, 1u}) {
            const Reached to = reached(straight, picture, y, k);
            const double way = k == 0 ? 3 : 40, dx = way * std::cos(angle) * picture.width / tile.width,
                         dy = way * std::sin(angle) * picture.height / tile.height;
            for (std::size_t x = 0; x < 200; ++x) {
                CHECK(to.x[x] == Approx(static_cast<double>(x) + dx).margin(0.02));
                CHECK(to.y[x] == Approx(y + dy).margin(0.02));
                CHECK(to.back_x[x] == Approx(static_cast<double>(x) - dx).margin(0.02));
                CHECK(to.back_y[x] == Approx(y - dy).margin(0.02));
            }
        }
    // Round a middle: the distance to it stays, the angle grows by the way over the radius.
    const StreamMap round(field_of(256, [](double u, double v) { return std::atan2(v - 0.5, u - 0.5) + pi / 2; }), tile, {30},
                          job);
    for (int y = 96; y < 160; y += 9) {
        const Reached to = reached(round, tile, y, 0);
        for (std::size_t x = 170; x < 220; x += 7) {
            const double px = static_cast<double>(x) + 0.5 - 128, py = y + 0.5 - 128, radius = std::hypot(px, py);
            const double tx = static_cast<double>(to.x[x]) + 0.5 - 128, ty = static_cast<double>(to.y[x]) + 0.5 - 128;
            CHECK(std::hypot(tx, ty) == Approx(radius).margin(0.4));
            CHECK(std::abs(std::remainder(std::atan2(ty, tx) - std::atan2(py, px), 2 * pi)) * radius == Approx(30).margin(0.6));
        }
    }
}

TEST_CASE("lines are followed to both sides though their direction has no sign", "[structures][streaks]") {
    // The angle turns by half a turn over the tile: the field closes, but no sign can be given to it everywhere.
    const Size tile{128, 128};
    const StreamMap map(field_of(64, [](double u, double) { return pi * u; }), tile, {6}, job);
    int checked = 0;
    for (int y : {5, 64, 120}) {
        const Reached to = reached(map, tile, y, 0);
        for (std::size_t x = 0; x < 128; ++x) {
            const double a = pi * (static_cast<double>(x) + 0.5) / 128,
                         dx = static_cast<double>(to.x[x]) - static_cast<double>(x), dy = static_cast<double>(to.y[x]) - y;
            // Along the line, whichever way, and the other side opposite, but for what the line bends.
            CHECK(std::abs(std::cos(a) * dx + std::sin(a) * dy) == Approx(6).margin(0.25));
            CHECK(static_cast<double>(to.back_x[x]) - static_cast<double>(x) == Approx(-dx).margin(1.0));
            CHECK(static_cast<double>(to.back_y[x]) - y == Approx(-dy).margin(1.0));
            ++checked;
        }
    }
    CHECK(checked == 3 * 128);
}

TEST_CASE("means along lines keep the mean and even out along them only", "[structures][streaks]") {
    const Size tile{128, 128};
    const Plane noise = random_plane(tile, 8);
    const StreamMap map(field_of(32, [](double, double) { return 0.0; }), tile, {1, 2}, job);
    const Plane mean = stream_mean(noise, map, {0, 1}, job);
    for (int y = 0; y < 128; y += 5)
        for (int x = 0; x < 128; ++x) {
            double sum = 0;
            for (int k = -2; k <= 2; ++k) sum += static_cast<double>(noise.wrapped(x + k, y));
            CHECK(mean.at(x, y) == Approx(sum / 5).margin(0.01));
        }
    CHECK(mean_of(mean) == Approx(mean_of(noise)).margin(1e-3));
}

TEST_CASE("a stroke covers what its distance says, in every mix and across pieces", "[structures][strokes]") {
    const Size of{61, 40};
    LaidStrokes strokes;
    strokes.add({1.7f, 0.6f, 0.8f}, {{4.3f, 6.2f}, {50.6f, 33.1f}});
    strokes.add({0.2f, 0, 0.5f}, {{10, 30}, {30, 12}});
    REQUIRE(strokes.size() == 2);
    for (std::size_t n = 0; n < 2; ++n) {
        const LaidStroke& stroke = strokes[n];
        const double ends[2][4] = {{4.3, 6.2, 50.6, 33.1}, {10, 30, 30, 12}};
        const ObjectBox box = stroke.box(1);
        for (StrokeMix mix : {StrokeMix::lighter, StrokeMix::darker, StrokeMix::over, StrokeMix::taken}) {
            INFO(n << " " << static_cast<int>(mix));
            Plane picture(of, 0.5f), whole(of, 0.25f), height(of, 0.4f);
            std::vector<StrokeSpan> spans(40);
            std::vector<float> cover(40 * (61 + stroke_padding)), place(cover.size());
            const StrokeTrace trace{spans.data(), cover.data(), place.data(), 61 + stroke_padding};
            paint_stroke(pen_of(stroke, 0, 0, 0), strokes.parts_of(stroke), static_cast<int>(stroke.count),
                         {mix, stroke.tone, 0.3f}, {picture.data(), whole.data(), height.data(), of.height, of.width}, &trace);
            for (int y = 0; y < of.height; ++y)
                for (int x = 0; x < of.width; ++x) {
                    const auto c =
                        static_cast<float>(covered(x, y, ends[n][0], ends[n][1], ends[n][2], ends[n][3],
                                                   static_cast<double>(stroke.half_width), static_cast<double>(stroke.taper)));
                    const float t = stroke.tone;
                    const float expected = mix == StrokeMix::lighter  ? std::max(0.5f, c * t)
                                           : mix == StrokeMix::darker ? std::min(0.5f, 1 - c * (1 - t))
                                           : mix == StrokeMix::over   ? 0.5f + c * (t - 0.5f)
                                                                      : 0.5f - c * t;
                    CHECK(picture.at(x, y) == Approx(expected).margin(1e-4));
                    CHECK(whole.at(x, y) == Approx(mix == StrokeMix::over ? 0.25f + c * 0.75f : 0.25f).margin(1e-4));
                    if (mix == StrokeMix::taken) CHECK(height.at(x, y) == Approx(std::max(0.0f, 0.4f - 0.3f * c)).margin(1e-4));
                    if (c > 0.01f) {
                        CHECK(static_cast<float>(x) >= box.left);
                        CHECK(static_cast<float>(y) <= box.bottom);
                        CHECK(spans[static_cast<std::size_t>(y)].first <= x);
                        CHECK(spans[static_cast<std::size_t>(y)].last >= x);
                        CHECK(cover[static_cast<std::size_t>(y) * trace.stride + static_cast<std::size_t>(x)] ==
                              Approx(c).margin(1e-4));
                    }
                }
        }
    }
    // Cut into pieces it is the same stroke, and its places run on from piece to piece.
    LaidStrokes pieces;
    pieces.add({2, 0, 1}, {{5, 5}, {20, 10}, {35, 15}, {50, 20}});
    LaidStrokes whole;
    whole.add({2, 0, 1}, {{5, 5}, {50, 20}});
    const LaidStrokes all = LaidStrokes::joined({whole, pieces});
    Plane a(of, 0.0f), b(of, 0.0f);
    paint_stroke(pen_of(all[0], 0, 0, 0), all.parts_of(all[0]), 1, {StrokeMix::lighter, 1, 0},
                 {a.data(), nullptr, nullptr, of.height, of.width}, nullptr);
    paint_stroke(pen_of(all[1], 0, 0, 0), all.parts_of(all[1]), 3, {StrokeMix::lighter, 1, 0},
                 {b.data(), nullptr, nullptr, of.height, of.width}, nullptr);
    CHECK(greatest_difference(a, b) < 1e-3);
    CHECK(mean_of(a) > 0.05);
    CHECK(all.parts_of(all[1])[2].start + all.parts_of(all[1])[2].share == Approx(1));
    CHECK(all.boxes(1).size() == 2);
}

TEST_CASE("a laid unit is its rounded rectangle", "[structures][courses]") {
    const int width = 80;
    LaidUnit unit{40, 0, 24, 10, std::cos(0.2f), std::sin(0.2f), 0.7f, 1, 0, 0, 1};
    const UnitEdges edges{5, 4, 0, 0, 0, 0, 1};
    for (int dy = -20; dy <= 20; ++dy) {
        std::vector<float> none(width, 0.0f), depth(width, 0.0f), mine(width, -1.0f), picture(width, 0.0f), height(width, 0.0f);
        unit_row(unit, edges, 0, static_cast<float>(dy), 0, width - 1,
                 {none.data(), none.data(), depth.data(), mine.data(), picture.data(), height.data(), UnitShow::cover, 1});
        for (int x = 0; x < width; ++x) {
            const double dx = x - 40.0, px = std::abs(std::cos(0.2) * dx + std::sin(0.2) * dy),
                         py = std::abs(std::cos(0.2) * dy - std::sin(0.2) * dx);
            const double qx = px - 19, qy = py - 5, ox = std::max(qx, 0.0), oy = std::max(qy, 0.0);
            const double inside = 5 - std::min(std::max(qx, qy), 0.0) - std::hypot(ox, oy);
            CHECK(picture[static_cast<std::size_t>(x)] == Approx(std::clamp(inside + 0.5, 0.0, 1.0)).margin(1e-3));
            CHECK(height[static_cast<std::size_t>(x)] == Approx(inside > 0 ? 1 - std::exp(-inside / 4) : 0.0).margin(2e-3));
        }
    }
}

TEST_CASE("a net knows how far its veins are, and on which side", "[structures][veins]") {
    StepContext context;
    context.size = context.tile = {192, 192}, context.job = &job, context.seed = 4;
    const VeinNet net = lay_net({90, 4, 1.5, {1, 1, 1, 0}, 30, 8, 11}, context);
    REQUIRE(net.values.size() == Size{4 * 192, 192});
    auto value = [&](int x, int y, int k) { return net.values.row(wrap(y, 192))[4 * wrap(x, 192) + k]; };
    int near = 0, crossings = 0, smoke = 0;
    for (int y = 0; y < 192; ++y)
        for (int x = 0; x < 192; ++x) {
            const float distance = value(x, y, 0), sided = value(x, y, 3);
            CHECK(std::abs(sided) == Approx(distance).margin(1e-4));
            CHECK(distance <= 30.001f);
            // A distance grows by no more than the way, also over the tile's edge.
            CHECK(std::abs(value(x + 1, y, 0) - distance) < 1.001f);
            CHECK(std::abs(value(x, y + 1, 0) - distance) < 1.001f);
            near += distance < 1.5f;
            // Where the side changes between two pixels, a vein passes between them, or two are equally far.
            if (sided * value(x + 1, y, 3) < 0 && distance + value(x + 1, y, 0) < 1.5f) ++crossings;
            smoke += value(x, y, 2) > 0.1f;
            CHECK(value(x, y, 1) >= -1e-4f);
            CHECK(value(x, y, 1) <= 1.0001f);
        }
    CHECK(near > 300);
    CHECK(crossings > 60);
    CHECK(smoke > near);
}

TEST_CASE("a thin vein stays whole when it is enlarged", "[structures][veins]") {
    // Four pixels to one of the net: along the middle of a line nothing may look dotted.
    const Recipe recipe = recipe_of({strand_of("a", {{"veins",
                                                      {{"size", 90.0},
                                                       {"halo", 0.0},
                                                       {"second", 0.0},
                                                       {"hairlines", 0.0},
                                                       {"braids", 1.0},
                                                       {"wander", 0.0},
                                                       {"width", 1.6},
                                                       {"width-spread", 0.0}},
                                                      5}})},
                                    128);
    const Bundle picture = cloth(recipe, {512, 512});
    const Plane& veins = picture.channel(0);
    // A pixel on a line finds the line again two pixels away; on a dotted one it would find a gap there.
    int dots = 0, lines = 0;
    for (int y = 0; y < 512; ++y)
        for (int x = 0; x < 512; ++x) {
            const float here = veins.at(x, y);
            if (here < 0.15f) continue;
            ++lines;
            float round = 0;
            for (int k = -2; k <= 2; ++k)
                round = std::max({round, veins.wrapped(x + k, y - 2), veins.wrapped(x + k, y + 2), veins.wrapped(x - 2, y + k),
                                  veins.wrapped(x + 2, y + k)});
            dots += round < 0.8f * here;
        }
    CHECK(lines > 500);
    CHECK(dots < 0.005 * lines);
}
