// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/brush_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/brush_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void BrushRow(const BrushPiece& p, float x, float y, float dx, float dy, int count, float* out) {
    const hn::ScalableTag<float> f;
    using V = hn::Vec<decltype(f)>;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const float ax = p.x1 - p.x0, ay = p.y1 - p.y0, square = ax * ax + ay * ay, inverse = square > 0 ? 1 / square : 0;
    const V zero = hn::Zero(f), one = hn::Set(f, 1.0f), soft = hn::Set(f, 1 / p.soft);
    const V steps = hn::Iota(f, 0.0f);
    const auto at = [&](int k) {
        const V n = hn::Add(steps, hn::Set(f, static_cast<float>(k)));
        const V px = hn::MulAdd(n, hn::Set(f, dx), hn::Set(f, x - p.x0)),
                py = hn::MulAdd(n, hn::Set(f, dy), hn::Set(f, y - p.y0));
        const V along = hn::MulAdd(px, hn::Set(f, ax * inverse), hn::Mul(py, hn::Set(f, ay * inverse)));
        const V t = hn::Min(hn::Max(along, zero), one);
        const V ox = hn::NegMulAdd(t, hn::Set(f, ax), px), oy = hn::NegMulAdd(t, hn::Set(f, ay), py);
        const V away = hn::Sqrt(hn::MulAdd(ox, ox, hn::Mul(oy, oy)));
        const V radius = hn::MulAdd(t, hn::Set(f, p.radius1 - p.radius0), hn::Set(f, p.radius0));
        const V strength = hn::MulAdd(t, hn::Set(f, p.strength1 - p.strength0), hn::Set(f, p.strength0));
        const V fall = hn::Min(hn::Max(hn::Mul(hn::Sub(one, hn::Div(away, radius)), soft), zero), one);
        return hn::Mul(strength, hn::Mul(hn::Mul(fall, fall), hn::NegMulAdd(hn::Set(f, 2.0f), fall, hn::Set(f, 3.0f))));
    };
    int k = 0;
    for (; k + lanes <= count; k += lanes) hn::StoreU(hn::Max(at(k), hn::LoadU(f, out + k)), f, out + k);
    if (k < count) {
        // The same arithmetic for what is left, so that a place does not depend on where its row began.
        HWY_ALIGN float rest[HWY_MAX_BYTES / sizeof(float)];
        hn::Store(at(k), f, rest);
        for (int n = 0; k + n < count; ++n) out[k + n] = rest[n] > out[k + n] ? rest[n] : out[k + n];
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(BrushRow);
void brush_row(const BrushPiece& piece, float x, float y, float dx, float dy, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(BrushRow)(piece, x, y, dx, dy, count, out);
}
}  // namespace loom
#endif
