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

/// Several vectors side by side, as every operation of a polynomial waits for the one before.
template <int n>
struct Many {
    V v[n];
};

template <int n, class Operation>
HWY_INLINE void Each(Operation operation) {
    for (int k = 0; k < n; ++k) operation(k);
}

/// For x > 0. The polynomial is that of logf in Cephes (Moshier 1984).
template <int n>
HWY_INLINE Many<n> Log2(const Many<n>& x) {
    const F f;
    const I i;
    Many<n> exponent, t, p;
    // A mantissa between the roots of 1/2 and 2, so that the logarithm is small where the power is near 1.
    Each<n>([&](int k) {
        const auto bits = hn::Sub(hn::BitCast(i, x.v[k]), hn::Set(i, 0x3F3504F3));
        exponent.v[k] = hn::ConvertTo(f, hn::ShiftRight<23>(bits));
        const auto mantissa = hn::Add(hn::And(bits, hn::Set(i, 0x007FFFFF)), hn::Set(i, 0x3F3504F3));
        t.v[k] = hn::Sub(hn::BitCast(f, mantissa), C(1.0f));
        p.v[k] = C(7.0376836292e-2f);
    });
    for (float c : {-1.1514610310e-1f, 1.1676998740e-1f, -1.2420140846e-1f, 1.4249322787e-1f, -1.6668057665e-1f, 2.0000714765e-1f,
                    -2.4999993993e-1f, 3.3333331174e-1f, -0.5f})
        Each<n>([&](int k) { p.v[k] = hn::MulAdd(p.v[k], t.v[k], C(c)); });
    Each<n>([&](int k) {
        p.v[k] = hn::MulAdd(hn::Mul(t.v[k], t.v[k]), p.v[k], t.v[k]);
        p.v[k] = hn::MulAdd(p.v[k], C(1.44269504089f), exponent.v[k]);
    });
    return p;
}

/// For x between -126 and 126; beyond, the nearest of these.
template <int n>
HWY_INLINE Many<n> Exp2(Many<n> x) {
    const F f;
    const I i;
    Many<n> whole, p;
    Each<n>([&](int k) {
        x.v[k] = hn::Min(hn::Max(x.v[k], C(-126.0f)), C(126.0f));
        whole.v[k] = hn::Round(x.v[k]);
        x.v[k] = hn::Sub(x.v[k], whole.v[k]);
        p.v[k] = C(1.540353039e-4f);
    });
    for (float c : {1.333355815e-3f, 9.618129108e-3f, 5.550410866e-2f, 2.402265070e-1f, 6.931471806e-1f, 1.0f})
        Each<n>([&](int k) { p.v[k] = hn::MulAdd(p.v[k], x.v[k], C(c)); });
    Each<n>([&](int k) {
        const auto scale = hn::ShiftLeft<23>(hn::Add(hn::ConvertTo(i, whole.v[k]), hn::Set(i, 127)));
        p.v[k] = hn::Mul(p.v[k], hn::BitCast(f, scale));
    });
    return p;
}

/// x to a power, for x >= 0 and power > 0.
template <int n>
HWY_INLINE Many<n> Power(const Many<n>& x, V power) {
    Many<n> raised = x;
    Each<n>([&](int k) { raised.v[k] = hn::Max(x.v[k], C(1e-30f)); });
    raised = Log2(raised);
    Each<n>([&](int k) { raised.v[k] = hn::Mul(power, raised.v[k]); });
    raised = Exp2(raised);
    Each<n>([&](int k) { raised.v[k] = hn::IfThenElseZero(hn::Gt(x.v[k], hn::Zero(F())), raised.v[k]); });
    return raised;
}

template <int n>
HWY_INLINE Many<n> ToLinear(const Many<n>& encoded) {
    Many<n> base;
    Each<n>([&](int k) { base.v[k] = hn::MulAdd(hn::Abs(encoded.v[k]), C(1.0f / 1.055f), C(0.055f / 1.055f)); });
    base = Power(base, C(2.4f));
    Each<n>([&](int k) {
        const V size = hn::Abs(encoded.v[k]);
        const V linear = hn::IfThenElse(hn::Le(size, C(0.04045f)), hn::Mul(size, C(1.0f / 12.92f)), base.v[k]);
        base.v[k] = hn::CopySign(linear, encoded.v[k]);
    });
    return base;
}

template <int n>
HWY_INLINE Many<n> ToEncoded(const Many<n>& linear) {
    Many<n> raised;
    Each<n>([&](int k) { raised.v[k] = hn::Abs(linear.v[k]); });
    raised = Power(raised, C(1.0f / 2.4f));
    Each<n>([&](int k) {
        const V size = hn::Abs(linear.v[k]), curved = hn::MulSub(raised.v[k], C(1.055f), C(0.055f));
        const V encoded = hn::IfThenElse(hn::Le(size, C(0.0031308f)), hn::Mul(size, C(12.92f)), curved);
        raised.v[k] = hn::CopySign(encoded, linear.v[k]);
    });
    return raised;
}

}  // namespace powers
}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();
#endif
