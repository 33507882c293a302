// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/brush.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace loom {

namespace {

BrushPlace place_of(const StrokePoint& p) {
    return {static_cast<double>(p.x) / StrokePoint::per_px, static_cast<double>(p.y) / StrokePoint::per_px, p.pressure / 255.0,
            static_cast<double>(p.tilt_x), static_cast<double>(p.tilt_y)};
}

BrushPlace between(const BrushPlace& a, const BrushPlace& b, double t) {
    const auto mix = [t](double from, double to) { return from + t * (to - from); };
    return {mix(a.x, b.x), mix(a.y, b.y), mix(a.pressure, b.pressure), mix(a.tilt_x, b.tilt_x), mix(a.tilt_y, b.tilt_y)};
}

/// The curve from b to c; knots as the root of the distance (centripetal), by the pyramid of Barry and Goldman.
BrushPlace on_curve(const BrushPlace& a, const BrushPlace& b, const BrushPlace& c, const BrushPlace& d, double t) {
    const auto way = [](const BrushPlace& from, const BrushPlace& to) {
        return std::max(1e-3, std::sqrt(std::hypot(to.x - from.x, to.y - from.y)));
    };
    const double t1 = way(a, b), t2 = t1 + way(b, c), t3 = t2 + way(c, d), at = t1 + t * (t2 - t1);
    const BrushPlace a1 = between(a, b, at / t1), a2 = between(b, c, (at - t1) / (t2 - t1)),
                     a3 = between(c, d, (at - t2) / (t3 - t2));
    const BrushPlace b1 = between(a1, a2, at / t2), b2 = between(a2, a3, (at - t1) / (t3 - t1));
    BrushPlace place = between(b1, b2, (at - t1) / (t2 - t1));
    // What the hand pressed never leaves what it pressed before and after.
    const BrushPlace straight = between(b, c, t);
    place.pressure = straight.pressure, place.tilt_x = straight.tilt_x, place.tilt_y = straight.tilt_y;
    return place;
}

}  // namespace

std::vector<BrushPlace> places_along(const Stroke& stroke, double step) {
    std::vector<BrushPlace> places;
    const auto& points = stroke.points;
    if (points.empty()) return places;
    places.push_back(place_of(points.front()));
    for (std::size_t k = 0; k + 1 < points.size(); ++k) {
        const BrushPlace b = place_of(points[k]), c = place_of(points[k + 1]);
        const BrushPlace a = k > 0 ? place_of(points[k - 1]) : b, d = k + 2 < points.size() ? place_of(points[k + 2]) : c;
        const double way = std::hypot(c.x - b.x, c.y - b.y);
        const int steps = std::max(1, static_cast<int>(std::ceil(way / step)));
        for (int n = 1; n < steps; ++n) places.push_back(on_curve(a, b, c, d, static_cast<double>(n) / steps));
        places.push_back(c);
    }
    return places;
}

std::vector<BrushPlace> dabs_along(const Stroke& stroke, double step) {
    const std::vector<BrushPlace> places = places_along(stroke, step / 4);
    std::vector<BrushPlace> dabs;
    double since = 0;
    for (std::size_t k = 0; k < places.size(); ++k) {
        const double way = k > 0 ? std::hypot(places[k].x - places[k - 1].x, places[k].y - places[k - 1].y) : 0;
        since += way;
        const bool still = way == 0, last = k + 1 == places.size();
        if (!still && !last && since < step * 0.99) continue;
        dabs.push_back(places[k]);
        since = 0;
    }
    return dabs;
}

double brush_radius(const Stroke& stroke, double pressure) { return stroke.size / 2 * (0.4 + 0.6 * pressure); }
double brush_strength(const Stroke& stroke, double pressure) { return stroke.strength / 100 * pressure; }

BrushFrame::BrushFrame(const BrushPlace& place) {
    const double lean = std::min(std::hypot(place.tilt_x, place.tilt_y), 60.0);
    if (lean < 1) return;
    // Up to twice as long; in this frame it is as much shorter.
    const double shorter = 1 / (1 + lean / 60), angle = std::atan2(place.tilt_y, place.tilt_x);
    const double c = std::cos(angle), s = std::sin(angle);
    xx = c * c * shorter + s * s, yy = s * s * shorter + c * c;
    xy = yx = c * s * (shorter - 1);
}

StrokePath::StrokePath(const Stroke& stroke) : extent_{1e9, 1e9, -1e9, -1e9} {
    const std::vector<BrushPlace> places = places_along(stroke, std::max(0.5, stroke.size / 8));
    // A pixel's own width is the least it fades over; finer pictures show it finer.
    const auto soft =
        static_cast<float>(std::clamp(stroke.softness / 100, std::min(1.0, 0.7 / std::max(0.5, stroke.size / 2)), 1.0));
    const std::size_t count = std::max<std::size_t>(1, places.size() - 1);
    for (std::size_t k = 0; k < count; ++k) {
        const BrushPlace &a = places[k], &b = places[std::min(k + 1, places.size() - 1)];
        Piece piece;
        piece.frame = BrushFrame(a);
        const BrushFrame& f = piece.frame;
        const double r0 = brush_radius(stroke, a.pressure), r1 = brush_radius(stroke, b.pressure);
        piece.round = {static_cast<float>(f.xx * a.x + f.xy * a.y),
                       static_cast<float>(f.yx * a.x + f.yy * a.y),
                       static_cast<float>(f.xx * b.x + f.xy * b.y),
                       static_cast<float>(f.yx * b.x + f.yy * b.y),
                       static_cast<float>(r0),
                       static_cast<float>(r1),
                       static_cast<float>(std::abs(brush_strength(stroke, a.pressure))),
                       static_cast<float>(std::abs(brush_strength(stroke, b.pressure))),
                       soft};
        const double reach = std::max(r0, r1) * 2;
        const double wide = f.xx == 1 && f.yy == 1 ? std::max(r0, r1) : reach;
        piece.extent = {std::min(a.x, b.x) - wide, std::min(a.y, b.y) - wide, std::max(a.x, b.x) + wide,
                        std::max(a.y, b.y) + wide};
        extent_ = {std::min(extent_.left, piece.extent.left), std::min(extent_.top, piece.extent.top),
                   std::max(extent_.right, piece.extent.right), std::max(extent_.bottom, piece.extent.bottom)};
        pieces_.push_back(piece);
    }
}

void StrokePath::brush(Size size, Size tile, int first, int count, float* mask) const {
    const double sx = static_cast<double>(size.width) / tile.width, sy = static_cast<double>(size.height) / tile.height;
    for (const Piece& piece : pieces_) {
        const int top = static_cast<int>(std::floor(piece.extent.top * sy)),
                  bottom = static_cast<int>(std::ceil(piece.extent.bottom * sy));
        const int left = static_cast<int>(std::floor(piece.extent.left * sx)),
                  right = static_cast<int>(std::ceil(piece.extent.right * sx));
        // Every copy of the tile that the piece reaches into.
        const auto copies_from = [](int low, int length) { return (low - wrap(low, length)) / length; };
        for (int down = copies_from(top, size.height); down * size.height < bottom; ++down) {
            const int from = std::max(top - down * size.height, first), to = std::min(bottom - down * size.height, first + count);
            for (int y = from; y < to; ++y) {
                const auto py = static_cast<float>((y + 0.5) / sy + static_cast<double>(down) * tile.height);
                float* row = mask + static_cast<std::ptrdiff_t>(y - first) * size.width;
                for (int across = copies_from(left, size.width); across * size.width < right; ++across) {
                    const int x0 = std::max(left - across * size.width, 0),
                              x1 = std::min(right - across * size.width, size.width);
                    if (x0 >= x1) continue;
                    const auto px = static_cast<float>((x0 + 0.5) / sx + static_cast<double>(across) * tile.width);
                    const BrushFrame& f = piece.frame;
                    const auto step = static_cast<float>(1 / sx);
                    brush_row(piece.round, static_cast<float>(f.xx) * px + static_cast<float>(f.xy) * py,
                              static_cast<float>(f.yx) * px + static_cast<float>(f.yy) * py, static_cast<float>(f.xx) * step,
                              static_cast<float>(f.yx) * step, x1 - x0, row + x0);
                }
            }
        }
    }
}

std::vector<Touched> touched_by(const Extent& extent, Size size, Size tile, int around) {
    const auto parts = [around](double low, double high, int pixels, int length) {
        const double scale = static_cast<double>(pixels) / length;
        const int from = static_cast<int>(std::floor(low * scale)) - around,
                  to = static_cast<int>(std::ceil(high * scale)) + around;
        if (to - from >= pixels) return std::vector<std::pair<int, int>>{{0, pixels}};
        const int at = wrap(from, pixels), count = to - from;
        if (at + count <= pixels) return std::vector<std::pair<int, int>>{{at, count}};
        return std::vector<std::pair<int, int>>{{at, pixels - at}, {0, at + count - pixels}};
    };
    std::vector<Touched> all;
    if (extent.left > extent.right) return all;
    for (const auto& [y, height] : parts(extent.top, extent.bottom, size.height, tile.height))
        for (const auto& [x, width] : parts(extent.left, extent.right, size.width, tile.width))
            all.push_back({x, width, y, height});
    return all;
}

}  // namespace loom
