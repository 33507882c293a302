// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures in polar coordinates, for blurs round a centre and along its rays.
#pragma once

#include <functional>
#include <vector>

#include "core/catalogue/context.h"
#include "core/catalogue/describe.h"
#include "core/steps/soften/line_average.h"

namespace loom {

/// Mean over 2 half + 1 entries of a closed line.
void closed_mean(const float* values, int count, double half, float* out);

/// Rings of all radii in pixels round a centre, as far as the farthest corner of the tile. What lies beyond the tile's
/// edges is the next tile.
class Rings {
public:
    Rings(const StepContext& context, double centre_x_percent, double centre_y_percent);

    using Filter = std::function<void(std::vector<float>& ring, std::vector<float>& scratch)>;
    /// Each ring, with about a sample a pixel, through `filter`, and back.
    Plane filtered(const Plane& plane, const Job& job, const Filter& filter) const;

    /// Reads along `rays` rays, a sample a pixel from the centre outwards, filters each ray and reads back.
    Plane ray_filtered(const Plane& plane, const Job& job, const Filter& filter) const;

private:
    int samples(int ring) const;
    Size size_;
    double cx_, cy_;
    int count_;
};

}  // namespace loom
