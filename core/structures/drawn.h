// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Coverage of outlines, by Cairo, across the tile's edges.
#pragma once

#include "core/catalogue/description.h"
#include "core/catalogue/kinds/outline.h"

namespace loom {

/// Dashes along a line, in the outline's units; none if `dash` is 0.
struct LineStyle {
    double width = 1;
    double dash = 0, gap = 0, start = 0;
    bool round_ends = false;
};

/// What an outline covers, 0..1: inside of it (where it goes round once more often one way than the other: non-zero winding)
/// or, with `line`, along it. The outline is in design pixels of the tile; parts that lie outside come in on the other side, and
/// where copies overlap they are one. The wanted rows.
Plane drawn(const Outline& outline, const LineStyle* line, const StepContext& context);

/// Moves by whole tiles, in pixels, that bring what lies within the extent (design px) onto the tile; at most 1024.
std::vector<std::pair<int, int>> copies_on_tile(const Extent& extent, const StepContext& context);

/// Curves as Cairo flattens them: at most this far from where they are, in pixels.
constexpr double flattening_px = 0.002;

}  // namespace loom
