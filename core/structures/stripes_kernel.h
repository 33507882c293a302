// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The profiles of stripes and what crossing ones make, for a row of phases from 0 to 1. Private to core/steps/make.
#pragma once

namespace loom {

enum class StripeForm { sine, triangle, saw, bar, check, dots };

struct StripeLine {
    StripeForm form;
    const float *first, *second;  ///< phases of the columns; `second` of waves that cross them
    float first_row, second_row;  ///< phases that the row adds
    float period, second_period;  ///< design pixels
    float soft;                   ///< design pixels over which edges fade
    float duty;                   ///< share of light, 0..1
};

void stripe_row(const StripeLine& line, int count, float* out);

}  // namespace loom
