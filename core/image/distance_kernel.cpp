// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/distance_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/distance_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void Envelope(const float* HWY_RESTRICT squares, int reach, int count, float* HWY_RESTRICT out) {
    const hn::ScalableTag<float> f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    for (int x = 0; x < count; x += lanes) {
        auto least = hn::LoadU(f, squares + x);
        for (int k = 1; k <= reach; ++k) {
            const auto far = hn::Set(f, static_cast<float>(k) * static_cast<float>(k));
            const auto near = hn::Min(hn::LoadU(f, squares + x - k), hn::LoadU(f, squares + x + k));
            least = hn::Min(least, hn::Add(near, far));
        }
        hn::StoreU(least, f, out + x);
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Envelope);
void lower_envelope(const float* squares, int reach, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(Envelope)(squares, reach, count, out);
}
}  // namespace loom
#endif
