// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Turns of a flow by clouds: slow ones, and finer ones of a third and a ninth of their size.
#pragma once

#include <cstdint>
#include <utility>
#include <vector>

#include "core/noise/clouds.h"

namespace loom {

struct FlowBendSettings {
    double slow, fine;  ///< radians for a cloud of 1
    double size_px;     ///< design pixels of the slow ones
    std::uint64_t seed;
};

class FlowBends {
public:
    /// `size`: of the grid that is read row by row.
    FlowBends(const FlowBendSettings& settings, Size tile, Size size);
    /// Adds the turns of row y, in radians.
    void row(int y, std::vector<float>& angle) const;

private:
    std::vector<std::pair<CloudField, float>> fields_;
};

}  // namespace loom
