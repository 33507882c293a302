// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Line integral convolution (Cabral & Leedom 1993): averages along the lines of a direction field, across the tile edge.
#pragma once

#include <vector>

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

/// Directions without a sign: the cosine and sine of twice the angle (0 along x, growing towards growing y). They need not be
/// of length 1.
struct DirectionField {
    Plane cosine, sine;
};

/// Means along the lines through each pixel: weights[0] counts the pixel itself, weights[k] what lies k strides along the line
/// on both sides. `stride` in pixels. The weights' sum over both sides becomes 1.
std::vector<Plane> stream_means(const std::vector<const Plane*>& planes, const DirectionField& field, double stride,
                                const std::vector<float>& weights, const Job& job);

}  // namespace loom
