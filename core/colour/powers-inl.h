// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Powers and the sRGB transfer curve (IEC 61966-2-1) on vectors, exact to 2e-6; for use inside Highway kernels.
#if defined(LOOM_POWERS_INL_H) == defined(HWY_TARGET_TOGGLE)
#ifdef LOOM_POWERS_INL_H
#undef LOOM_POWERS_INL_H
#else
#define LOOM_POWERS_INL_H
#endif

#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace powers {
namespace hn = hwy::HWY_NAMESPACE;
using F = hn::ScalableTag<float>;
using I = hn::RebindToSigned<F>;
using V = hn::Vec<F>;

HWY_INLINE V C(float value) { return hn::Set(F(), value); }

/// For x > 0. The polynomial is that of logf in Cephes (Moshier 1984).
HWY_INLINE V Log2(V x) {
    const F f;
    const I i;
    // A mantissa between the roots of 1/2 and 2, so that the logarithm is small where the power is near 1.
    const auto bits = hn::Sub(hn::BitCast(i, x), hn::Set(i, 0x3F3504F3));
    const V exponent = hn::ConvertTo(f, hn::ShiftRight<23>(bits));
    const auto mantissa = hn::Add(hn::And(bits, hn::Set(i, 0x007FFFFF)), hn::Set(i, 0x3F3504F3));
    const V t = hn::Sub(hn::BitCast(f, mantissa), C(1.0f)), t2 = hn::Mul(t, t);
    V p = C(7.0376836292e-2f);
    p = hn::MulAdd(p, t, C(-1.1514610310e-1f)), p = hn::MulAdd(p, t, C(1.1676998740e-1f));
    p = hn::MulAdd(p, t, C(-1.2420140846e-1f)), p = hn::MulAdd(p, t, C(1.4249322787e-1f));
    p = hn::MulAdd(p, t, C(-1.6668057665e-1f)), p = hn::MulAdd(p, t, C(2.0000714765e-1f));
    p = hn::MulAdd(p, t, C(-2.4999993993e-1f)), p = hn::MulAdd(p, t, C(3.3333331174e-1f));
    const V natural = hn::MulAdd(t2, hn::MulAdd(p, t, C(-0.5f)), t);
    return hn::MulAdd(natural, C(1.44269504089f), exponent);
}

/// For x between -126 and 126; beyond, the nearest of these.
HWY_INLINE V Exp2(V x) {
    const F f;
    const I i;
    x = hn::Min(hn::Max(x, C(-126.0f)), C(126.0f));
    const V whole = hn::Round(x), r = hn::Sub(x, whole);
    V p = C(1.540353039e-4f);
    p = hn::MulAdd(p, r, C(1.333355815e-3f)), p = hn::MulAdd(p, r, C(9.618129108e-3f)), p = hn::MulAdd(p, r, C(5.550410866e-2f));
    p = hn::MulAdd(p, r, C(2.402265070e-1f)), p = hn::MulAdd(p, r, C(6.931471806e-1f)), p = hn::MulAdd(p, r, C(1.0f));
    const auto scale = hn::ShiftLeft<23>(hn::Add(hn::ConvertTo(i, whole), hn::Set(i, 127)));
    return hn::Mul(p, hn::BitCast(f, scale));
}

/// x to a power, for x >= 0 and power > 0.
HWY_INLINE V Power(V x, V power) {
    const V raised = Exp2(hn::Mul(power, Log2(hn::Max(x, C(1e-30f)))));
    return hn::IfThenElseZero(hn::Gt(x, hn::Zero(F())), raised);
}

HWY_INLINE V ToLinear(V encoded) {
    const V size = hn::Abs(encoded);
    const V raised = Power(hn::Mul(hn::Add(size, C(0.055f)), C(1.0f / 1.055f)), C(2.4f));
    return hn::CopySign(hn::IfThenElse(hn::Le(size, C(0.04045f)), hn::Mul(size, C(1.0f / 12.92f)), raised), encoded);
}

HWY_INLINE V ToEncoded(V linear) {
    const V size = hn::Abs(linear);
    const V raised = hn::MulSub(Power(size, C(1.0f / 2.4f)), C(1.055f), C(0.055f));
    return hn::CopySign(hn::IfThenElse(hn::Le(size, C(0.0031308f)), hn::Mul(size, C(12.92f)), raised), linear);
}

}  // namespace powers
}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();
#endif
