// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Bending: every pixel of the result is read from another place, across the tile edges.
#pragma once

#include <functional>

#include "core/base/job.h"
#include "core/image/bundle.h"

namespace loom {

/// Fills, for row y, the places to read from in pixels (centre of the first pixel at 0,0).
using PlacesOfRow = std::function<void(int y, float* x, float* y_out)>;

/// Between pixels: by Catmull-Rom weights, or by straight lines, which never overshoot but soften.
enum class PixelReading { cubic, straight };

/// The wanted rows; `in` has to hold the places that they are read from. Up to resampled_margin pixels round them are read too.
Bundle resampled(const Bundle& in, Rows rows, const PlacesOfRow& places, const Job& job,
                 PixelReading reading = PixelReading::cubic);
constexpr int resampled_margin = 3;

}  // namespace loom
