// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/ramp_kernel.h"

#include <algorithm>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/ramp_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
void Read(const float* HWY_RESTRICT table, int steps, const float* HWY_RESTRICT places, int count, float* HWY_RESTRICT red,
          float* HWY_RESTRICT green, float* HWY_RESTRICT blue, float* HWY_RESTRICT grain) {
    // An entry is four values that are read together; a block of them is turned into rows of one channel each.
    constexpr int block = 64;
    float entries[4 * block];
    const auto last = static_cast<float>(steps);
    for (int start = 0; start < count; start += block) {
        const int here = std::min(block, count - start);
        for (int x = 0; x < here; ++x) {
            const float place = places[start + x];
            const float scaled = (place < 0 ? 0.0f : place > 1 ? 1.0f : place) * last;
            const int index = static_cast<int>(scaled);
            const float t = scaled - static_cast<float>(index), *entry = table + 4 * index;
            for (int c = 0; c < 4; ++c) entries[4 * x + c] = entry[c] + t * (entry[c + 4] - entry[c]);
        }
        for (int x = 0; x < here; ++x) {
            red[start + x] = entries[4 * x], green[start + x] = entries[4 * x + 1], blue[start + x] = entries[4 * x + 2];
            if (grain) grain[start + x] = entries[4 * x + 3];
        }
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Read);
void read_ramp(const float* table, int steps, const float* places, int count, float* red, float* green, float* blue,
               float* grain) {
    HWY_DYNAMIC_DISPATCH(Read)(table, steps, places, count, red, green, blue, grain);
}
}  // namespace loom
#endif
