// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The disc of a knot: uneven rings of its own, a dark rim, a halo, a few short checks, and a dark core that has cracked.
#pragma once

#include "core/structures/timber.h"

namespace loom {

struct KnotLook {
    double strength = 1;  ///< of all that differs in tone
    double core = 0;      ///< 0..1: how dark the core is, and how far it has cracked
};

/// Rows of the picture that knots change; what is null is left out. `within` is how far a place lies in a knot, 0..1.
struct KnotRows {
    float *tone, *height, *within;
};

/// The part of `knot` in the row at height v, over the columns at `u`.
void knot_row(const Knot& knot, const KnotLook& look, const float* u, int width, float v, const KnotRows& rows);

}  // namespace loom
