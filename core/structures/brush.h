// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What is made of a stroke: the way its points lie on, smoothed (centripetal Catmull-Rom, Yuksel and others 2011), and how
// strongly the brush works where. All of it in design pixels, so that it is the same at every size; across the tile's edges.
#pragma once

#include <functional>
#include <vector>

#include "core/catalogue/description.h"
#include "core/catalogue/kinds/strokes.h"
#include "core/structures/brush_kernel.h"

namespace loom {

/// A place on the smoothed way.
struct BrushPlace {
    double x = 0, y = 0;            ///< design px
    double pressure = 1;            ///< 0..1
    double tilt_x = 0, tilt_y = 0;  ///< degrees
};

/// Places at most `step` design px from each other, first and last included. Where the hand stood still, a place for each point.
std::vector<BrushPlace> places_along(const Stroke& stroke, double step);

/// Places `step` design px from each other, for tools that work dab by dab; where the hand stood still one for each point.
std::vector<BrushPlace> dabs_along(const Stroke& stroke, double step);

/// Half of the brush's size where it is pressed so hard, design px; a light touch is narrower.
double brush_radius(const Stroke& stroke, double pressure);
/// -1..1.
double brush_strength(const Stroke& stroke, double pressure);

/// A frame in which the brush is round: a tilted pen draws a longer mark the way it leans.
struct BrushFrame {
    double xx = 1, xy = 0, yx = 0, yy = 1;
    explicit BrushFrame(const BrushPlace& place);
    BrushFrame() = default;
};

class StrokePath {
public:
    /// Strengths are taken without their sign.
    explicit StrokePath(const Stroke& stroke);

    /// The least rectangle that all of it lies in, design px.
    const Extent& extent() const { return extent_; }
    /// Adds to `mask`, whole rows of the picture from row `first` on, how strongly the brush works, 0..1: the strongest that any
    /// part of the stroke does, so that going over a place in one stroke does not add up. Rows lie within the tile.
    void brush(Size size, Size tile, int first, int count, float* mask) const;

private:
    struct Piece {
        BrushPiece round;  // in its frame
        BrushFrame frame;
        Extent extent;
    };
    std::vector<Piece> pieces_;
    Extent extent_;
};

/// A span of pixels on some rows of the tile.
struct Touched {
    int x = 0, width = 0, y = 0, height = 0;
};
/// Where on the tile a rectangle of design px lies, with `around` pixels more on each side: at most four parts.
std::vector<Touched> touched_by(const Extent& extent, Size size, Size tile, int around = 0);

}  // namespace loom
