// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cells round points: their distances, borders, tones or tops.
#pragma once

#include <string>

#include "core/catalogue/context.h"
#include "core/noise/cells.h"

namespace loom {

struct CellPicture {
    enum class Show { centre, second, border, tone, dome };
    double size = 72;
    double stretch_x = 100, stretch_y = 100;
    double jitter = 100;
    int relaxation = 2;
    std::string density;
    double grading = 0, grading_direction = 0;
    CellMetric metric = CellMetric::euclid;
    Show show = Show::dome;
    double gap = 0, softness = 2;
    double rounding = 40;
    double merging = 75;
    std::string merging_from;
    double crease_spread = 50, crease_fade = 35, floor = 35;
    double second = 20;
    double gap_share = 0;
    double wander = 8, wander_size = 110;
    double spread = 40;
    double tilt = 30;
};

/// Cells without wander, second net and unlike creases.
CellPicture plain_cells();
/// How many lie on a tile, and how far apart.
CellSettings laid_out(const CellPicture& settings, Size tile);
Bundle cell_picture(const CellPicture& settings, const StepContext& context);

}  // namespace loom
