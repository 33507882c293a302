// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/polar_kernel.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/polar_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

void PolarRow(float dx, float dy, int count, float* HWY_RESTRICT radius, float* HWY_RESTRICT turn) {
    const float down = dy < 0 ? -dy : dy;
    for (int k = 0; k < count; ++k) {
        const float x = dx + static_cast<float>(k), across = x < 0 ? -x : x;
        radius[k] = std::sqrt(x * x + dy * dy);
        const float less = across < down ? across : down, more = across < down ? down : across;
        const float t = less / (more > 0 ? more : 1.0f), t2 = t * t;
        // The arc tangent after Abramowitz & Stegun 4.4.49, in turns.
        float a = 0.0028662257f;
        a = a * t2 - 0.0161657367f, a = a * t2 + 0.0429096138f, a = a * t2 - 0.0752896400f, a = a * t2 + 0.1065626393f;
        a = a * t2 - 0.1420889944f, a = a * t2 + 0.1999355085f, a = a * t2 - 0.3333314528f, a = a * t2 + 1.0f;
        a *= t * 0.15915494309f;
        a = across < down ? 0.25f - a : a;
        a = x < 0 ? 0.5f - a : a;
        turn[k] = dy < 0 ? 1.0f - a : a;
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(PolarRow);
void polar_row(float dx, float dy, int count, float* radius, float* turn) {
    HWY_DYNAMIC_DISPATCH(PolarRow)(dx, dy, count, radius, turn);
}
}  // namespace loom
#endif
