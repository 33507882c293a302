// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Reading a ramp's table at many places. Private to core/steps.
#pragma once

namespace loom {

/// `table` holds steps + 2 entries of red, green, blue and grain; places are clamped to 0..1. `grain` may be null.
void read_ramp(const float* table, int steps, const float* places, int count, float* red, float* green, float* blue,
               float* grain);

}  // namespace loom
