// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/stroke.h"

#include <algorithm>
#include <cmath>

namespace loom {

namespace {

/// The part from a to b; where it lies along the stroke is its caller's to say.
StrokePart part_between(LaidStrokes::Point a, LaidStrokes::Point b, float start, float share) {
    const float wx = b.x - a.x, wy = b.y - a.y;
    return {a.x,
            a.y,
            wx,
            wy,
            1 / std::max(wx * wx + wy * wy, 1e-12f),
            std::abs(wy) > 1e-6f ? 1 / wy : 0,
            std::min(a.y, b.y),
            std::max(a.y, b.y),
            start,
            share};
}

}  // namespace

void LaidStrokes::add(LaidStroke stroke, const std::vector<Point>& points) {
    stroke.first = static_cast<std::uint32_t>(parts_.size()), stroke.count = static_cast<std::uint32_t>(points.size() - 1);
    float whole = 0;
    stroke.line = {points[0].x, points[0].y, points[0].x, points[0].y};
    for (std::size_t k = 0; k + 1 < points.size(); ++k) {
        const Point a = points[k], b = points[k + 1];
        const float length = std::sqrt((b.x - a.x) * (b.x - a.x) + (b.y - a.y) * (b.y - a.y));
        parts_.push_back(part_between(a, b, whole, length));
        whole += length;
        stroke.line = {std::min(stroke.line.left, b.x), std::min(stroke.line.top, b.y), std::max(stroke.line.right, b.x),
                       std::max(stroke.line.bottom, b.y)};
    }
    const float per_whole = 1 / std::max(whole, 1e-6f);
    for (std::size_t k = stroke.first; k < parts_.size(); ++k) parts_[k].start *= per_whole, parts_[k].share *= per_whole;
    strokes_.push_back(stroke);
}

std::span<const StrokePart> LaidStrokes::parts_no_shorter(const LaidStroke& stroke, float least,
                                                          std::vector<StrokePart>& out) const {
    const StrokePart *part = parts_of(stroke), *const end = part + stroke.count;
    out.clear();
    while (part < end) {
        const StrokePart& first = *part;
        float share = 0, length = 0;
        Point to{};
        for (; part < end && length < least; ++part) {
            to = {part->x + part->wx, part->y + part->wy};
            share += part->share, length += std::sqrt(part->wx * part->wx + part->wy * part->wy);
        }
        out.push_back(part_between({first.x, first.y}, to, first.start, share));
    }
    return out;
}

void LaidStrokes::append(const LaidStrokes& others) {
    const auto before = static_cast<std::uint32_t>(parts_.size());
    parts_.insert(parts_.end(), others.parts_.begin(), others.parts_.end());
    for (LaidStroke stroke : others.strokes_) stroke.first += before, strokes_.push_back(stroke);
}

LaidStrokes LaidStrokes::joined(const std::vector<LaidStrokes>& all) {
    LaidStrokes whole;
    std::size_t strokes = 0, parts = 0;
    for (const LaidStrokes& some : all) strokes += some.strokes_.size(), parts += some.parts_.size();
    whole.strokes_.reserve(strokes), whole.parts_.reserve(parts);
    for (const LaidStrokes& some : all) whole.append(some);
    std::uint32_t id = 0;
    for (LaidStroke& stroke : whole.strokes_) stroke.id = ++id;
    return whole;
}

double LaidStrokes::area_of(const LaidStroke& stroke) const {
    float length = 0;
    for (const StrokePart* part = parts_of(stroke); part < parts_of(stroke) + stroke.count; ++part)
        length += std::sqrt(part->wx * part->wx + part->wy * part->wy);
    return 2.0 * static_cast<double>(stroke.half_width * length);
}

double LaidStrokes::area() const {
    double sum = 0;
    for (const LaidStroke& stroke : strokes_) sum += area_of(stroke);
    return sum;
}

void LaidStrokes::keep_last(double area) {
    std::size_t first = strokes_.size();
    for (double covered = 0; first > 0 && covered < area;) covered += area_of(strokes_[--first]);
    strokes_.erase(strokes_.begin(), strokes_.begin() + static_cast<std::ptrdiff_t>(first));
}

std::vector<ObjectBox> LaidStrokes::boxes(float margin) const {
    std::vector<ObjectBox> boxes;
    boxes.reserve(strokes_.size());
    for (const LaidStroke& stroke : strokes_) boxes.push_back(stroke.box(margin));
    return boxes;
}

StrokePen pen_of(const LaidStroke& stroke, float dx, float dy, int first, float soft) {
    // Nothing is drawn thinner than a pixel; it fades instead.
    const float half = std::max(stroke.half_width, 0.5f);
    return {static_cast<float>(first) - dy,
            dx,
            half,
            stroke.taper,
            std::min(1.0f, stroke.half_width / 0.5f) / (1 + soft / half),
            0.5f + soft};
}

}  // namespace loom
