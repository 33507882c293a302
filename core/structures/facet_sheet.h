// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A crumpled sheet: planes that meet in creases.
#pragma once

#include <string>

#include "core/catalogue/context.h"

namespace loom {

struct FacetSheet {
    int count = 120;
    double clumping = 35;
    int levels = 4;
    double bend = 10;
    double sharpness = 75, sharpness_spread = 60;
    double slope_limit = 60;
};

Bundle facet_sheet(const FacetSheet& settings, const StepContext& context);

}  // namespace loom
