// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <vector>

#include "core/base/hash.h"

namespace loom {

/// A place that a curve goes through; both 0..1, such as the tone that comes in and the one that goes out.
struct CurvePoint {
    double in = 0, out = 0;
    bool operator==(const CurvePoint&) const = default;
};
/// In order of `in`, which rises from point to point. See core/image/tone_curve.h for what lies between.
using CurvePoints = std::vector<CurvePoint>;

/// The curve that changes nothing.
inline CurvePoints straight_curve() { return {{0, 0}, {1, 1}}; }
constexpr double least_curve_step = 0.001;  ///< that `in` rises by at least

void hash_value(Key& key, const CurvePoints& points);

}  // namespace loom
