// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Outlines of regular forms, about the origin, in design pixels; y points down.
#pragma once

#include "core/catalogue/kinds/outline.h"
#include "core/catalogue/description.h"
#include "core/image/picture_reader.h"

namespace loom {

/// `corner`: radius of its corners, at most half of the shorter side.
Outline rectangle_form(double width, double height, double corner);
Outline ellipse_form(double width, double height);
/// A regular one that fills the width and height, a side at its foot; its corners are rounded by arcs about `corner` away from
/// them at most.
Outline polygon_form(double width, double height, int sides, double corner);
/// `inner`: share of the radius at which the inner corners lie.
Outline star_form(double width, double height, int points, double inner, double corner);

Outline transformed(Outline outline, const Affine& by);
/// First scaled, then turned against the clock by `degrees`, then moved.
Affine placing(double scale_x, double scale_y, double degrees, double x, double y);
/// `outer` after `inner`.
Affine combined(const Affine& outer, const Affine& inner);
/// Of nodes and handles, which hold the curves between them.
Extent extent_of(const Outline& outline);

}  // namespace loom
