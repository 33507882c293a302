// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops of running box sums, built once for every instruction set.
#pragma once

namespace loom {

/// sums[x] += row[x].
void box_add(double* sums, const float* row, int count);
/// sums[x] += entering[x] - leaving[x].
void box_move(double* sums, const float* entering, const float* leaving, int count);
/// columns[x] = sums[x] + part * (before[x] + after[x]).
void box_columns(const double* sums, const float* before, const float* after, double part, int count, double* columns);
/// Means across; `columns` has whole + 1 entries more on both sides.
void box_across(const double* columns, int count, int whole, double part, double scale, float* out);

}  // namespace loom
