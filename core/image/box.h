// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Mean over a box by running sums, wrapping at the tile edge; its cost does not grow with the radius.
#pragma once

#include <functional>
#include <vector>

#include "core/base/job.h"
#include "core/image/footprint.h"
#include "core/image/plane.h"

namespace loom {

/// Mean over 2 radius + 1 pixels each way; a fractional radius counts the outermost pixels in part.
Plane box_mean(const Plane& plane, double radius_x, double radius_y, const Job& job);

/// Row y of derived plane k; may be written to `scratch` (a row long) or lie elsewhere.
using RowSource = std::function<const float*(int k, int y, float* scratch)>;
/// Takes the means of row y, a row for each derived plane; it may change them.
using RowSink = std::function<void(int y, float* const* means)>;

/// Box means of `count` derived planes at once, row by row, so that what is made from them needs no planes between.
/// Rows come in any order and from any thread, each once.
void box_rows(Size size, double radius_x, double radius_y, int count, const RowSource& source, const RowSink& sink,
              const Job& job);
/// The same for some rows, which begin and end with blocks of box_footprint or at the tile's end.
void box_rows(Size size, Rows rows, double radius_x, double radius_y, int count, const RowSource& source, const RowSink& sink,
              const Job& job);
Footprint box_footprint(Size size, double radius_x, double radius_y);

}  // namespace loom
