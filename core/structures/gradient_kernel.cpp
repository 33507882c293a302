// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/gradient_kernel.h"

#include <cmath>

#include "core/base/quick_math.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/gradient_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

/// Turns from 0 to 1 of a direction, within 1e-6; 0 where there is none.
inline float turn_of(float x, float y) {
    const float ax = x < 0 ? -x : x, ay = y < 0 ? -y : y;
    const float t = least(ax, ay) / most(most(ax, ay), 1e-30f), s = t * t;
    // Minimax polynomial of the arc tangent over 0..1.
    float a =
        t * (0.99997726f + s * (-0.33262347f + s * (0.19354346f + s * (-0.11643287f + s * (0.05265332f - s * 0.01172120f)))));
    a = ay > ax ? 1.57079633f - a : a;
    a = x < 0 ? 3.14159265f - a : a;
    const float turn = a * 0.159154943f;
    return y < 0 ? 1 - turn : turn;
}

template <GradientForm form>
void Places(const GradientLine& line, int count, float* HWY_RESTRICT places) {
    const float per_length = line.turns / line.length, y = line.down * line.height;
    for (int k = 0; k < count; ++k) {
        float u = line.first + static_cast<float>(k) * line.step;
        if (form != GradientForm::linear && line.copies) u -= quick_floor(u + 0.5f);
        const float x = u * line.width;
        const float along = x * line.dx + y * line.dy, across = y * line.dx - x * line.dy;
        float place = 0;
        if (form == GradientForm::linear) place = along * per_length;
        if (form == GradientForm::reflected) place = (along < 0 ? -along : along) * per_length;
        if (form == GradientForm::radial) place = std::sqrt(x * x + y * y) * per_length;
        if (form == GradientForm::square) place = most(along < 0 ? -along : along, across < 0 ? -across : across) * per_length;
        if (form == GradientForm::angular) place = turn_of(along, across) * line.turns;
        places[k] = place;
    }
    if (line.repeat == GradientRepeat::mirror) {
        for (int k = 0; k < count; ++k) {
            const float phase = places[k] - 2 * quick_floor(places[k] * 0.5f);
            places[k] = phase <= 1 ? phase : 2 - phase;
        }
    } else if (line.repeat == GradientRepeat::loop || form == GradientForm::angular) {
        for (int k = 0; k < count; ++k) places[k] -= quick_floor(places[k]);
    }
}

void Any(const GradientLine& line, int count, float* places) {
    switch (line.form) {
        case GradientForm::linear: return Places<GradientForm::linear>(line, count, places);
        case GradientForm::reflected: return Places<GradientForm::reflected>(line, count, places);
        case GradientForm::radial: return Places<GradientForm::radial>(line, count, places);
        case GradientForm::angular: return Places<GradientForm::angular>(line, count, places);
        case GradientForm::square: return Places<GradientForm::square>(line, count, places);
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Any);
void gradient_places(const GradientLine& line, int count, float* places) { HWY_DYNAMIC_DISPATCH(Any)(line, count, places); }
}  // namespace loom
#endif
