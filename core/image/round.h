// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures in polar coordinates, for blurs round a centre and along its rays.
#pragma once

#include <functional>
#include <vector>

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

/// Rings of all radii in pixels round a centre, as far as the farthest corner of the tile; or rays as long. What lies beyond
/// the tile's edges is the next tile.
/// Planes that the lines of so many planes are worth.
double polar_scratch(Size size, double centre_x_percent, double centre_y_percent, int planes);

class PolarLines {
public:
    PolarLines(Size size, double centre_x_percent, double centre_y_percent);

    /// Longest ray, in samples.
    int reach() const { return reach_; }

    /// Turns `count` samples of a line into as many others; called from any thread.
    using Filter = std::function<void(const float* line, int count, float* out)>;
    /// Each ring, closed and with about a sample a pixel, through `filter`, and back.
    std::vector<Plane> by_rings(const std::vector<const Plane*>& planes, const Job& job, const Filter& filter) const;
    /// Each ray, a sample a pixel from the centre outwards.
    std::vector<Plane> by_rays(const std::vector<const Plane*>& planes, const Job& job, const Filter& filter) const;

private:
    struct Sheet;
    template <class Places, class Find>
    std::vector<Plane> by(const Sheet& sheet, const std::vector<const Plane*>& planes, const Job& job, const Filter& filter,
                          const Places& places, const Find& find) const;
    Size size_;
    double cx_, cy_;
    int reach_;
};

/// Mean over 2 half + 1 entries of a closed line, for half up to (count - 1) / 2.
void closed_mean(const float* values, int count, double half, float* out);

}  // namespace loom
