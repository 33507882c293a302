// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/soften/line_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/soften/line_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

void Read(const float* HWY_RESTRICT row, double t, int count, double* HWY_RESTRICT line) {
    for (int i = 0; i < count; ++i) {
        const auto here = static_cast<double>(row[i]), next = static_cast<double>(row[i + 1]);
        line[i] = here + t * (next - here);
    }
}

void Move(double* HWY_RESTRICT sums, const double* HWY_RESTRICT entering, const double* HWY_RESTRICT leaving, int count) {
    for (int i = 0; i < count; ++i) sums[i] += entering[i] - leaving[i];
}

void Turn(double* HWY_RESTRICT along, double* HWY_RESTRICT side, const double* HWY_RESTRICT entering,
          const double* HWY_RESTRICT leaving, const LineTurn& turn, int count) {
    const LineTurn by = turn;
    for (int i = 0; i < count; ++i) {
        const double c = along[i] - by.end_cosine * leaving[i], s = side[i] + by.end_sine * leaving[i];
        along[i] = by.cosine * c + by.sine * s + by.end_cosine * entering[i];
        side[i] = by.cosine * s - by.sine * c + by.end_sine * entering[i];
    }
}

void AddSums(float* HWY_RESTRICT row, double factor, const double* HWY_RESTRICT sums, double share,
             const double* HWY_RESTRICT more, const double* HWY_RESTRICT others, int count) {
    for (int i = 0; i < count; ++i) row[i] += static_cast<float>(factor * (sums[i] + share * (more[i] + others[i])));
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Read);
HWY_EXPORT(Move);
HWY_EXPORT(Turn);
HWY_EXPORT(AddSums);
void line_read(const float* row, double t, int count, double* line) { HWY_DYNAMIC_DISPATCH(Read)(row, t, count, line); }
void line_move(double* sums, const double* entering, const double* leaving, int count) {
    HWY_DYNAMIC_DISPATCH(Move)(sums, entering, leaving, count);
}
void line_turn(double* along, double* side, const double* entering, const double* leaving, const LineTurn& turn, int count) {
    HWY_DYNAMIC_DISPATCH(Turn)(along, side, entering, leaving, turn, count);
}
void line_add(float* row, double factor, const double* sums, double share, const double* more, const double* others, int count) {
    HWY_DYNAMIC_DISPATCH(AddSums)(row, factor, sums, share, more, others, count);
}
}  // namespace loom
#endif
