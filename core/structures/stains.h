// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a drop leaves that dried: nothing outside, a dark tide line where it stopped, about half of that just behind it and less
// inside, with fainter lines where it rested on its way back. Its edge wanders, so that no stain is a disc.
#pragma once

#include <array>
#include <cstdint>
#include <vector>

#include "core/catalogue/context.h"
#include "core/noise/clouds.h"

namespace loom {

struct StainSettings {
    double size_px = 24;  ///< middle width
    double wander = 0.5;  ///< radii by which the edge strays
    int rings = 2;        ///< tide lines at most
    std::uint64_t seed = 0;
};

/// How much is left at each distance from the middle, in radii.
class TideProfile {
public:
    TideProfile(int rings, std::uint64_t lots);
    float at(float distance) const {
        const float place = distance * per_radius;
        if (place >= static_cast<float>(entries - 1)) return 0;
        const auto k = static_cast<std::size_t>(place);
        return values_[k] + (place - static_cast<float>(k)) * (values_[k + 1] - values_[k]);
    }
    /// Radii beyond which nothing is left.
    static constexpr float reach = 1.25f;

private:
    static constexpr int entries = 160;
    static constexpr float per_radius = static_cast<float>(entries - 1) / reach;
    std::array<float, entries> values_{};
};

/// How far the edges of all stains stray at a place, in radii, so that where two meet they do so alike.
class StainEdges {
public:
    StainEdges(const StainSettings& settings, const StepContext& context);
    /// A row; padded_width() values.
    void row(int y, float* out, std::vector<float>& room) const;
    int padded_width() const { return broad_.padded_width(); }
    /// Radii at most.
    double most() const { return 2.2 * wander_; }

private:
    double wander_;
    CloudField broad_, fine_;
};

}  // namespace loom
