// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A material under a lamp: microfacet shading (Cook and Torrance 1982 with GGX, Walter et al. 2007; correlated masking, Heitz
// 2014) by a key lamp, a broad second source and soft surroundings of our own, with shadows of the height (horizons, Max 1988)
// and its occlusion; sheen, a coat and light that spreads within. The lit map and the lit view are shaded by the same code.
#pragma once

#include <array>
#include <memory>

#include "core/image/bundle.h"
#include "core/image/footprint.h"
#include "core/structures/lit_room.h"

namespace loom {

/// The maps that a light falls on.
struct LitMaps {
    Bundle colour;  ///< sRGB, premultiplied
    PlaneRef height, roughness, metalness, occlusion;
    Bundle normal;     ///< y up
    Bundle brushing;   ///< direction's x and y (up) packed to 0..1, and strength; empty: none
    double deep = 32;  ///< pixels from black to white of the height
    double scale = 1;  ///< pixels a design pixel
};

/// One texel.
struct LitTexel {
    static constexpr int horizons = 8;  ///< directions, from right counterclockwise
    float red, green, blue;             ///< linear light, straight
    float rough, metal, open;           ///< open: share of the sky
    float normal_x, normal_y;           ///< in the surface
    float brush_c, brush_s;             ///< cosine and sine of twice the direction of brushing, times its strength
    float cover, spare[5];
    std::array<float, horizons> horizon;  ///< tangents of the height at which the sky begins in each direction
};
static_assert(sizeof(LitTexel) == lit_texel * sizeof(float));

/// Pixels that horizons look to each side.
int horizon_reach(double scale);
/// Texels of rows [first, last), row after row.
void find_texels(const LitMaps& maps, int first, int last, LitTexel* texels);

/// Where pixels lie on a shape: one value each, of directions in the room.
struct LitPlaces {
    const float *normal_x, *normal_y, *normal_z, *along_x, *along_y, *along_z, *shade;
    const float* lamp = nullptr;  ///< how much of the key lamp other things let through; null: all
};

/// Shades up to lit_most texels; for one thread. Results are straight sRGB, 0..1.
class LitShader {
public:
    LitShader();
    LitShader(LitShader&&) noexcept;
    ~LitShader();
    /// `seen`: how much of the key lamp; null: by the texels' horizons.
    void shade(const LitTexel* texels, const LitPlaces& places, int count, const LitRoom& room, const float* seen = nullptr);
    const float* red() const;
    const float* green() const;
    const float* blue() const;

private:
    struct Arrays;
    std::unique_ptr<Arrays> arrays_;
};

/// How much of the key lamp is seen over the heights around, on a flat tile; `height` holds as many rows more as horizons look.
Plane lamp_seen(const Plane& height, double deep, double scale, const LitLight& light, Rows rows, const Job& job);

/// The lit map: a flat tile whose lamp and room are infinitely far, so that it wraps; sRGB, premultiplied, with the colour's
/// coverage. Of `maps` all but the height, of which `seen` tells.
Bundle lit_map(const LitMaps& maps, const Plane& seen, const LitLight& light, const LitFinish& finish, Rows rows, const Job& job);

/// Design pixels (deviations) that light goes beside where it went in.
constexpr double spread_px[] = {3.5, 12};
Footprint spread_footprint(const Scales& scales);
/// The colour as light that spreads within shows it; `spread` as LitFinish. `colour` holds as many rows more as the footprint
/// says.
Bundle spread_colour(const Bundle& colour, double spread, const Scales& scales, Rows rows, const Job& job);

}  // namespace loom
