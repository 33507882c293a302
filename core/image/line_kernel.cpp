// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/line_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/line_kernel.cpp"
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

void UprightAdd(const float* HWY_RESTRICT row, double cosine, double sine, bool bell, int count, const UprightSums& sums) {
    double *HWY_RESTRICT plain = sums.plain, *HWY_RESTRICT turned = sums.turned, *HWY_RESTRICT side = sums.side;
    for (int i = 0; i < count; ++i) plain[i] += static_cast<double>(row[i]);
    if (bell)
        for (int i = 0; i < count; ++i)
            turned[i] += cosine * static_cast<double>(row[i]), side[i] += sine * static_cast<double>(row[i]);
}

void UprightBell(const float* HWY_RESTRICT leaving, const float* HWY_RESTRICT entering, double factor, double share,
                 const LineTurn& turn, int count, const UprightSums& sums, float* HWY_RESTRICT out) {
    double *HWY_RESTRICT plain = sums.plain, *HWY_RESTRICT turned = sums.turned, *HWY_RESTRICT side = sums.side;
    const LineTurn by = turn;
    for (int i = 0; i < count; ++i) {
        const double goes = static_cast<double>(leaving[i]), comes = static_cast<double>(entering[i]);
        out[i] = static_cast<float>(factor * (plain[i] + share * (turned[i] + turned[i])));
        plain[i] += comes - goes;
        const double c = turned[i] - by.end_cosine * goes, s = side[i] + by.end_sine * goes;
        turned[i] = by.cosine * c + by.sine * s + by.end_cosine * comes;
        side[i] = by.cosine * s - by.sine * c + by.end_sine * comes;
    }
}

void UprightEven(const float* HWY_RESTRICT leaving, const float* HWY_RESTRICT entering, const float* HWY_RESTRICT before,
                 const float* HWY_RESTRICT after, double factor, double share, int count, double* HWY_RESTRICT plain,
                 float* HWY_RESTRICT out) {
    for (int i = 0; i < count; ++i) {
        out[i] =
            static_cast<float>(factor * (plain[i] + share * (static_cast<double>(before[i]) + static_cast<double>(after[i]))));
        plain[i] += static_cast<double>(entering[i]) - static_cast<double>(leaving[i]);
    }
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
HWY_EXPORT(UprightAdd);
HWY_EXPORT(UprightBell);
HWY_EXPORT(UprightEven);
void upright_add(const float* row, double cosine, double sine, bool bell, int count, const UprightSums& sums) {
    HWY_DYNAMIC_DISPATCH(UprightAdd)(row, cosine, sine, bell, count, sums);
}
void upright_step(const float* leaving, const float* entering, const float* before, const float* after, double factor,
                  double share, const LineTurn* bell, int count, const UprightSums& sums, float* out) {
    if (bell)
        HWY_DYNAMIC_DISPATCH(UprightBell)(leaving, entering, factor, share, *bell, count, sums, out);
    else
        HWY_DYNAMIC_DISPATCH(UprightEven)(leaving, entering, before, after, factor, share, count, sums.plain, out);
}
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
