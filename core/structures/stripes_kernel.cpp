// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/stripes_kernel.h"

#include <cmath>

#include "core/base/quick_math.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/stripes_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

inline float wrapped(float phase) { return phase >= 1 ? phase - 1 : phase; }

template <StripeForm form>
void Row(const StripeLine& line, int count, float* HWY_RESTRICT out) {
    const float* HWY_RESTRICT first = line.first;
    const float* HWY_RESTRICT second = line.second;
    const float per_soft = 1 / line.soft, back = least(0.5f, line.soft / line.period);
    const float radius = std::sqrt(line.duty * line.period * line.second_period * 0.318309886f);
    // 1 inside, 0 outside, for a distance in design pixels from the edge, positive inside.
    auto edge = [&](float inside) { return unit_cut(0.5f + inside * per_soft); };
    // Distance into the bar of a wave, in waves; it lies round phase 1/2.
    auto into_bar = [&](float phase) { return line.duty * 0.5f - std::abs(phase - 0.5f); };
    for (int x = 0; x < count; ++x) {
        const float t = wrapped(first[x] + line.first_row);
        if (form == StripeForm::sine) out[x] = 0.5f + 0.5f * quick_cosine(t - 0.5f);
        if (form == StripeForm::triangle) out[x] = 1 - std::abs(2 * t - 1);
        // The way back takes as long as the softness says.
        if (form == StripeForm::saw) out[x] = t < 1 - back ? t / (1 - back) : (1 - t) / back;
        if (form == StripeForm::bar) out[x] = edge(into_bar(t) * line.period);
        if (form == StripeForm::check) {
            const float a = edge(into_bar(t) * line.period);
            const float b = edge(into_bar(wrapped(second[x] + line.second_row)) * line.second_period);
            out[x] = a + b - 2 * a * b;
        }
        if (form == StripeForm::dots) {
            const float dx = (t - 0.5f) * line.period, dy = (wrapped(second[x] + line.second_row) - 0.5f) * line.second_period;
            // The duty is the share of the area that dots take, while they do not touch.
            out[x] = edge(radius - std::sqrt(dx * dx + dy * dy));
        }
    }
}

void Any(const StripeLine& line, int count, float* out) {
    switch (line.form) {
        case StripeForm::sine: return Row<StripeForm::sine>(line, count, out);
        case StripeForm::triangle: return Row<StripeForm::triangle>(line, count, out);
        case StripeForm::saw: return Row<StripeForm::saw>(line, count, out);
        case StripeForm::bar: return Row<StripeForm::bar>(line, count, out);
        case StripeForm::check: return Row<StripeForm::check>(line, count, out);
        case StripeForm::dots: return Row<StripeForm::dots>(line, count, out);
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Any);
void stripe_row(const StripeLine& line, int count, float* out) { HWY_DYNAMIC_DISPATCH(Any)(line, count, out); }
}  // namespace loom
#endif
