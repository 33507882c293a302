// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops of the anisotropic Kuwahara filter over a piece of a row, built once for every instruction set.
#pragma once

namespace loom {

constexpr int daub_sectors = 8, daub_tile = 128, daub_channels = 4;

struct DaubSettings {
    float radius, sharpness, follow;
    int channels;  ///< up to daub_channels
};

/// What is known of each pixel of a piece: its ellipse, and sums over its sectors.
struct DaubSums {
    float cosine[daub_tile], sine[daub_tile], along[daub_tile], across[daub_tile];
    float mean[daub_sectors][daub_channels][daub_tile], square[daub_sectors][daub_tile];
    float weight[daub_sectors];  ///< the same for all pixels
};

/// Ellipses along the edges that the structure tensor tells of; sums begin at 0.
void daub_begin(const DaubSettings& settings, const float* xx, const float* xy, const float* yy, int count, DaubSums& sums);
/// Where the place (x, y) of the unit disc lies for each pixel of a piece that begins at (left, row).
void daub_places(const DaubSums& sums, float x, float y, float left, float row, int count, float* px, float* py);
/// Adds what was read there to the sectors that `weight` (one a sector) is not 0 for.
void daub_add(const DaubSettings& settings, const float* const* values, const float* weight, int count, DaubSums& sums);
/// The mean of the sectors' means, calm ones counting most.
void daub_finish(const DaubSettings& settings, DaubSums& sums, int count, float* const* out);

}  // namespace loom
