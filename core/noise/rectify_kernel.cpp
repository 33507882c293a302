// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/rectify_kernel.h"

#include <algorithm>
#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/noise/rectify_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

void Billows(const float* HWY_RESTRICT band, float weight, int count, float* HWY_RESTRICT out) {
    for (int x = 0; x < count; ++x) out[x] += weight * std::abs(band[x]);
}

void Ridges(const float* HWY_RESTRICT band, float weight, int count, float* HWY_RESTRICT ridge, float* HWY_RESTRICT out) {
    for (int x = 0; x < count; ++x) {
        const float signal = 1.0f - std::min(1.0f, 1.6f * std::abs(band[x]));
        const float sharp = signal * signal * ridge[x];
        ridge[x] = std::min(1.0f, 2.0f * sharp);
        out[x] += weight * sharp;
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Billows);
HWY_EXPORT(Ridges);

void add_billows(const float* band, float weight, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(Billows)(band, weight, count, out);
}
void add_ridges(const float* band, float weight, int count, float* ridge, float* out) {
    HWY_DYNAMIC_DISPATCH(Ridges)(band, weight, count, ridge, out);
}
}  // namespace loom
#endif
