// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Fractal sums of lattice noise (Perlin 2002; Musgrave's multifractals in Ebert et al. 2003), exactly periodic.
#pragma once

#include <cstdint>
#include <optional>
#include <vector>

#include "core/base/job.h"
#include "core/image/plane.h"
#include "core/noise/ladder.h"
#include "core/noise/lattice.h"

namespace loom {

enum class CloudForm { smooth, billowed, ridged, folded, single_band };

struct CloudSettings {
    Basis basis = Basis::gradient;
    CloudForm form = CloudForm::smooth;
    /// Cells per tile of the coarsest octave; rounded to what closes at the tile edge.
    double across = 4, down = 4;
    int octaves = 6;
    /// Share that each octave has of the one before, from 0; above 1 finer ones are stronger.
    double roughness = 0.5;
    /// How much finer each octave is than the one before, 1.2..4.
    double step = 2;
    /// Tiles that lines which stand upright move across on their way down one: whole ones, so that the tile closes.
    int slant = 0;
    /// Value noise from two lattices half a sector apart, as neither then shows its axes.
    bool twin_value = false;
    std::uint64_t seed = 0;
};

class CloudField {
public:
    /// With a `job`, large octaves are worked out once on coarser grids, on all threads, and enlarged from there: many
    /// times faster for whole pictures, and within a hundredth of the deviation of the exact sum (a third of an 8-bit step
    /// in the step clouds).
    CloudField(const CloudSettings& settings, Size size, const Job* job = nullptr);

    /// Writes a row with mean near 0 and standard deviation near 1; buffers hold padded_width() values.
    void row(int y, float* out) const;
    /// The same, read at places that lie `du`, `dv` tiles off each pixel; always the exact sum.
    void row(int y, float* out, const float* du, const float* dv) const;

    int padded_width() const;
    /// Cells per tile of the coarsest octave after rounding.
    double across() const { return across_; }
    double down() const { return down_; }

private:
    struct Octave {
        std::vector<LatticeNoise> parts;  ///< one lattice, or two of half the power each
        float weight;
        int level;                     ///< how often the picture may be halved before this octave's cells get too small
        std::optional<Ladder> coarse;  ///< the octave by itself, for forms that fold each

        Octave at_size(Size size) const;
        void add_row(int y, float factor, float* out, const float* du, const float* dv) const;
    };
    bool rectified() const { return form_ == CloudForm::billowed || form_ == CloudForm::ridged; }
    void build(const Job& job);
    void fold(float* out) const;
    void rectified_row(int y, float* out, const float* du, const float* dv) const;

    CloudForm form_;
    Size size_;
    float deviation_;
    float scale_ = 1;
    double across_ = 1, down_ = 1;
    std::vector<Octave> octaves_;
    std::optional<Ladder> coarse_;  ///< the octaves of level 1 and more
};

}  // namespace loom
