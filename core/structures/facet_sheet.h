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
    std::string clumps;  ///< parameter that names the strand by which finer facets gather
    int levels = 4;
    double amplitude = 45;  ///< %: height of each level beside the one before
    double curvature = 25;  ///< %: how far faces bulge
    bool leans = true;      ///< hands on the slopes of its facets, so that light sees each as a plane
    bool opaque = true;     ///< finer facets lie on coarse ones instead of being added to them
    double bend = 10;
    double sharpness = 75, sharpness_spread = 60;
    double slope_limit = 60;
};

/// Whether its finest facets are so small at a size that it is made at twice that: those that lie on others hide what is coarser.
bool facets_finer(const FacetSheet& settings, double scale_x, double scale_y, Size tile);
/// Sheets that are added up, of flat faces.
FacetSheet plain_facets();
Bundle facet_sheet(const FacetSheet& settings, const StepContext& context);

}  // namespace loom
