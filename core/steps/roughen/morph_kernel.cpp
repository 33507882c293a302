// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/roughen/morph_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/roughen/morph_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;
using F = hn::ScalableTag<float>;
using V = hn::Vec<F>;

void RowMost(float* row, int shift, int count) {
    const F f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    int x = 0;
    // Both are read before anything is written; what is written is not read again.
    for (; x + lanes <= count; x += lanes) hn::StoreU(hn::Max(hn::LoadU(f, row + x), hn::LoadU(f, row + x + shift)), f, row + x);
    for (; x < count; ++x) row[x] = row[x] > row[x + shift] ? row[x] : row[x + shift];
}

void RowsMost(const float* const* rows, int row_count, int count, bool begun, float* HWY_RESTRICT out) {
    const F f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    int x = 0;
    for (; x + 4 * lanes <= count; x += 4 * lanes) {
        V most[4];
        const float* start = begun ? out : rows[0];
        for (int n = 0; n < 4; ++n) most[n] = hn::LoadU(f, start + x + n * lanes);
        for (int k = begun ? 0 : 1; k < row_count; ++k)
            for (int n = 0; n < 4; ++n) most[n] = hn::Max(most[n], hn::LoadU(f, rows[k] + x + n * lanes));
        for (int n = 0; n < 4; ++n) hn::StoreU(most[n], f, out + x + n * lanes);
    }
    for (; x < count; ++x) {
        float most = begun ? out[x] : rows[0][x];
        for (int k = 0; k < row_count; ++k) most = rows[k][x] > most ? rows[k][x] : most;
        out[x] = most;
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(RowMost);
HWY_EXPORT(RowsMost);
void row_most(float* row, int shift, int count) { HWY_DYNAMIC_DISPATCH(RowMost)(row, shift, count); }
void rows_most(const float* const* rows, int row_count, int count, bool begun, float* out) {
    HWY_DYNAMIC_DISPATCH(RowsMost)(rows, row_count, count, begun, out);
}
}  // namespace loom
#endif
