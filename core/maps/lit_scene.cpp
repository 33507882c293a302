// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/maps/lit_scene.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include "core/base/hash.h"
#include "core/maps/vector3.h"

namespace loom {

namespace {

constexpr double degree = std::numbers::pi / 180;

/// Upright boxes, turned about their upright axis.
struct Box {
    Vector3 middle, half;
    double turn;  ///< degrees
    double c = std::cos(turn * degree), s = std::sin(turn * degree);
    Vector3 way_in(const Vector3& a) const { return {c * a[0] - s * a[2], a[1], s * a[0] + c * a[2]}; }
    Vector3 way_out(const Vector3& a) const { return {c * a[0] + s * a[2], a[1], c * a[2] - s * a[0]}; }
    Vector3 into(const Vector3& a) const { return way_in(a - middle); }
    /// From a place within its own directions; less than 0 inside.
    double distance(const Vector3& a) const {
        double outside = 0, inside = -1e9;
        for (std::size_t k = 0; k < 3; ++k) {
            const double over = std::abs(a[k]) - half[k];
            outside += std::max(over, 0.0) * std::max(over, 0.0), inside = std::max(inside, over);
        }
        return std::sqrt(outside) + std::min(inside, 0.0);
    }
};

// x along the wall, y up, z away from it; the low wall runs towards who looks.
const Box crate{{-63, 29, 56}, {29, 29, 29}, 23};
const Box low_wall{{12, 46, 500}, {12, 46, 500}, 0};
/// Boards of the crate's frame, how deep its sides lie behind them, and how far arrises are broken.
constexpr double frame = 7, recess = 2, panel_board = 14.7, arris = 0.7;

/// The view: turned about the upright, and from above.
constexpr double yaw = -31, pitch = 25;
const Vector3 aim{-42, 38, 34};
struct View {
    double cy = std::cos(yaw * degree), sy = std::sin(yaw * degree), cp = std::cos(pitch * degree), sp = std::sin(pitch * degree);
    Vector3 right{cy, 0, -sy}, up{-sy * sp, cp, -cy*sp}, to_eye{sy * cp, sp, cy*cp};
    Vector3 in_view(const Vector3& a) const { return {dot(a, right), dot(a, up), dot(a, to_eye)}; }
    Vector3 in_world(const Vector3& a) const { return right * a[0] + up * a[1] + to_eye * a[2]; }
};
const View view;

struct SceneHit {
    double far = 1e9;  ///< along the ray
    Vector3 at{}, normal{}, along{};
    double u = 0, v = 0;
    ScenePlace place = ScenePlace::wall;
    int piece = 0;      ///< of one plane and one board
    double near = 1e9;  ///< centimetres to an inner corner of its own
};

/// Where a ray goes into a box; `way` is of length 1.
struct Entry {
    bool there = false;
    double far = 0;
    std::size_t side = 0;
};
Entry enters(const Box& box, const Vector3& from, const Vector3& way) {
    Entry entry;
    double in = -1e9, out = 1e9;
    for (std::size_t k = 0; k < 3; ++k) {
        const double a = (-box.half[k] - from[k]) / way[k], b = (box.half[k] - from[k]) / way[k];
        if (std::min(a, b) > in) in = std::min(a, b), entry.side = k;
        out = std::min(out, std::max(a, b));
    }
    entry.there = in < out && in > 0, entry.far = in;
    return entry;
}

Vector3 axis(std::size_t k, double way) {
    Vector3 a{};
    a[k] = way;
    return a;
}

/// Arrises are broken: near one the surface turns towards the side beyond.
Vector3 eased(const Vector3& at, const Vector3& half, std::size_t side, Vector3 normal) {
    for (std::size_t k = 0; k < 3; ++k) {
        if (k == side) continue;
        const double share = std::clamp(1 - (half[k] - std::abs(at[k])) / arris, 0.0, 1.0);
        normal[k] += 0.8 * share * share * (at[k] < 0 ? -1 : 1);
    }
    return unit(normal);
}

/// So that no two boards are cut from the same place.
double cut_from(int piece, std::uint64_t which) {
    return 400.0 * static_cast<double>(unit_float(mix64(static_cast<std::uint64_t>(piece), which)));
}

void meet_crate(const Vector3& from, const Vector3& way, SceneHit& met) {
    const Vector3 p = crate.into(from), w = crate.way_in(way);
    const Entry entry = enters(crate, p, w);
    if (!entry.there || entry.far >= met.far) return;
    const std::size_t side = entry.side;
    double far = entry.far;
    Vector3 at = p + w * far;
    const double facing = at[side] < 0 ? -1 : 1;
    Vector3 flat = axis(side, facing);
    const Vector3 bent = eased(at, crate.half, side, flat);
    // To the right of whoever looks at that side, and up; the lid is looked at from the front.
    const Vector3 right = side == 0   ? axis(2, -facing)
                          : side == 1 ? axis(0, 1)
                                      : axis(0, facing),
                  up = side == 1 ? axis(2, -1) : axis(1, 1);
    const double open = crate.half[0] - frame;
    double a = dot(at, right), b = dot(at, up);
    const bool behind = side != 1 && std::max(std::abs(a), std::abs(b)) < open;
    bool turned = side == 1;
    int board = 0;
    met.near = 1e9;
    if (behind) {
        // Behind the frame: the boards of the side, or the frame's own edge.
        const double deeper = recess / std::max(1e-6, std::abs(w[side]));
        const double way_a = dot(w, right), way_b = dot(w, up);
        const double until_a = ((way_a < 0 ? -open : open) - a) / way_a, until_b = ((way_b < 0 ? -open : open) - b) / way_b;
        const double on = std::min({deeper, until_a, until_b});
        far += on, at = p + w * far, a = dot(at, right), b = dot(at, up);
        if (on < deeper) {
            turned = until_b < until_a;
            flat = turned ? up * (way_b < 0 ? 1 : -1) : right * (way_a < 0 ? 1 : -1);
            board = turned ? 8 : 9;
        } else {
            const int nth = static_cast<int>(std::floor((a + open) / panel_board));
            board = 1 + nth;
            // Boards have come apart by a hair.
            const double within = a + open - nth * panel_board;
            met.near = std::min({open - std::abs(a), open - std::abs(b), 6 * std::min(within, panel_board - within)});
        }
    } else if (side == 1) {
        board = 16 + static_cast<int>(std::floor((b + crate.half[2]) / (2 * crate.half[2] / 4)));
    } else {
        turned = std::abs(a) < open;
        board = turned ? (b < 0 ? 4 : 5) : (a < 0 ? 6 : 7);
    }
    met.far = far, met.at = from + way * far;
    met.place = ScenePlace::crate;
    met.piece = 64 + 32 * (static_cast<int>(side) * 2 + (facing > 0)) + board;
    // The grain runs down the tile and along a board.
    const Vector3 down = turned ? right : up * -1, along = cross(flat, down);
    met.u = dot(at, along) + cut_from(met.piece, 1), met.v = dot(at, down) + cut_from(met.piece, 2);
    met.normal = crate.way_out(behind ? flat : bent), met.along = crate.way_out(along);
}

void meet_low_wall(const Vector3& from, const Vector3& way, SceneHit& met) {
    const Vector3 p = low_wall.into(from);
    const Entry entry = enters(low_wall, p, way);
    if (!entry.there || entry.far >= met.far) return;
    const Vector3 at = p + way * entry.far;
    met.far = entry.far, met.at = from + way * entry.far, met.near = 1e9;
    met.place = ScenePlace::wall, met.piece = 8 + static_cast<int>(entry.side);
    met.normal = eased(at, low_wall.half, entry.side, axis(entry.side, at[entry.side] < 0 ? -1 : 1));
    // What lies on the face goes on over the top.
    met.along = axis(2, 1);
    met.u = met.at[2], met.v = entry.side == 1 ? -2 * low_wall.half[1] - met.at[0] : -met.at[1];
    if (entry.side == 2) met.along = axis(0, 1), met.u = met.at[0], met.v = -met.at[1];
}

SceneHit meets(double x, double y) {
    const Vector3 from = aim + view.right * x + view.up * y + view.to_eye * 900, way = view.to_eye * -1;
    SceneHit met;
    const auto flat = [&](std::size_t k, ScenePlace place, int piece) {
        const double far = -from[k] / way[k];
        if (far >= met.far) return;
        met.far = far, met.at = from + way * far, met.place = place, met.piece = piece;
        met.normal = axis(k, 1), met.along = axis(0, 1);
        met.u = met.at[0], met.v = k == 1 ? met.at[2] : -met.at[1];
    };
    flat(2, ScenePlace::wall, 1);
    flat(1, ScenePlace::floor, 2);
    meet_low_wall(from, way, met);
    meet_crate(from, way, met);
    return met;
}

/// How much of the room a place sees past what stands near it.
double open_at(const SceneHit& met) {
    double open = 1;
    const auto past = [&](double distance, double facing) {
        const double d = std::max(distance, 0.0);
        open *= 1 - facing * (0.42 * std::exp(-d / 5) + 0.34 * std::exp(-d / 24));
    };
    const auto towards = [&](const Vector3& way) { return std::clamp(0.5 + 0.5 * dot(met.normal, way), 0.0, 1.0); };
    past(met.at[1], met.piece == 2 ? 0 : towards({0, -1, 0}));
    past(met.at[2], met.piece == 1 ? 0 : towards({0, 0, -1}));
    if (met.place != ScenePlace::crate) past(crate.distance(crate.into(met.at)), towards(unit(crate.middle - met.at)));
    if (met.piece < 8 || met.piece > 10) {
        const Vector3 beside{low_wall.middle[0], met.at[1], met.at[2]};
        past(low_wall.distance(low_wall.into(met.at)), towards(unit(beside - met.at)));
    }
    open *= 1 - 0.4 * std::exp(-met.near / 0.9);
    return open;
}

/// Of a lamp whose rim is `past` of its half width beside what hides it; half of it where both meet.
double lamp_beside(double past) {
    const double share = std::clamp(0.5 + 0.5 * past, 0.0, 1.0);
    return share * share * (3 - 2 * share);
}

/// Past one box, towards `lamp`: the narrowest the way to it gets beside the box, measured by the width that the lamp has there.
double past(const Box& box, const Vector3& at, const Vector3& lamp, double width) {
    const Vector3 p = box.into(at), w = box.way_in(lamp);
    // What moves away from the box faster than the lamp grows wide has nothing of it in its way.
    for (std::size_t k = 0; k < 3; ++k)
        if (std::abs(p[k]) > box.half[k] && p[k] * w[k] > 0 && std::abs(w[k]) > width) return 1;
    const double reach = std::sqrt(dot(box.half, box.half)), middle = -dot(p, w);
    const Vector3 closest = p + w * middle;
    const double beside = reach + width * (middle + reach);
    if (middle < -reach || dot(closest, closest) > beside * beside) return 1;
    const auto narrow = [&](double t) { return box.distance(p + w * t) / (width * t + 0.2); };
    // Along a line past a convex body it falls and rises once: the golden section finds where.
    constexpr double golden = 0.6180339887498949;
    double low = std::max(0.4, middle - reach), high = middle + reach;
    double left = high - golden * (high - low), right = low + golden * (high - low);
    double at_left = narrow(left), at_right = narrow(right);
    for (int k = 0; k < 14; ++k) {
        if (at_left < at_right) {
            high = right, right = left, at_right = at_left;
            left = high - golden * (high - low), at_left = narrow(left);
        } else {
            low = left, left = right, at_left = at_right;
            right = low + golden * (high - low), at_right = narrow(right);
        }
    }
    const double best = std::min(at_left, at_right);
    return lamp_beside(best);
}

/// Boards behind the crate's frame: whether the way to the lamp leads out between its boards.
double past_frame(const Vector3& at, const Vector3& lamp, double width) {
    const Vector3 p = crate.into(at), w = crate.way_in(lamp);
    for (const std::size_t side : {std::size_t{0}, std::size_t{2}}) {
        const double deep = crate.half[side] - std::abs(p[side]), out = p[side] < 0 ? -w[side] : w[side];
        if (deep > recess + 0.1 || deep < 0.1 || out <= 1e-3) continue;
        const Vector3 leaves = p + w * (deep / out);
        const double open = crate.half[0] - frame, soft = width * deep / out + 0.15;
        const double room = open - std::max(std::abs(leaves[1]), std::abs(leaves[2 - side]));
        return lamp_beside(room / soft);
    }
    return 1;
}

}  // namespace

LitGeometry scene_geometry(Size size, double wide_cm) {
    LitGeometry made(size);
    made.material.resize(size.pixels());
    for (std::vector<float>* plane : {&made.at_x, &made.at_y, &made.at_z}) plane->resize(size.pixels());
    const double cm = wide_cm / std::max(1, std::min(size.width, size.height));
    const auto at = [&](double x, double y) { return meets((x - size.width / 2.0) * cm, (size.height / 2.0 - y) * cm); };
    std::vector<int> pieces(size.pixels());
    const auto width = static_cast<std::size_t>(size.width);
    for_rows(Job(), size.height, [&](int first, int last) {
        for (int row = first; row < last; ++row)
            for (int column = 0; column < size.width; ++column) {
                const std::size_t i = static_cast<std::size_t>(row) * width + static_cast<std::size_t>(column);
                const SceneHit met = at(column + 0.5, row + 0.5);
                made.u[i] = static_cast<float>(met.u), made.v[i] = static_cast<float>(met.v);
                Vector3 normal = view.in_view(met.normal);
                // What is seen faces whoever looks, broken arrises too.
                normal[2] = std::max(normal[2], 0.03), normal = unit(normal);
                const Vector3 along = view.in_view(met.along);
                made.set(i, normal, unit(along - normal * dot(along, normal)));
                made.at_x[i] = static_cast<float>(met.at[0]), made.at_y[i] = static_cast<float>(met.at[1]);
                made.at_z[i] = static_cast<float>(met.at[2]);
                made.cover[i] = 1, made.shade[i] = static_cast<float>(open_at(met));
                made.material[i] = static_cast<std::uint8_t>(met.place), pieces[i] = met.piece;
            }
    });
    // A pixel over an edge has a quarter of what each of four places in it meets, as pixels beside it show that.
    for (int row = 1; row + 1 < size.height; ++row)
        for (int column = 1; column + 1 < size.width; ++column) {
            const std::size_t i = static_cast<std::size_t>(row) * width + static_cast<std::size_t>(column);
            if (pieces[i] == pieces[i - 1] && pieces[i] == pieces[i + 1] && pieces[i] == pieces[i - width] &&
                pieces[i] == pieces[i + width])
                continue;
            LitGeometry::Edge edge{i, {i, i, i, i}};
            for (std::size_t k = 0; k < 4; ++k) {
                const int piece = at(column + (k % 2 ? 0.75 : 0.25), row + (k / 2 ? 0.75 : 0.25)).piece;
                for (const std::size_t beside :
                     {i, i - 1, i + 1, i - width, i + width, i - width - 1, i - width + 1, i + width - 1, i + width + 1})
                    if (pieces[beside] == piece) {
                        edge.of[k] = beside;
                        break;
                    }
            }
            made.edges.push_back(edge);
        }
    return made;
}

LitLight light_in_scene(const LitLight& light) {
    constexpr double least = 0.16;
    const double up = light.elevation * degree, way = light.direction * degree;
    Vector3 lamp = view.in_world({std::cos(up) * std::cos(way), std::cos(up) * std::sin(way), std::sin(up)});
    lamp[1] = std::max(lamp[1], least), lamp[2] = std::max(lamp[2], least);
    lamp = view.in_view(unit(lamp));
    LitLight moved = light;
    moved.elevation = std::asin(std::clamp(lamp[2], -1.0, 1.0)) / degree;
    moved.direction = std::atan2(lamp[1], lamp[0]) / degree;
    return moved;
}

std::vector<float> lamp_in_scene(const LitGeometry& scene, const LitRoom& room, const Job& job) {
    std::vector<float> seen(scene.size.pixels(), 1.0f);
    if (scene.at_x.empty()) return seen;
    const Vector3 lamp = view.in_world({room.key.x, room.key.y, room.key.z});
    const double width = std::max(0.01, static_cast<double>(room.penumbra) / 2);
    const auto wide = static_cast<std::size_t>(scene.size.width);
    for_rows(job, scene.size.height, [&](int first, int last) {
        for (std::size_t i = static_cast<std::size_t>(first) * wide; i < static_cast<std::size_t>(last) * wide; ++i) {
            const Vector3 at{scene.at_x[i], scene.at_y[i], scene.at_z[i]};
            const bool on_crate = scene.material[i] == static_cast<std::uint8_t>(ScenePlace::crate);
            double open = on_crate ? past_frame(at, lamp, width) : past(crate, at, lamp, width);
            // Nothing throws a shadow on itself here; what turns away from the lamp is dark anyhow.
            if (low_wall.distance(low_wall.into(at)) > 0.1) open *= past(low_wall, at, lamp, width);
            seen[i] = static_cast<float>(open);
        }
    });
    return seen;
}

}  // namespace loom
