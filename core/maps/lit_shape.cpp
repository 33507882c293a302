// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/maps/lit_shape.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>

#include "core/base/job.h"
#include "core/maps/lit_scene.h"
#include "core/maps/vector3.h"

namespace loom {

namespace {

/// What a ray from the eye meets: a place in tiles, the normal, and where u grows.
struct Struck {
    bool there = false;
    double u = 0, v = 0, shade = 1;
    Vector3 normal{0, 0, 1}, along{1, 0, 0};
};

/// x and y run from -1 to 1 over the shorter side of the view.
Struck meets_ball(double x, double y, double repeats, double aspect) {
    constexpr double radius = 0.9;
    const double square = (x * x + y * y) / (radius * radius);
    if (square >= 1) return {};
    Struck met;
    met.there = true;
    met.normal = {x / radius, y / radius, std::sqrt(1 - square)};
    // Laid on from where one looks, equidistant from its middle (azimuthal): no pole and no seam in the half that is seen.
    constexpr double pi = std::numbers::pi;
    const double away = std::acos(std::clamp(met.normal[2], -1.0, 1.0)), flat = std::hypot(met.normal[0], met.normal[1]);
    const double c = flat > 1e-9 ? met.normal[0] / flat : 1, s = flat > 1e-9 ? met.normal[1] / flat : 0;
    // `repeats` tiles over that half.
    met.u = (0.5 + away * c / pi) * repeats;
    met.v = (0.5 - away * s / pi) * repeats / aspect;
    const double squeeze = away > 1e-6 ? flat / away : 1;
    met.along = unit({met.normal[2] * c * c + squeeze * s * s, met.normal[2] * s * c - squeeze * c * s, -flat * c});
    met.shade = 0.75 + 0.25 * met.normal[1];
    return met;
}

/// Height of a hanging cloth over its plane, and its slopes.
struct Fold {
    double height, across, down;
};
Fold fold(double x, double y) {
    // Folds that gather towards the top and run out towards the hem.
    struct Wave {
        double size, way, lean, phase, gather;
    };
    constexpr Wave waves[] = {{0.10, 4.1, 0.5, 0.4, 0.5}, {0.055, 7.3, -0.8, 2.1, 0.8}, {0.022, 13.7, 1.3, 4.4, 1.2}};
    Fold sum{0, 0, 0};
    for (const Wave& wave : waves) {
        const double pull = std::exp(-wave.gather * (0.5 - 0.5 * y)), turn = wave.way * x + wave.lean * y + wave.phase;
        const double s = std::sin(turn), c = std::cos(turn);
        sum.height += wave.size * pull * s;
        sum.across += wave.size * pull * wave.way * c;
        sum.down += wave.size * pull * (wave.lean * c + 0.5 * wave.gather * s);
    }
    return sum;
}

Struck meets_sheet(double x, double y, double repeats, double aspect) {
    if (std::abs(x) > 1.05 || std::abs(y) > 1.05) return {};
    const Fold here = fold(x, y);
    Struck met;
    met.there = true;
    met.normal = unit({-here.across, -here.down, 1});
    const Vector3 right{1, 0, here.across};
    met.along = unit(right - met.normal * dot(right, met.normal));
    // Cloth is as long as it is: what leans away takes more of it. The mean stretch keeps it from running away from its place.
    met.u = (x + 1) / 2 * repeats + 0.25 * here.height * repeats, met.v = (1 - y) / 2 * repeats / aspect;
    met.shade = std::clamp(0.72 + 2.2 * here.height, 0.35, 1.0);
    return met;
}

/// Signed distance to a box with round edges.
double block_distance(const Vector3& at) {
    constexpr double half = 0.56, round = 0.13;
    double outside = 0, inside = -1e9;
    for (double c : at) {
        const double over = std::abs(c) - (half - round);
        outside += std::max(over, 0.0) * std::max(over, 0.0), inside = std::max(inside, over);
    }
    return std::sqrt(outside) + std::min(inside, 0.0) - round;
}

/// The block is turned about its upright axis and then tipped towards who looks.
struct Turn {
    double c1 = std::cos(0.62), s1 = std::sin(0.62), c2 = std::cos(0.5), s2 = std::sin(0.5);
    Vector3 into(const Vector3& a) const {
        const Vector3 tipped{a[0], a[1] * c2 + a[2] * s2, a[2] * c2 - a[1] * s2};
        return {tipped[0] * c1 - tipped[2] * s1, tipped[1], tipped[2] * c1 + tipped[0] * s1};
    }
    Vector3 out_of(const Vector3& a) const {
        const Vector3 upright{a[0] * c1 + a[2] * s1, a[1], a[2] * c1 - a[0] * s1};
        return {upright[0], upright[1] * c2 - upright[2] * s2, upright[2] * c2 + upright[1] * s2};
    }
};

Struck meets_block(double x, double y, double repeats, double aspect) {
    static const Turn turn;
    const Vector3 from = turn.into({x, y, 2}), ray = turn.into({0, 0, -1});
    double t = 0;
    Vector3 at = from;
    for (int k = 0; k < 80; ++k) {
        const double distance = block_distance(at);
        if (distance < 1e-4) break;
        t += distance;
        if (t > 4) return {};
        at = {from[0] + ray[0] * t, from[1] + ray[1] * t, from[2] + ray[2] * t};
    }
    Struck met;
    met.there = true;
    constexpr double little = 1e-3;
    Vector3 normal;
    for (std::size_t c = 0; c < 3; ++c) {
        Vector3 more = at, less = at;
        more[c] += little, less[c] -= little;
        normal[c] = block_distance(more) - block_distance(less);
    }
    normal = unit(normal);
    // Each side has its own flat piece of the cloth; round edges belong to the side they face most.
    std::size_t side = 0;
    for (std::size_t c = 1; c < 3; ++c)
        if (std::abs(normal[c]) > std::abs(normal[side])) side = c;
    const double way = normal[side] < 0 ? -1 : 1;
    // To the right of whoever looks at that side.
    const Vector3 rights[] = {{0, 0, -way}, {1, 0, 0}, {way, 0, 0}};
    const Vector3 downs[] = {{0, -1, 0}, {0, 0, 1}, {0, -1, 0}};
    constexpr double half = 0.56;
    const double scale = repeats / (2 * half);
    met.u = dot(at, rights[side]) * scale + 0.5 * repeats + 0.37 * static_cast<double>(side);
    met.v = dot(at, downs[side]) * scale / aspect + 0.5 * repeats + 0.21 * static_cast<double>(side);
    met.normal = turn.out_of(normal);
    const Vector3 right = turn.out_of(rights[side]);
    met.along = unit(right - met.normal * dot(right, met.normal));
    met.shade = std::clamp(0.8 + 0.2 * met.normal[1], 0.0, 1.0);
    return met;
}

Struck meets_tile(double x, double y, double repeats, double aspect) {
    Struck met;
    met.there = true;
    met.u = (x + 1) / 2 * repeats, met.v = (1 - y) / 2 * repeats / aspect;
    return met;
}

Struck meets(LitShape shape, double x, double y, double repeats, double aspect) {
    switch (shape) {
        case LitShape::tile: return meets_tile(x, y, repeats, aspect);
        case LitShape::ball: return meets_ball(x, y, repeats, aspect);
        case LitShape::sheet: return meets_sheet(x, y, repeats, aspect);
        case LitShape::block:
        case LitShape::scene: break;
    }
    return meets_block(x, y, repeats, aspect);
}

}  // namespace

LitGeometry::LitGeometry(Size all) : size(all) {
    for (std::vector<float>* plane : {&u, &v, &normal_x, &normal_y, &normal_z, &along_x, &along_y, &along_z, &cover, &shade})
        plane->resize(size.pixels());
}

void LitGeometry::set(std::size_t i, const Vector3& normal, const Vector3& along) {
    normal_x[i] = static_cast<float>(normal[0]), normal_y[i] = static_cast<float>(normal[1]);
    normal_z[i] = static_cast<float>(normal[2]);
    along_x[i] = static_cast<float>(along[0]), along_y[i] = static_cast<float>(along[1]);
    along_z[i] = static_cast<float>(along[2]);
}

LitGeometry lit_geometry(LitShape shape, Size size, double repeats, double aspect) {
    if (shape == LitShape::scene) return scene_geometry(size, scene_wide_cm * repeats);
    LitGeometry made(size);
    const double half = std::max(1, std::min(size.width, size.height)) / 2.0;
    for_rows(Job(), size.height, [&](int first, int last) {
        for (int row = first; row < last; ++row)
            for (int column = 0; column < size.width; ++column) {
                const auto i =
                    static_cast<std::size_t>(row) * static_cast<std::size_t>(size.width) + static_cast<std::size_t>(column);
                const auto at = [&](double dx, double dy) {
                    return meets(shape, (column + dx - size.width / 2.0) / half, (size.height / 2.0 - row - dy) / half, repeats,
                                 aspect);
                };
                Struck met = at(0.5, 0.5);
                // Only what lies at its edge needs more than one look.
                int seen = 0;
                Struck any;
                if (shape == LitShape::tile)
                    seen = 4;
                else
                    for (double dx : {0.25, 0.75})
                        for (double dy : {0.25, 0.75})
                            if (const Struck corner = at(dx, dy); corner.there) ++seen, any = corner;
                if (!met.there) met = any;
                made.cover[i] = static_cast<float>(seen) / 4;
                made.u[i] = static_cast<float>(met.u), made.v[i] = static_cast<float>(met.v);
                made.set(i, met.normal, met.along);
                made.shade[i] = static_cast<float>(met.shade);
            }
    });
    return made;
}

}  // namespace loom
