// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <span>

#include "core/catalogue/context.h"

namespace loom {

/// Share of open sky over each place, 1 where nothing is in the way: from the height, less its own blurs at these radii (design
/// px). `depth_px`: design px from height 0 to 1; `amount`: 1 as it is, more darkens. `height` is whole.
Plane open_sky(const Plane& height, double depth_px, double amount, std::span<const double> radii_px, const StepContext& context);

}  // namespace loom
