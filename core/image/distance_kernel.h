// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The inner loop of the distance: the lower envelope over a window, for many pixels at once.
#pragma once

namespace loom {

/// out[i] = min over |k| <= reach of (k * k + squares[i + k]); `squares` may be read from -reach to count + reach + 15, `out`
/// written up to the next 16th.
void lower_envelope(const float* squares, int reach, int count, float* out);

}  // namespace loom
