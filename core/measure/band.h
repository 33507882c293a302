// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What closing a seam leaves of a ramp: no line, but a band along the edge in which all of the ramp's rise comes back.
#pragma once

#include "core/base/job.h"
#include "core/measure/lab_planes.h"
#include "core/measure/measure.h"

namespace loom {

/// Finds Seam::band and Seam::band_width in both directions, of the picture brought to at most 256 pixels. Strips of a
/// thirty-second, a sixteenth and an eighth of the tile are compared with their neighbours; those that meet within a quarter of
/// the tile from the edge are near it.
void find_bands(const LabPlanes& lab, Seam& across, Seam& down, const Job& job);

}  // namespace loom
