// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How octaves of billowed and ridged clouds are folded and summed. Private to core/noise.
#pragma once

namespace loom {

/// out += weight |band|
void add_billows(const float* band, float weight, int count, float* out);

/// Each octave's ridges grow only where the one before has ridges: `ridge` (1 at first) says where.
void add_ridges(const float* band, float weight, int count, float* ridge, float* out);

}  // namespace loom
