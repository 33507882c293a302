// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/forms.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace loom {

namespace {

constexpr double pi = std::numbers::pi;

/// Adds an arc of an ellipse, in pieces short enough that no eye and no 8-bit step tells it from a true one.
void add_arc(Contour& contour, OutlinePoint centre, double rx, double ry, double from, double to) {
    const int pieces = std::max(1, static_cast<int>(std::ceil(std::abs(to - from) / (pi / 8))));
    const double step = (to - from) / pieces, reach = 4.0 / 3 * std::tan(step / 4);
    for (int k = 0; k <= pieces; ++k) {
        const double angle = from + k * step, c = std::cos(angle), s = std::sin(angle);
        const OutlinePoint at{centre.x + rx * c, centre.y + ry * s};
        const OutlinePoint in{at.x + reach * rx * s, at.y - reach * ry * c}, out{at.x - reach * rx * s, at.y + reach * ry * c};
        contour.nodes.push_back({at, k == 0 ? at : in, k == pieces ? at : out});
    }
}

/// Rounds the corners of a polygon by circular arcs that touch both sides.
Contour rounded(const std::vector<OutlinePoint>& corners, double radius) {
    Contour contour;
    const std::size_t count = corners.size();
    for (std::size_t k = 0; k < count; ++k) {
        const OutlinePoint &before = corners[(k + count - 1) % count], &at = corners[k], &next = corners[(k + 1) % count];
        const double ax = before.x - at.x, ay = before.y - at.y, bx = next.x - at.x, by = next.y - at.y;
        const double a = std::hypot(ax, ay), b = std::hypot(bx, by);
        const double half = a > 0 && b > 0 ? std::acos(std::clamp((ax * bx + ay * by) / (a * b), -1.0, 1.0)) / 2 : pi / 2;
        // The arc takes at most half of each side.
        const double most = std::min(a, b) / 2 * std::tan(half), r = std::min(radius, most);
        if (!(r > 1e-6) || half > pi / 2 - 1e-6) {
            contour.nodes.push_back({at, at, at});
            continue;
        }
        const double way = r / std::tan(half);
        const OutlinePoint first{at.x + ax / a * way, at.y + ay / a * way}, last{at.x + bx / b * way, at.y + by / b * way};
        const double mx = ax / a + bx / b, my = ay / a + by / b, m = std::hypot(mx, my), deep = r / std::sin(half);
        const OutlinePoint centre{at.x + mx / m * deep, at.y + my / m * deep};
        const double from = std::atan2(first.y - centre.y, first.x - centre.x);
        double to = std::atan2(last.y - centre.y, last.x - centre.x);
        if (to - from > pi) to -= 2 * pi;
        if (from - to > pi) to += 2 * pi;
        add_arc(contour, centre, r, r, from, to);
    }
    return contour;
}

/// Points on the unit circle brought to fill a width and height about the origin.
std::vector<OutlinePoint> filling(std::vector<OutlinePoint> points, double width, double height) {
    OutlinePoint low{1e9, 1e9}, high{-1e9, -1e9};
    for (const OutlinePoint& p : points) {
        low = {std::min(low.x, p.x), std::min(low.y, p.y)};
        high = {std::max(high.x, p.x), std::max(high.y, p.y)};
    }
    for (OutlinePoint& p : points) {
        p.x = ((p.x - low.x) / (high.x - low.x) - 0.5) * width;
        p.y = ((p.y - low.y) / (high.y - low.y) - 0.5) * height;
    }
    return points;
}

}  // namespace

Outline rectangle_form(double width, double height, double corner) {
    const double w = width / 2, h = height / 2;
    return {rounded({{-w, -h}, {w, -h}, {w, h}, {-w, h}}, corner)};
}

Outline ellipse_form(double width, double height) {
    Contour contour;
    add_arc(contour, {0, 0}, width / 2, height / 2, 0, 2 * pi);
    // The end is the beginning.
    contour.nodes.front().in = contour.nodes.back().in;
    contour.nodes.pop_back();
    return {contour};
}

Outline polygon_form(double width, double height, int sides, double corner) {
    std::vector<OutlinePoint> points;
    for (int k = 0; k < sides; ++k) {
        const double angle = pi / 2 + pi / sides + 2 * pi * k / sides;
        points.push_back({std::cos(angle), std::sin(angle)});
    }
    return {rounded(filling(std::move(points), width, height), corner)};
}

Outline star_form(double width, double height, int points, double inner, double corner) {
    std::vector<OutlinePoint> corners;
    for (int k = 0; k < 2 * points; ++k) {
        const double angle = -pi / 2 + pi * k / points, radius = k % 2 == 0 ? 1 : inner;
        corners.push_back({radius * std::cos(angle), radius * std::sin(angle)});
    }
    return {rounded(filling(std::move(corners), width, height), corner)};
}

Affine placing(double scale_x, double scale_y, double degrees, double x, double y) {
    const double c = std::cos(degrees * pi / 180), s = std::sin(degrees * pi / 180);
    return {scale_x * c, -scale_x * s, scale_y * s, scale_y * c, x, y};
}

Affine combined(const Affine& o, const Affine& i) {
    return {o.xx * i.xx + o.xy * i.yx, o.yx * i.xx + o.yy * i.yx,        o.xx * i.xy + o.xy * i.yy,
            o.yx * i.xy + o.yy * i.yy, o.xx * i.x0 + o.xy * i.y0 + o.x0, o.yx * i.x0 + o.yy * i.y0 + o.y0};
}

Outline transformed(Outline outline, const Affine& by) {
    for (Contour& contour : outline)
        for (OutlineNode& node : contour.nodes)
            for (OutlinePoint* p : {&node.at, &node.in, &node.out})
                *p = {by.xx * p->x + by.xy * p->y + by.x0, by.yx * p->x + by.yy * p->y + by.y0};
    return outline;
}

Extent extent_of(const Outline& outline) {
    Extent extent{1e9, 1e9, -1e9, -1e9};
    for (const Contour& contour : outline)
        for (const OutlineNode& node : contour.nodes)
            for (const OutlinePoint& p : {node.at, node.in, node.out}) {
                extent.left = std::min(extent.left, p.x), extent.right = std::max(extent.right, p.x);
                extent.top = std::min(extent.top, p.y), extent.bottom = std::max(extent.bottom, p.y);
            }
    return extent.left > extent.right ? Extent{} : extent;
}

}  // namespace loom
