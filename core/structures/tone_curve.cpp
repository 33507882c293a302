// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/tone_curve.h"

#include <algorithm>
#include <cmath>

namespace loom {

namespace {

/// At an end the slope of the parabola through three points, as far as it turns the curve nowhere.
double end_slope(double near_width, double far_width, double near, double far) {
    const double slope = ((2 * near_width + far_width) * near - near_width * far) / (near_width + far_width);
    if (slope * near <= 0) return 0;
    return near * far <= 0 && std::abs(slope) > 3 * std::abs(near) ? 3 * near : slope;
}

std::vector<double> slopes_of(const CurvePoints& points) {
    const std::size_t count = points.size();
    std::vector<double> width(count - 1), secant(count - 1), slopes(count);
    for (std::size_t k = 0; k + 1 < count; ++k) {
        width[k] = points[k + 1].in - points[k].in;
        secant[k] = (points[k + 1].out - points[k].out) / width[k];
    }
    if (count == 2) return {secant[0], secant[0]};
    for (std::size_t k = 1; k + 1 < count; ++k) {
        if (secant[k - 1] * secant[k] <= 0) continue;
        const double before = 2 * width[k] + width[k - 1], after = width[k] + 2 * width[k - 1];
        slopes[k] = (before + after) / (before / secant[k - 1] + after / secant[k]);
    }
    slopes.front() = end_slope(width[0], width[1], secant[0], secant[1]);
    slopes.back() = end_slope(width[count - 2], width[count - 3], secant[count - 2], secant[count - 3]);
    return slopes;
}

}  // namespace

ToneCurve::ToneCurve(const CurvePoints& points) : points_(points), slopes_(slopes_of(points)) {
    table_.reserve(steps + 2);
    for (int k = 0; k <= steps + 1; ++k) table_.push_back(static_cast<float>(exactly(static_cast<double>(k) / steps)));
}

double ToneCurve::exactly(double in) const {
    if (in <= points_.front().in) return points_.front().out;
    if (in >= points_.back().in) return points_.back().out;
    const auto above = std::upper_bound(points_.begin(), points_.end(), in,
                                        [](double value, const CurvePoint& point) { return value < point.in; });
    const auto k = static_cast<std::size_t>(above - points_.begin()) - 1;
    const double width = points_[k + 1].in - points_[k].in, t = (in - points_[k].in) / width;
    // Cubic Hermite.
    const double u = 1 - t;
    return points_[k].out * (1 + 2 * t) * u * u + points_[k + 1].out * t * t * (3 - 2 * t) +
           width * (slopes_[k] * t * u * u - slopes_[k + 1] * t * t * u);
}

}  // namespace loom
