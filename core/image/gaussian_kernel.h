// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The vectorised inner loop of the recursive Gaussian; the target is chosen when the program runs.
#pragma once

#include <cstddef>

namespace loom {

struct RecursiveGaussian {
    struct Pair {
        float real, imaginary;
    };
    Pair pole[2], residue[2], closing[2];
    int warm_up;  ///< samples before the start that the recursion is run over
};

/// How many lines a strip holds side by side.
int gaussian_lanes();

/// Filters gaussian_lanes() periodic lines of `count` samples at once; sample n of line k lies at n * lanes + k.
void gaussian_strip(const RecursiveGaussian& filter, const float* in, float* out, int count);

/// out[x] = weights[0] rows[radius][x] + the sum over k of weights[k] (rows[radius - k][x] + rows[radius + k][x]).
void symmetric_sum(const float* const* rows, const float* weights, int radius, int count, float* out);

/// out[x * out_stride + y] = in[y * in_stride + x].
void transpose(const float* in, std::size_t in_stride, int rows, int columns, float* out, std::size_t out_stride);

}  // namespace loom
