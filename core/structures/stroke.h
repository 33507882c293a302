// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Tapered strokes through some points, and the pixels of a row that one covers.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/structures/stroke_kernel.h"
#include "core/structures/object_sheet.h"

namespace loom {

struct LaidStroke {
    float half_width = 1;  ///< pixels, in the middle
    float taper = 0;       ///< 0..1: how much of the width is lost towards the ends
    float tone = 0.5f;
    std::uint32_t first = 0, count = 0;  ///< its parts among all
    std::uint32_t id = 0;                ///< from 1, in the order they were added
    ObjectBox line{};                    ///< of its points, without its width

    ObjectBox box(float margin) const {
        const float reach = half_width + margin;
        return {line.left - reach, line.top - reach, line.right + reach, line.bottom + reach};
    }
};

class LaidStrokes {
public:
    struct Point {
        float x, y;  ///< pixels
    };

    /// Adds a stroke through at least two points; the look's parts and line are worked out here.
    void add(LaidStroke look, const std::vector<Point>& points);
    /// Puts these behind the others.
    void append(const LaidStrokes& others);
    /// As many as all of `parts` together.
    static LaidStrokes joined(const std::vector<LaidStrokes>& parts);

    /// Pixels that all of them cover together, twice where two lie.
    double area() const;
    /// Leaves out the first of them, while those behind them cover at least `area` pixels.
    void keep_last(double area);

    std::size_t size() const { return strokes_.size(); }
    const LaidStroke& operator[](std::size_t k) const { return strokes_[k]; }
    const StrokePart* parts_of(const LaidStroke& stroke) const { return parts_.data() + stroke.first; }
    /// Its parts put together until each is at least `least` pixels long, for what is too soft to show finer bends; held by
    /// `out`.
    std::span<const StrokePart> parts_no_shorter(const LaidStroke& stroke, float least, std::vector<StrokePart>& out) const;
    std::vector<ObjectBox> boxes(float margin) const;

private:
    double area_of(const LaidStroke& stroke) const;
    std::vector<LaidStroke> strokes_;
    std::vector<StrokePart> parts_;
};

/// A pen for row `first` and those below it, on a sheet where the stroke is moved by (dx, dy); `soft` pixels wider and softer.
StrokePen pen_of(const LaidStroke& stroke, float dx, float dy, int first, float soft = 0);

}  // namespace loom
