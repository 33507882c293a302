// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A sum of gradient noises (Perlin 2002), sampled once, for steps that read it at bent places of one row after the other: much
// cheaper than working noise out at every place. How finely it is sampled does not depend on the picture, so that all sizes
// read the same.
#pragma once

#include <cstdint>
#include <vector>

#include "core/base/job.h"
#include "core/image/plane.h"

namespace loom {

class NoiseSheet {
public:
    struct Part {
        double across, down;  ///< cells a unit of u and of v, rounded to whole numbers from 1
        float weight;         ///< deviation of this part; its mean is 0
        std::uint64_t seed;
    };

    /// At most `most_columns` samples across are kept (a power of two); finer parts then alias, and should be left out.
    NoiseSheet(const Job& job, const std::vector<Part>& parts, int most_columns = 4096);

    int columns() const { return columns_; }
    /// The row at height v, any number of tiles: columns() values, and the first ones again for row_padding values.
    /// Catmull-Rom between samples.
    void row(float v, float* out) const;

    static constexpr int row_padding = 16;

private:
    int columns_ = 64, rows_ = 8;
    Plane samples_;
};

/// Adds `weight` times what a row holds at places u, any number of tiles; straight lines between its samples. `columns` is a
/// power of two. Buffers are as long as `count`.
void add_line(const float* row, int columns, const float* u, int count, float weight, float* out);

}  // namespace loom
