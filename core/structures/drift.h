// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Domain warp by two independent clouds: how far each pixel's reading place is moved.
#pragma once

#include <cstdint>
#include <vector>

#include "core/catalogue/context.h"
#include "core/noise/clouds.h"

namespace loom {

struct DriftSettings {
    double distance_px = 0;  ///< design pixels; about the greatest way
    double size_x_px = 256, size_y_px = 256;
    int octaves = 3;
    std::uint64_t seed = 0;
};

/// How far places move at most, as a multiple of the distance: twice what clouds seldom pass, and cut there.
constexpr double drift_most = 2;

class Drift {
public:
    Drift(const DriftSettings& settings, const StepContext& context);
    /// Ways across and down in tiles; buffers hold padded_width() values.
    void row(int y, float* du, float* dv) const;
    int padded_width() const { return across_->padded_width(); }

private:
    std::shared_ptr<const CloudField> across_, down_;
    float way_u_, way_v_;
};

}  // namespace loom
