// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Work on single pixels: runs of per-pixel steps fused into one pass through memory, the mix that a step's
// amount makes, and the cut by a mask. Private to core/render.
#pragma once

#include <vector>

#include "core/catalogue/description.h"
#include "core/recipe/recipe.h"

namespace loom {

struct PixelRunStep {
    const StepDescription* description = nullptr;
    Values values;
    std::uint64_t seed = 0;
    float amount = 1;
    int where_input = -1;  ///< index into the inputs, or -1
};

/// inputs[0] is the picture; others are local masks.
Bundle run_pixels(const std::vector<PixelRunStep>& steps, Size tile, const std::vector<const Bundle*>& inputs, const Job& job,
                  Prepared* prepared = nullptr);

/// before + (after - before) * amount * where; `where` may be null. Named planes are taken from `after`, else `before`.
Bundle mixed(const Bundle& before, const Bundle& after, float amount, const PlaneRef& where, const Job& job);

/// 1 where `tone` lies within the gate, fading to 0 over its softness; times `also` (clamped to 0..1), which may be null.
Plane gated(const Plane& tone, const ToneGate& gate, const PlaneRef& also, const Job& job);
Plane product(const Plane& a, const Plane& b, const Job& job);

/// The picture where `mask` is white; grey values between 0 and 1 cut in part.
Bundle cut(const Bundle& picture, const Plane& mask, const Job& job);

}  // namespace loom
