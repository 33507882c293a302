// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Light that reliefs have baked into the colour, taken out of it into the height map, and put back. A picture of the surface
// wants the one; a map for a scene, where other lamps shine, the other.
#pragma once

#include "core/recipe/recipe.h"

namespace loom {

/// Whether some relief bakes its light in, or hands its height on instead.
bool has_light_in(const Recipe& recipe);
bool has_light_out(const Recipe& recipe);

/// Every relief that is on hands on what it lit as height, those of one strand each as deep as it was; strands with them feed
/// the height map where they did not yet. The map reaches as deep as it has to, and what fed it keeps its depth.
Recipe light_taken_out(Recipe recipe);
/// The way back; the map's reach stays.
Recipe light_put_back(Recipe recipe);

}  // namespace loom
