// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Where dirt settles and where a surface is rubbed, told by its height: one cause for marks in colour, roughness and relief.
#pragma once

#include "core/catalogue/context.h"
#include "core/colour/colour.h"

namespace loom {

/// How far each place lies below its surroundings, within `reach_px` (design px); below 0 where it lies above.
Plane depth_below(const Plane& height, double reach_px, const StepContext& context);
/// How far something rises over a place on the way that things come down from: the greatest rise within `reach_px`, the nearer
/// the more. `direction`: the way down in degrees, 0 right, 90 up.
Plane rise_above(const Plane& height, double direction, double reach_px, const StepContext& context);
/// The greater of both, each beside its own deviation.
Plane either(const Plane& a, const Plane& b, const Job& job);

/// A score as a mask: where the greatest ones over `share` (0..1) of the tile lie, rising over twice `softness` (0..1)
/// deviations. What only reaches the level, such as level ground, is left out.
Plane strongest(const Plane& score, double share, double softness, const Job& job);

/// What runs down from a mask: for `length_px`, in streaks.
Plane run_down(const Plane& mask, double direction, double length_px, const StepContext& context);

/// Breaks a mask by noise of `size_px`, by `amount` 0..1.
void broken(Plane& mask, double size_px, double amount, std::uint64_t salt, const StepContext& context);

/// The marks of a mask on what came in: its colour is mixed in by `strength`, and a height is moved by `raised` where it is
/// white.
struct Mark {
    Colour colour;
    double strength, raised;
    std::string_view plane;  ///< the name under which the mask is handed on
};
Bundle marked(const Bundle& in, const Plane& mask, const Mark& mark, const StepContext& context);

}  // namespace loom
