// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The shading of a run of pixels, built once for every instruction set.
#pragma once

namespace loom {

/// A run of pixels: arrays of `count` values each, at most lit_most.
constexpr int lit_most = 256;
struct LitRun {
    int count = 0;
    const float *normal_x, *normal_y, *normal_z;  ///< of the shape
    const float *along_x, *along_y, *along_z;
    const float* shade;
    // Of the material there.
    const float *red, *green, *blue, *rough, *metal, *open, *bump_x, *bump_y, *brush_c, *brush_s, *lamp_seen;
    // Linear light.
    float *out_red, *out_green, *out_blue;
};

/// A soft light around a direction: amplitude * exp(sharpness * (cosine - 1)), a spherical Gaussian.
struct LitLobe {
    float x, y, z, sharpness;
    float red, green, blue;
};
constexpr int most_lobes = 8;
/// A lamp far away.
struct LitLamp {
    float x, y, z;           ///< towards it
    float red, green, blue;  ///< how bright it is
    float wide;              ///< what its width adds to the roughness of what mirrors it
};
struct LitRoom {
    LitLamp key, second;
    float penumbra;  ///< tangent of the angle within which the key lamp goes down behind a height
    float ambient[3];
    int lobes;
    LitLobe lobe[most_lobes];
    float exposure;
    // What lies on the surface, see LitFinish; shares.
    float sheen, coat, coat_alpha;
    float wrap;  ///< how far light comes round what turns away from it
};

/// Texels of lit_texel floats each, row after row, and wrapping.
constexpr int lit_texel = 24;
struct LitTexels {
    const float* first;
    int width, height;
};
/// Between the four texels around each place, in tiles.
void lit_read(const LitTexels& texels, const float* u, const float* v, int count, float* out);

void lit_shade(const LitRun& run, const LitRoom& room);

}  // namespace loom
