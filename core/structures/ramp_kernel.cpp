// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/ramp_kernel.h"

#include <algorithm>
#include <cstdint>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/ramp_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;
void Read(const float* HWY_RESTRICT table, int steps, const float* HWY_RESTRICT places, int count, float* HWY_RESTRICT red,
          float* HWY_RESTRICT green, float* HWY_RESTRICT blue, float* HWY_RESTRICT grain) {
    // An entry is four values that are read together, by vectors of four where there are any; blocks of them are turned into
    // rows of one channel each.
    const hn::CappedTag<float, 4> four;
    constexpr int block = 64;
    HWY_ALIGN float entries[4 * block];
    HWY_ALIGN float within[block];
    HWY_ALIGN std::int32_t index[block];
    const auto last = static_cast<float>(steps);
    for (int start = 0; start < count; start += block) {
        const int here = std::min(block, count - start);
        for (int x = 0; x < here; ++x) {
            const float place = places[start + x];
            const float scaled = (place < 0 ? 0.0f : place > 1 ? 1.0f : place) * last;
            index[x] = static_cast<std::int32_t>(scaled);
            within[x] = scaled - static_cast<float>(index[x]);
        }
        if (hn::Lanes(four) < 4) {
            for (int x = 0; x < here; ++x)
                for (int c = 0; c < 4; ++c) {
                    const float* entry = table + 4 * index[x] + c;
                    entries[4 * x + c] = entry[0] + within[x] * (entry[4] - entry[0]);
                }
        } else {
            for (int x = 0; x < here; ++x) {
                const auto a = hn::LoadU(four, table + 4 * index[x]), b = hn::LoadU(four, table + 4 * index[x] + 4);
                hn::Store(hn::MulAdd(hn::Set(four, within[x]), hn::Sub(b, a), a), four, entries + 4 * x);
            }
        }
        int x = 0;
        if (hn::Lanes(four) == 4)
            for (; x + 4 <= here; x += 4) {
                hn::Vec<decltype(four)> r, g, b, a;
                hn::LoadInterleaved4(four, entries + 4 * x, r, g, b, a);
                hn::StoreU(r, four, red + start + x), hn::StoreU(g, four, green + start + x),
                    hn::StoreU(b, four, blue + start + x);
                if (grain) hn::StoreU(a, four, grain + start + x);
            }
        for (; x < here; ++x) {
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
