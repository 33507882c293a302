// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A curve through points, made ready for reading: monotone cubic (Fritsch & Butland 1984), so that it overshoots none of them.
#pragma once

#include <vector>

#include "core/base/quick_math.h"
#include "core/catalogue/kinds/curve.h"

namespace loom {

class ToneCurve {
public:
    /// Points as curves hold them: two at least, their `in` rising.
    explicit ToneCurve(const CurvePoints& points);

    /// Level before the first point and behind the last.
    double exactly(double in) const;
    /// The same from a table, 0..1 at most a hundred-thousandth off where the curve is no steeper than 50.
    float operator()(float in) const {
        const float scaled = within(in, 0.0f, 1.0f) * steps;
        const auto index = static_cast<std::size_t>(scaled);
        return table_[index] + (scaled - static_cast<float>(index)) * (table_[index + 1] - table_[index]);
    }

private:
    static constexpr int steps = 4096;
    CurvePoints points_;
    std::vector<double> slopes_;
    std::vector<float> table_;
};

}  // namespace loom
