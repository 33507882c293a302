// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The loops of running sums along lines, built once for every instruction set. All arrays hold `count` entries.
#pragma once

namespace loom {

/// line[i] = row[i] + t * (row[i + 1] - row[i]).
void line_read(const float* row, double t, int count, double* line);
/// sums[i] += entering[i] - leaving[i].
void line_move(double* sums, const double* entering, const double* leaving, int count);
/// The sums `along` and `side` of a window of 2 reach + 1 samples times the cosine and sine of `turn` a step, moved one step on.
struct LineTurn {
    double cosine, sine;          ///< of one step
    double end_cosine, end_sine;  ///< of `reach` steps
};
void line_turn(double* along, double* side, const double* entering, const double* leaving, const LineTurn& turn, int count);
/// row[i] += factor * (sums[i] + share * (more[i] + others[i])).
void line_add(float* row, double factor, const double* sums, double share, const double* more, const double* others, int count);

/// The sums of upright lines: one for each column, plain and turned by the bell's angle.
struct UprightSums {
    double *plain, *turned, *side;
};

/// Adds a row to the sums of a window that begins, with the cosine and the sine of its angle.
void upright_add(const float* row, double cosine, double sine, bool bell, int count, const UprightSums& sums);

/// Writes the mean of the window to `out` and moves it on by one row. `factor` and `share` are as in line_add; `before` and
/// `after` are the rows that count by that share, null for a bell.
void upright_step(const float* leaving, const float* entering, const float* before, const float* after, double factor,
                  double share, const LineTurn* bell, int count, const UprightSums& sums, float* out);

}  // namespace loom
