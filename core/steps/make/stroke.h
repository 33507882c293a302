// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A tapered stroke through some points, and the pixels of a row that it covers.
#pragma once

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/steps/object_sheet.h"

namespace loom {

struct Stroke {
    struct Point {
        float x, y;
    };
    std::vector<Point> points;  ///< pixels
    float half_width = 1;       ///< pixels, in the middle
    float taper = 0;            ///< 0..1: how much of the width is lost towards the ends
    float tone = 0.5f;

    /// Measures the way along the points; called once they are all there.
    void finish() {
        along.assign(1, 0.0f);
        for (std::size_t k = 1; k < points.size(); ++k)
            along.push_back(along.back() + std::hypot(points[k].x - points[k - 1].x, points[k].y - points[k - 1].y));
        const float whole = std::max(along.back(), 1e-6f);
        for (float& way : along) way /= whole;
        for (std::size_t k = 0; k + 1 < points.size(); ++k) {
            const Point a = points[k], b = points[k + 1];
            const float wx = b.x - a.x, wy = b.y - a.y;
            parts.push_back({a.x, a.y, wx, wy, 1 / std::max(wx * wx + wy * wy, 1e-12f), std::abs(wy) > 1e-6f ? 1 / wy : 0,
                             std::min(a.y, b.y), std::max(a.y, b.y), along[k], along[k + 1] - along[k]});
        }
    }
    /// A piece between two points with what every pixel needs of it.
    struct Part {
        float x, y, wx, wy, per_length2, per_wy, top, bottom, start, share;
    };
    ObjectBox box(float margin) const {
        ObjectBox box{1e9f, 1e9f, -1e9f, -1e9f};
        for (const Point& p : points) {
            box.left = std::min(box.left, p.x), box.right = std::max(box.right, p.x);
            box.top = std::min(box.top, p.y), box.bottom = std::max(box.bottom, p.y);
        }
        const float reach = half_width + margin;
        return {box.left - reach, box.top - reach, box.right + reach, box.bottom + reach};
    }
    std::vector<float> along;  ///< share of the way at each point
    std::vector<Part> parts;
};

class StrokeRow {
public:
    explicit StrokeRow(int width) : width_(width), cover_(static_cast<std::size_t>(width), 0.0f), place_(cover_.size(), 0.0f) {}

    /// Works out row y of the stroke moved by (dx, dy), `soft` pixels wider and softer. Whether anything is covered.
    bool draw(const Stroke& stroke, float dx, float dy, int y, float soft = 0) {
        for (int x = first_; x <= last_; ++x) cover_[static_cast<std::size_t>(x)] = 0;
        first_ = width_, last_ = -1;
        const float row = static_cast<float>(y) - dy, edge = 0.5f + soft;
        // Nothing is drawn thinner than a pixel; it fades instead.
        const float half = std::max(stroke.half_width, 0.5f), fade = std::min(1.0f, stroke.half_width / 0.5f) / (1 + soft / half);
        const float reach = half + edge;
        const float per_edge = 1 / (2 * edge);
        for (const Stroke::Part& part : stroke.parts) {
            if (row < part.top - reach || row > part.bottom + reach) continue;
            // The part that is near this row bounds the columns.
            const float py = row - part.y;
            float low = 0, high = 1;
            if (part.per_wy != 0) {
                const float t0 = (py - reach) * part.per_wy, t1 = (py + reach) * part.per_wy;
                low = std::clamp(std::min(t0, t1), 0.0f, 1.0f), high = std::clamp(std::max(t0, t1), 0.0f, 1.0f);
            }
            const float x0 = part.x + low * part.wx, x1 = part.x + high * part.wx;
            const int from = std::max(0, static_cast<int>(std::min(x0, x1) - reach + dx + 1)),
                      to = std::min(width_ - 1, static_cast<int>(std::max(x0, x1) + reach + dx));
            for (int x = from; x <= to; ++x) {
                const float px = static_cast<float>(x) - dx - part.x;
                const float t = std::clamp((px * part.wx + py * part.wy) * part.per_length2, 0.0f, 1.0f);
                const float ox = px - t * part.wx, oy = py - t * part.wy, away = std::sqrt(ox * ox + oy * oy);
                const float way = part.start + t * part.share, from_middle = 2 * way - 1;
                const float thin = 1 - stroke.taper * from_middle * from_middle;
                const float cover =
                    fade * std::clamp((half * thin - away + edge) * per_edge, 0.0f, 1.0f) * std::min(1.0f, 0.3f + thin);
                if (cover <= cover_[static_cast<std::size_t>(x)]) continue;
                cover_[static_cast<std::size_t>(x)] = cover, place_[static_cast<std::size_t>(x)] = way;
                first_ = std::min(first_, x), last_ = std::max(last_, x);
            }
        }
        return last_ >= first_;
    }
    int first() const { return first_; }
    int last() const { return last_; }
    float cover(int x) const { return cover_[static_cast<std::size_t>(x)]; }
    /// Share of the way along the stroke.
    float place(int x) const { return place_[static_cast<std::size_t>(x)]; }

private:
    int width_, first_ = 0, last_ = -1;
    std::vector<float> cover_, place_;
};

}  // namespace loom
