// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A lit material on a shape (core/structures/lit_material.h shades it), fast enough to follow a hand.
#pragma once

#include <cstdint>
#include <span>
#include <vector>

#include "core/maps/lit_shape.h"
#include "core/structures/lit_material.h"

namespace loom {

/// The maps of a recipe at one size, laid out for reading at any place.
class LitMaterial {
public:
    /// All maps whole.
    LitMaterial(const LitMaps& maps, const Job& job);
    Size size() const { return size_; }
    const std::vector<LitTexel>& texels() const { return texels_; }

private:
    Size size_;
    std::vector<LitTexel> texels_;
};

/// What lies on a part of a shape.
struct LitSurface {
    const LitMaterial* material = nullptr;
    LitFinish finish;
    double across = 1, down = 1;  ///< tiles to one of u and of v
};

/// 0xffRRGGBB a pixel, over a plain ground of the given grey (linear light); rows from the top. `surfaces` are those that the
/// geometry names, none of them without material; `lamp` says how much of the key lamp reaches a pixel, empty: all of it. A flat
/// tile at the material's own size has the bytes of the lit map.
std::vector<std::uint32_t> lit_picture(std::span<const LitSurface> surfaces, const LitGeometry& geometry,
                                       const std::vector<float>& lamp, const LitLight& light, float ground, const Job& job);
/// One material on all of it.
std::vector<std::uint32_t> lit_picture(const LitMaterial& material, const LitGeometry& geometry, const LitLight& light,
                                       float ground, const Job& job, const LitFinish& finish = {});

}  // namespace loom
