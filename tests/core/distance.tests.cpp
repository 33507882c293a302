// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Distances to an edge against every piece of it tried one by one, and against shapes whose distance is known.
#include <cmath>

#include "core/image/distance.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

namespace {

struct Piece {
    double ax, ay, bx, by;
};

/// The polyline of marching squares, written once more.
std::vector<Piece> edge_of(const Plane& plane, float level) {
    std::vector<Piece> pieces;
    const int w = plane.width(), h = plane.height();
    for (int y = 0; y < h; ++y)
        for (int x = 0; x < w; ++x) {
            const double v[4] = {plane.wrapped(x, y), plane.wrapped(x + 1, y), plane.wrapped(x + 1, y + 1),
                                 plane.wrapped(x, y + 1)};
            const double cx[4] = {0, 1, 1, 0}, cy[4] = {0, 0, 1, 1};
            std::vector<std::pair<double, double>> points;
            for (int k = 0; k < 4; ++k) {
                const int n = (k + 1) % 4;
                if ((v[k] > level) == (v[n] > level)) continue;
                const double t = (level - v[k]) / (v[n] - v[k]);
                points.emplace_back(x + cx[k] + t * (cx[n] - cx[k]), y + cy[k] + t * (cy[n] - cy[k]));
            }
            if (points.size() == 2) pieces.push_back({points[0].first, points[0].second, points[1].first, points[1].second});
            if (points.size() == 4) {
                const bool cut_off_others = ((v[0] + v[1] + v[2] + v[3]) / 4 > level) == (v[0] > level);
                const int with = cut_off_others ? 1 : 3, rest = cut_off_others ? 3 : 1;
                pieces.push_back({points[0].first, points[0].second, points[static_cast<std::size_t>(with)].first,
                                  points[static_cast<std::size_t>(with)].second});
                pieces.push_back({points[2].first, points[2].second, points[static_cast<std::size_t>(rest)].first,
                                  points[static_cast<std::size_t>(rest)].second});
            }
        }
    return pieces;
}

double brute(const std::vector<Piece>& pieces, int x, int y, Size size) {
    double least = 1e9;
    for (const Piece& p : pieces)
        for (int ty = -1; ty <= 1; ++ty)
            for (int tx = -1; tx <= 1; ++tx) {
                const double px = x + tx * size.width - p.ax, py = y + ty * size.height - p.ay, dx = p.bx - p.ax,
                             dy = p.by - p.ay;
                const double length = dx * dx + dy * dy,
                             t = length > 0 ? std::clamp((px * dx + py * dy) / length, 0.0, 1.0) : 0.0;
                least = std::min(least, std::hypot(px - t * dx, py - t * dy));
            }
    return least;
}

}  // namespace

TEST_CASE("distances agree with every piece of the edge tried in turn, across the tile edges", "[distance]") {
    const Size size{48, 37};
    for (std::uint32_t seed : {1u, 2u, 3u})
        for (double reach : {12.0, 80.0}) {
            const Bundle soft = applied("clouds", {{"size-x", 16.0}, {"size-y", 12.0}, {"octaves", 2.0}}, nullptr, size, seed);
            const Plane& plane = soft.channel(0);
            const auto pieces = edge_of(plane, 0.5f);
            REQUIRE(pieces.size() > 20);
            const Plane distance = distance_to_level(plane, 0.5f, reach, job);
            double worst = 0;
            for (int y = 0; y < size.height; ++y)
                for (int x = 0; x < size.width; ++x) {
                    const double wanted = std::min(brute(pieces, x, y, size), reach);
                    worst = std::max(worst, std::abs(std::abs(static_cast<double>(distance.at(x, y))) - wanted));
                    CHECK((distance.at(x, y) > 0) == (plane.at(x, y) > 0.5f));
                }
            CHECK(worst < 0.04);
        }
}

TEST_CASE("a few dots in a wide tile are found from far away", "[distance]") {
    const Size size{230, 170};
    Plane dots(size, 0.0f);
    const std::pair<int, int> places[] = {{3, 5}, {120, 168}, {171, 60}};
    for (const auto& [x, y] : places) dots.row(y)[x] = 0.9f;
    const auto pieces = edge_of(dots, 0.3f);
    for (double reach : {40.0, 300.0}) {
        const Plane distance = distance_to_level(dots, 0.3f, reach, job);
        double worst = 0;
        for (int y = 0; y < size.height; ++y)
            for (int x = 0; x < size.width; ++x)
                worst = std::max(worst, std::abs(std::abs(static_cast<double>(distance.at(x, y))) -
                                                 std::min(brute(pieces, x, y, size), reach)));
        CHECK(worst < 0.04);
    }
}

TEST_CASE("a soft disc's edge lies where its coverage is a half, finer than a pixel", "[distance]") {
    const Size size{96, 96};
    Plane disc(size);
    const double cx = 10.3, cy = 88.7, radius = 20.4;  // over two edges of the tile
    auto from_middle = [&](int x, int y) {
        const double dx = std::remainder(x - cx, 96.0), dy = std::remainder(y - cy, 96.0);
        return std::hypot(dx, dy);
    };
    for (int y = 0; y < 96; ++y)
        for (int x = 0; x < 96; ++x)
            disc.row(y)[x] = static_cast<float>(std::clamp((radius - from_middle(x, y)) / 3 + 0.5, 0.0, 1.0));
    const Plane distance = distance_to_level(disc, 0.5f, 40, job);
    for (int y = 0; y < 96; ++y)
        for (int x = 0; x < 96; ++x)
            // Straight pieces lie a little within a circle.
            CHECK(static_cast<double>(distance.at(x, y)) ==
                  Approx(std::clamp(radius - from_middle(x, y), -40.0, 40.0)).margin(0.05));
}

TEST_CASE("what never crosses the level is as far as is asked for, on its side", "[distance]") {
    CHECK(distance_to_level(Plane({8, 8}, 0.7f), 0.5f, 9, job).at(3, 3) == 9);
    CHECK(distance_to_level(Plane({8, 8}, 0.2f), 0.5f, 9, job).at(3, 3) == -9);
}

TEST_CASE("distances do not depend on the number of threads, nor on where the tile is cut", "[distance][threads]") {
    const Size size{80, 64};
    const Bundle soft = applied("clouds", {{"size-x", 24.0}, {"size-y", 24.0}}, nullptr, size, 5);
    Plane one, five;
    with_threads(1, [&] { one = distance_to_level(soft.channel(0), 0.45f, 30, job); });
    with_threads(5, [&] { five = distance_to_level(soft.channel(0), 0.45f, 30, job); });
    CHECK(same_bytes(one, five));
    const Plane moved = rolled(soft.channel(0), 31, 17);
    CHECK(greatest_difference(distance_to_level(moved, 0.45f, 30, job), rolled(one, 31, 17)) < 1e-4);
}
