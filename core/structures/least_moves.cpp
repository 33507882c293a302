// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/least_moves.h"

#include <cmath>

namespace loom {

namespace {

/// A point near the place: where it is now and where it came from, both seen from there, and how much it counts.
struct Near {
    double px, py, qx, qy, weight;
};

/// 1 near the place, and 0 with no slope where a copy leaves what is looked at.
double within_view(double away, double tile) {
    const double t = std::abs(away) / (1.25 * tile);
    return t >= 1 ? 0 : (1 - t * t) * (1 - t * t);
}

template <class Body>
void each_near(const Moves& moves, Size tile, double x, double y, Body&& body) {
    for (const Move& move : moves) {
        const double to_x = move.to_x / 100 * tile.width - x, to_y = move.to_y / 100 * tile.height - y;
        const double way_x = (move.x - move.to_x) / 100 * tile.width, way_y = (move.y - move.to_y) / 100 * tile.height;
        const double first_x = to_x - std::floor(to_x / tile.width + 1.5) * tile.width,
                     first_y = to_y - std::floor(to_y / tile.height + 1.5) * tile.height;
        for (int j = 0; j < 4; ++j)
            for (int i = 0; i < 4; ++i) {
                const double px = first_x + i * tile.width, py = first_y + j * tile.height;
                const double view = within_view(px, tile.width) * within_view(py, tile.height);
                if (view <= 0) continue;
                body(Near{px, py, px + way_x, py + way_y, view / (px * px + py * py + 1e-3)});
            }
    }
}

}  // namespace

Displacement least_move(const Moves& moves, Stiffness stiffness, double reach, Size tile, double x, double y) {
    double sum = 0, px = 0, py = 0, qx = 0, qy = 0;
    each_near(moves, tile, x, y, [&](const Near& n) {
        sum += n.weight;
        px += n.weight * n.px, py += n.weight * n.py, qx += n.weight * n.qx, qy += n.weight * n.qy;
    });
    if (!(sum > 0)) return {};
    px /= sum, py /= sum, qx /= sum, qy /= sum;
    double turn = 0, cross = 0, spread = 0, xx = 0, xy = 0, yy = 0, ax = 0, ay = 0, bx = 0, by = 0;
    each_near(moves, tile, x, y, [&](const Near& n) {
        const double u = n.px - px, v = n.py - py, s = n.qx - qx, t = n.qy - qy;
        turn += n.weight * (u * s + v * t), cross += n.weight * (u * t - v * s), spread += n.weight * (u * u + v * v);
        xx += n.weight * u * u, xy += n.weight * u * v, yy += n.weight * v * v;
        ax += n.weight * u * s, ay += n.weight * u * t, bx += n.weight * v * s, by += n.weight * v * t;
    });
    // The place itself lies at the origin.
    double to_x = qx - px, to_y = qy - py;
    const double det = xx * yy - xy * xy;
    if (stiffness == Stiffness::affine && det > 1e-9 * spread * spread) {
        const double m00 = (yy * ax - xy * bx) / det, m10 = (xx * bx - xy * ax) / det;
        const double m01 = (yy * ay - xy * by) / det, m11 = (xx * by - xy * ay) / det;
        to_x = qx - (px * m00 + py * m10), to_y = qy - (px * m01 + py * m11);
    } else {
        const double length = std::hypot(turn, cross);
        if (length > 1e-9 && spread > 1e-9) {
            const double by_scale = stiffness == Stiffness::rigid ? 1 / length : 1 / spread;
            const double c = turn * by_scale, s = cross * by_scale;
            to_x = qx - (c * px - s * py), to_y = qy - (s * px + c * py);
        }
    }
    const double held = sum / (sum + 1 / (reach * reach));
    return {to_x * held, to_y * held};
}

}  // namespace loom
