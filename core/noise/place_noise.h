// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gradient noise of one size (Perlin 2002) read at any places: for coordinates that were bent or belong to an object.
#pragma once

#include <algorithm>
#include <cstdint>
#include <vector>

#include "core/base/hash.h"
#include "core/noise/lattice.h"

namespace loom {

/// How much is left of a noise whose cells are so many pixels wide: what is too fine to be shown fades away.
inline float share_shown(double pixels) { return static_cast<float>(std::clamp((pixels - 0.7) / 1.3, 0.0, 1.0)); }

class PlaceNoise {
public:
    /// Cells a unit of u and of v, rounded to whole numbers from 1, so that the noise repeats every unit. `pixels`: how many
    /// pixels a cell has on its narrower side (see share_shown). 0: as it is.
    PlaceNoise(double across, double down, std::uint64_t seed, double pixels = 0)
        : lattice_(Lattice::of(std::max(1, static_cast<int>(across + 0.5)), 0, 0, std::max(1, static_cast<int>(down + 0.5)))),
          seed_(seed),
          share_(pixels <= 0 ? 1.0f : share_shown(pixels)) {}

    /// Adds `weight` times the noise, of mean 0 and deviation 1, at (u, v). Buffers are longer than `count` by lattice_padding.
    void add(const float* u, const float* v, int count, float weight, float* out) const {
        if (share_ > 0)
            lattice_noise_at(lattice_, Basis::gradient, seed_, u, v, count,
                             weight * share_ / LatticeNoise::deviation(Basis::gradient), out);
    }

private:
    Lattice lattice_;
    std::uint64_t seed_;
    float share_;
};

/// Buffers for rows that noise is added to: all of one length, filled with 0.
class NoiseRows {
public:
    NoiseRows(int width, std::size_t count)
        : stride_(static_cast<std::size_t>(width) + lattice_padding), values_(stride_ * count, 0.0f) {}
    float* operator[](std::size_t k) { return values_.data() + k * stride_; }
    void clear(std::size_t k) { std::fill_n((*this)[k], stride_, 0.0f); }

private:
    std::size_t stride_;
    std::vector<float> values_;
};

}  // namespace loom
