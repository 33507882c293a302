// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Points that are dragged: they go where they are sent, and what lies between goes with them, across the tile's edges.
#include <cmath>

#include "core/structures/least_moves.h"
#include "tests/support/support.h"

using namespace loom;
using namespace loom::test;

TEST_CASE("handles hold what they hold and carry what they carry", "[hand][handles]") {
    const Size tile{200, 100};
    const Moves moves{{20, 30, 35, 40}, {70, 60, 70, 60}, {95, 90, 105, 95}};
    for (Stiffness stiffness : {Stiffness::rigid, Stiffness::similar, Stiffness::affine})
        for (const Move& move : moves) {
            // Read from where the point came from, whichever copy of the tile it is looked at on.
            for (int copy : {-1, 0, 1}) {
                const auto way = least_move(moves, stiffness, 1e6, tile, move.to_x / 100 * tile.width + copy * tile.width,
                                            move.to_y / 100 * tile.height + copy * tile.height);
                CHECK(way.x == Approx((move.x - move.to_x) / 100 * tile.width).margin(0.02));
                CHECK(way.y == Approx((move.y - move.to_y) / 100 * tile.height).margin(0.02));
            }
            // Across the edge nothing jumps.
            for (double y : {3.0, 40.0, 77.0}) {
                const auto left = least_move(moves, stiffness, 80, tile, 1e-4, y),
                           right = least_move(moves, stiffness, 80, tile, tile.width - 1e-4, y);
                CHECK(left.x == Approx(right.x).margin(0.01));
                CHECK(left.y == Approx(right.y).margin(0.01));
            }
        }
    // All moved alike is a shift near them, and nothing far from all of them.
    const Moves alike{{30, 40, 40, 40}, {40, 60, 50, 60}, {50, 40, 60, 40}};
    const auto near = least_move(alike, Stiffness::rigid, 2000, {400, 400}, 200, 190);
    CHECK(near.x == Approx(-40).epsilon(0.02));
    CHECK(std::abs(near.y) < 1);
    const auto far = least_move({{50, 50, 55, 50}}, Stiffness::rigid, 20, {4000, 4000}, 200, 200);
    CHECK(std::hypot(far.x, far.y) < 1);
    // Turned by a right angle about their middle, what lies between turns with them.
    const Moves turned{{40, 40, 60, 40}, {60, 40, 60, 60}, {60, 60, 40, 60}, {40, 60, 40, 40}};
    const auto between = least_move(turned, Stiffness::rigid, 1e6, {1000, 1000}, 550, 500);
    CHECK(550 + between.x == Approx(500).margin(12));
    CHECK(500 + between.y == Approx(450).margin(12));
}
