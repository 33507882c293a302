// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Lines that follow the edge of a form at some distance: plain, dashed, or with a motif that turns with them.
#pragma once

#include "core/catalogue/context.h"

namespace loom {

struct EdgeLine {
    double at = 0;  ///< design px inside of the edge; below 0 outside
    double width = 4;
    double dash = 0, gap = 0;  ///< design px; drawn out a little so that whole ones close. No gap: one line
    double start = 0;          ///< share of dash and gap together
    bool round_ends = false;
    double move_x = 0, move_y = 0;  ///< design px by which all of it is moved
};

/// What it covers. `distance`: design px from the edge, inside positive (edge_distance), at least as far as the line reaches.
Plane edge_line(const EdgeLine& line, const Plane& distance, const StepContext& context);

/// Copies of a picture of the whole tile, each as long as a dash and as wide as the line, its upper side outward.
Bundle edge_motif(const EdgeLine& line, const Plane& distance, const Bundle& motif, const StepContext& context);

}  // namespace loom
