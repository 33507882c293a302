// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a recipe says of its light, as the shading takes it, and the maps that are shaded.
#pragma once

#include <map>

#include "core/recipe/recipe.h"
#include "core/render/plan.h"
#include "core/structures/lit_material.h"

namespace loom {

LitLight light_of(const Lamp& lamp);
LitFinish finish_of(const Finish& finish);

/// What has to be rendered to light a recipe at any place, and the same laid together; `size` pixels. The colour is wanted as
/// light within shows it.
std::vector<Wanted> wanted_for_light();
LitMaps maps_for_light(const Recipe& recipe, Size size, const std::map<Wanted, Bundle>& rendered);

}  // namespace loom
