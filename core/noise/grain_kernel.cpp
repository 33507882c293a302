// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Normal deviates by the single-precision inverse error function of Giles 2010.
#include "core/noise/grain_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/noise/grain_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

using F = hn::ScalableTag<float>;
using I = hn::RebindToSigned<F>;
using U = hn::RebindToUnsigned<F>;
using VF = hn::Vec<F>;
using VU = hn::Vec<U>;

HWY_INLINE VU Hash(VU column, std::uint32_t a, std::uint32_t b) {
    const U u;
    VU h = hn::Xor(hn::Mul(column, hn::Set(u, 0x9E3779B1u)), hn::Set(u, a));
    h = hn::Mul(hn::Xor(h, hn::ShiftRight<16>(h)), hn::Set(u, 0x7FEB352Du));
    h = hn::Add(hn::Xor(h, hn::ShiftRight<15>(h)), hn::Set(u, b));
    h = hn::Mul(h, hn::Set(u, 0x846CA68Bu));
    return hn::Xor(h, hn::ShiftRight<16>(h));
}

template <int N>
HWY_INLINE VF Polynomial(VF w, const float (&c)[N]) {
    const F f;
    VF p = hn::Set(f, c[0]);
    for (int k = 1; k < N; ++k) p = hn::MulAdd(p, w, hn::Set(f, c[k]));
    return p;
}

constexpr float central[9] = {2.81022636e-08f, 3.43273939e-07f, -3.5233877e-06f, -4.39150654e-06f, 0.00021858087f,
                              -0.00125372503f, -0.00417768164f, 0.246640727f,    1.50140941f};
constexpr float outer[9] = {-0.000200214257f, 0.000100950558f, 0.00134934322f, -0.00367342844f, 0.00573950773f,
                            -0.0076224613f,   0.00943887047f,  1.00167406f,    2.83297682f};

/// The centre of one of 2^23 equal cells of (-1, 1): 2 k + 1 has 24 bits, so a float holds it and neither end is reached.
HWY_INLINE VF Even(VU h) {
    const F f;
    const VU odd = hn::Or(hn::ShiftRight<8>(h), hn::Set(U(), 1u));
    return hn::MulAdd(hn::ConvertTo(f, hn::BitCast(I(), odd)), hn::Set(f, 1.0f / 8388608.0f), hn::Set(f, -1.0f));
}

HWY_INLINE VF Normal(VF x) {
    const F f;
    const VF one = hn::Set(f, 1.0f);
    const VF w = hn::Neg(hn::Log(f, hn::Mul(hn::Sub(one, x), hn::Add(one, x))));
    VF p = Polynomial(hn::Sub(w, hn::Set(f, 2.5f)), central);
    const auto far = hn::Ge(w, hn::Set(f, 5.0f));
    if (HWY_UNLIKELY(!hn::AllFalse(f, far)))
        p = hn::IfThenElse(far, Polynomial(hn::Sub(hn::Sqrt(w), hn::Set(f, 3.0f)), outer), p);
    return hn::Mul(hn::Mul(hn::Set(f, 1.41421356f), p), x);
}

/// |n| to the power 1 + tails, with the sign of n.
HWY_INLINE VF DrawnOut(VF n, const GrainRow& row) {
    const F f;
    const VF size = hn::Max(hn::Abs(n), hn::Set(f, 1e-20f));
    const VF drawn = hn::Exp(f, hn::Mul(hn::Set(f, 1 + row.tails), hn::Log(f, size)));
    return hn::CopySign(hn::Mul(drawn, hn::Set(f, row.tail_scale)), n);
}

void Grains(const GrainRow& row, float* HWY_RESTRICT out) {
    const F f;
    const U u;
    const int lanes = static_cast<int>(hn::Lanes(f));
    // Lit if the hash is below this.
    const VU limit = hn::Set(u, static_cast<std::uint32_t>(static_cast<double>(row.share) * 4294967295.0));
    for (int x = 0; x < row.count; x += lanes) {
        const VU h = Hash(hn::Iota(u, static_cast<std::uint32_t>(row.first + x)), row.hash_a, row.hash_b);
        VF value;
        if (row.spread == Spread::sparse) {
            const auto lit = hn::Lt(h, limit);
            value = hn::IfThenElseZero(hn::RebindMask(f, lit), hn::Set(f, 1.0f));
        } else {
            // Even: the variance of a uniform deviate on (-1, 1) is 1/3.
            value = row.spread == Spread::even ? hn::Mul(Even(h), hn::Set(f, 1.7320508f)) : Normal(Even(h));
            if (row.tails > 0) value = DrawnOut(value, row);
        }
        hn::StoreU(value, f, out + x);
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Grains);
void grain_row(const GrainRow& row, float* out) { HWY_DYNAMIC_DISPATCH(Grains)(row, out); }
}  // namespace loom
#endif
