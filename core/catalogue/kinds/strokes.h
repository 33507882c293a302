// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <string>
#include <vector>

#include "core/base/shared_value.h"
#include "core/colour/colour.h"

namespace loom {

/// Where a hand was. Places may lie outside the tile: a stroke goes on over its edge.
struct StrokePoint {
    static constexpr int per_px = 8;
    int x = 0, y = 0;            ///< eighths of design pixels from the tile's upper left corner
    int pressure = 255;          ///< 0..255
    int tilt_x = 0, tilt_y = 0;  ///< degrees from upright, -60..60: to the right and down
    bool operator==(const StrokePoint&) const = default;
};

/// One movement of the hand, as it was made; see core/structures/brush.h for what is made of it.
struct Stroke {
    std::string tool;      ///< one of the words that the parameter offers
    double size = 80;      ///< diameter, design px
    double strength = 50;  ///< %
    double softness = 60;  ///< %: share of the radius over which it fades out
    Colour colour{};       ///< of tools that lay one on
    bool muted = false;    ///< kept, but passed over
    std::vector<StrokePoint> points;
    bool operator==(const Stroke&) const = default;
};
/// In the order they were made.
using Strokes = SharedList<Stroke>;

constexpr std::size_t most_strokes = 20000, most_stroke_points = 4096;
constexpr double least_brush = 1, greatest_brush = 2048;  ///< design px

void hash_value(Key& key, const Stroke& stroke);

/// "4096 2048 255, 8 0 -3": the first place, then the ways from place to place; pressure and tilt where they change.
std::string write_points(const std::vector<StrokePoint>& points);

}  // namespace loom
