// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/stream_kernel.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/stream_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void Turn(const float* HWY_RESTRICT cosine, const float* HWY_RESTRICT sine, int count, float* HWY_RESTRICT dx,
          float* HWY_RESTRICT dy) {
    for (int k = 0; k < count; ++k) {
        const float length = std::sqrt(cosine[k] * cosine[k] + sine[k] * sine[k]) + 1e-20f;
        const float c2 = cosine[k] / length;
        // Half the angle lies right of the upright; the sine has the sign of the whole.
        const float along = 0.5f + 0.5f * c2, across = 0.5f - 0.5f * c2;
        const float c = std::sqrt(along < 0 ? 0 : along), down = std::sqrt(across < 0 ? 0 : across);
        const float s = sine[k] < 0 ? -down : down;
        const float way = c * dx[k] + s * dy[k] < 0 ? -1.0f : 1.0f;
        dx[k] = way * c, dy[k] = way * s;
    }
}

void Walk(float stride, const float* HWY_RESTRICT dx, const float* HWY_RESTRICT dy, int count, float* HWY_RESTRICT x,
          float* HWY_RESTRICT y) {
    for (int k = 0; k < count; ++k) x[k] += stride * dx[k], y[k] += stride * dy[k];
}

void Expand(const float* HWY_RESTRICT points, const StreamSpan& span, float start, float slope, float* HWY_RESTRICT out) {
    const hn::ScalableTag<float> f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const float per_pixel = static_cast<float>(span.cells) / static_cast<float>(span.pixels),
                per_cell = static_cast<float>(span.pixels) / static_cast<float>(span.cells);
    const auto iota = hn::Iota(f, 0.0f);
    int x = span.from;
    for (int cell = expanded_cell(span, span.from); x < span.to; ++cell, ++points) {
        // Pixel x lies (x + 1/2) * per_pixel + 1/2 cells behind the first.
        const float end = (static_cast<float>(cell) + 0.5f) * per_cell - 0.5f;
        const int to = end < static_cast<float>(span.to) ? static_cast<int>(end) + 1 : span.to;
        const float step = points[1] - points[0], rise = step * per_pixel + slope;
        float value =
            start + points[0] + step * (0.5f * per_pixel + 0.5f - static_cast<float>(cell)) + rise * static_cast<float>(x);
        for (; x < to; x += lanes, value += rise * static_cast<float>(lanes))
            hn::StoreU(hn::MulAdd(iota, hn::Set(f, rise), hn::Set(f, value)), f, out + (x - span.from));
        x = to;
    }
}

void Three(float weight, const float* HWY_RESTRICT here, const float* HWY_RESTRICT one, const float* HWY_RESTRICT other,
           int count, float* HWY_RESTRICT sums) {
    for (int k = 0; k < count; ++k) sums[k] = weight * (here[k] + one[k] + other[k]);
}

void AddTo(float weight, const float* HWY_RESTRICT values, int count, float* HWY_RESTRICT sums) {
    for (int k = 0; k < count; ++k) sums[k] += weight * values[k];
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Turn);
HWY_EXPORT(Walk);
HWY_EXPORT(Three);
HWY_EXPORT(AddTo);
HWY_EXPORT(Expand);
void stream_turn(const float* cosine, const float* sine, int count, float* dx, float* dy) {
    HWY_DYNAMIC_DISPATCH(Turn)(cosine, sine, count, dx, dy);
}
void stream_move(float stride, const float* dx, const float* dy, int count, float* x, float* y) {
    HWY_DYNAMIC_DISPATCH(Walk)(stride, dx, dy, count, x, y);
}
void stream_expand(const float* points, const StreamSpan& span, float start, float slope, float* out) {
    HWY_DYNAMIC_DISPATCH(Expand)(points, span, start, slope, out);
}
void stream_three(float weight, const float* here, const float* one, const float* other, int count, float* sums) {
    HWY_DYNAMIC_DISPATCH(Three)(weight, here, one, other, count, sums);
}
void stream_add(float weight, const float* values, int count, float* sums) {
    HWY_DYNAMIC_DISPATCH(AddTo)(weight, values, count, sums);
}
}  // namespace loom
#endif
