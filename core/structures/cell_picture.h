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
    double merging = 45;
    double spread = 40;
    double tilt = 25;
};

/// How many lie on a tile, and how far apart.
CellSettings laid_out(const CellPicture& settings, Size tile);
Bundle cell_picture(const CellPicture& settings, const StepContext& context);

}  // namespace loom
