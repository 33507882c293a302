// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/box_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/box_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

void Add(double* HWY_RESTRICT sums, const float* HWY_RESTRICT row, int count) {
    for (int x = 0; x < count; ++x) sums[x] += static_cast<double>(row[x]);
}

void Move(double* HWY_RESTRICT sums, const float* HWY_RESTRICT entering, const float* HWY_RESTRICT leaving, int count) {
    for (int x = 0; x < count; ++x) sums[x] += static_cast<double>(entering[x]) - static_cast<double>(leaving[x]);
}

void Columns(const double* HWY_RESTRICT sums, const float* HWY_RESTRICT before, const float* HWY_RESTRICT after, double part,
             int count, double* HWY_RESTRICT columns) {
    for (int x = 0; x < count; ++x)
        columns[x] = sums[x] + part * (static_cast<double>(before[x]) + static_cast<double>(after[x]));
}

/// Every sum waits for the one before, so that several pieces of the row go side by side.
void Across(const double* HWY_RESTRICT columns, int count, int whole, double part, double scale, float* HWY_RESTRICT out) {
    constexpr int pieces = 4;
    const int length = count / pieces, reach = whole + 1;
    double sum[pieces] = {};
    for (int n = 0; n < pieces; ++n)
        for (int k = -whole; k <= whole; ++k) sum[n] += columns[n * length + k];
    for (int x = 0; x < length; ++x)
        for (int n = 0; n < pieces; ++n) {
            const double* at = columns + n * length + x;
            out[n * length + x] = static_cast<float>(scale * (sum[n] + part * (at[-reach] + at[reach])));
            sum[n] += at[reach] - at[-whole];
        }
    // What the division left over goes on from the last piece.
    for (int x = pieces * length; x < count; ++x) {
        const double* at = columns + x;
        out[x] = static_cast<float>(scale * (sum[pieces - 1] + part * (at[-reach] + at[reach])));
        sum[pieces - 1] += at[reach] - at[-whole];
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Add);
HWY_EXPORT(Move);
HWY_EXPORT(Columns);
HWY_EXPORT(Across);
void box_add(double* sums, const float* row, int count) { HWY_DYNAMIC_DISPATCH(Add)(sums, row, count); }
void box_move(double* sums, const float* entering, const float* leaving, int count) {
    HWY_DYNAMIC_DISPATCH(Move)(sums, entering, leaving, count);
}
void box_columns(const double* sums, const float* before, const float* after, double part, int count, double* columns) {
    HWY_DYNAMIC_DISPATCH(Columns)(sums, before, after, part, count, columns);
}
void box_across(const double* columns, int count, int whole, double part, double scale, float* out) {
    HWY_DYNAMIC_DISPATCH(Across)(columns, count, whole, part, scale, out);
}
}  // namespace loom
#endif
