// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops of grey morphology; the instruction set is chosen when the program runs.
#pragma once

namespace loom {

/// row[x] = the larger of row[x] and row[x + shift], for x from 0 to count - 1 upwards.
void row_most(float* row, int shift, int count);

/// out[x] = the largest of rows[k][x], and of out[x] itself if `begun`.
void rows_most(const float* const* rows, int row_count, int count, bool begun, float* out);

}  // namespace loom
