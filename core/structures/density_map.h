// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The tone of a strand as sources ask for it where they lay something: on a fixed grid, so that it is the same at every size.
#pragma once

#include <cmath>

#include "core/image/bundle.h"

namespace loom {

class DensityMap {
public:
    explicit DensityMap(const Bundle& source) : grid_(resized(*tone_of(source), {side, side})) {}

    /// 0..1 at a place in tiles. What is no number is black: points whose density is none would all lie in one place.
    double tone(double u, double v) const {
        const double x = u * side - 0.5, y = v * side - 0.5;
        const double i = std::floor(x), j = std::floor(y);
        const double s = x - i, t = y - j;
        auto at = [&](int a, int b) {
            const auto value = static_cast<double>(grid_.wrapped(static_cast<int>(i) + a, static_cast<int>(j) + b));
            return value > 0 ? std::min(value, 1.0) : 0.0;
        };
        return (1 - t) * ((1 - s) * at(0, 0) + s * at(1, 0)) + t * ((1 - s) * at(0, 1) + s * at(1, 1));
    }
    /// Black has a quarter and white four times as many as mid grey.
    double operator()(double u, double v) const { return std::exp2(4 * (tone(u, v) - 0.5)); }

private:
    static constexpr int side = 64;
    Plane grid_;
};

/// Null where the strand is not there or empty.
inline std::shared_ptr<const DensityMap> density_map(const Bundle* source) {
    return source && !source->empty() ? std::make_shared<const DensityMap>(*source) : nullptr;
}

}  // namespace loom
