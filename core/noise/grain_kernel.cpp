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

/// Four vectors are worked on side by side: each step waits for the one before, so that one alone would leave most of
/// the machine idle.
constexpr int side_by_side = 4;
struct Pack {
    VF v[side_by_side];
};
template <class Operation>
HWY_INLINE void Each(Operation operation) {
    operation(0), operation(1), operation(2), operation(3);
}

HWY_INLINE void Hash(std::uint32_t first, std::uint32_t a, std::uint32_t b, VU (&h)[side_by_side]) {
    const U u;
    const auto lanes = static_cast<std::uint32_t>(hn::Lanes(u));
    const VU m1 = hn::Set(u, 0x9E3779B1u), m2 = hn::Set(u, 0x7FEB352Du), m3 = hn::Set(u, 0x846CA68Bu);
    Each([&](int k) { h[k] = hn::Iota(u, first + static_cast<std::uint32_t>(k) * lanes); });
    Each([&](int k) { h[k] = hn::Xor(hn::Mul(h[k], m1), hn::Set(u, a)); });
    Each([&](int k) { h[k] = hn::Mul(hn::Xor(h[k], hn::ShiftRight<16>(h[k])), m2); });
    Each([&](int k) { h[k] = hn::Add(hn::Xor(h[k], hn::ShiftRight<15>(h[k])), hn::Set(u, b)); });
    Each([&](int k) { h[k] = hn::Mul(h[k], m3); });
    Each([&](int k) { h[k] = hn::Xor(h[k], hn::ShiftRight<16>(h[k])); });
}

template <int N>
HWY_INLINE Pack Polynomial(const Pack& w, const float (&c)[N]) {
    const F f;
    Pack p;
    Each([&](int k) { p.v[k] = hn::MulAdd(hn::Set(f, c[0]), w.v[k], hn::Set(f, c[1])); });
    for (int n = 2; n < N; ++n) Each([&](int k) { p.v[k] = hn::MulAdd(p.v[k], w.v[k], hn::Set(f, c[n])); });
    return p;
}

constexpr float central[9] = {2.81022636e-08f, 3.43273939e-07f, -3.5233877e-06f, -4.39150654e-06f, 0.00021858087f,
                              -0.00125372503f, -0.00417768164f, 0.246640727f,    1.50140941f};
constexpr float outer[9] = {-0.000200214257f, 0.000100950558f, 0.00134934322f, -0.00367342844f, 0.00573950773f,
                            -0.0076224613f,   0.00943887047f,  1.00167406f,    2.83297682f};

/// The centre of one of 2^23 equal cells of (-1, 1): 2 k + 1 has 24 bits, so a float holds it and neither end is reached.
HWY_INLINE Pack Even(const VU (&h)[side_by_side]) {
    const F f;
    Pack x;
    Each([&](int k) {
        const VU odd = hn::Or(hn::ShiftRight<8>(h[k]), hn::Set(U(), 1u));
        x.v[k] = hn::MulAdd(hn::ConvertTo(f, hn::BitCast(I(), odd)), hn::Set(f, 1.0f / 8388608.0f), hn::Set(f, -1.0f));
    });
    return x;
}

/// Natural logarithm of positive normal numbers to 3e-6: the exponent, and for the mantissa m from 0.7 to 1.4 the
/// polynomial in m - 1 that misses log(m) least (fitted by Chebyshev nodes).
HWY_INLINE Pack QuickLog(const Pack& value) {
    const F f;
    const I d;
    constexpr float series[6] = {-0.143383126f, 0.220702996f, -0.253978318f, 0.332567778f, -0.499903616f, 1.00000468f};
    Pack m, power;
    Each([&](int k) {
        const auto bits = hn::BitCast(d, value.v[k]);
        const auto exponent = hn::ShiftRight<23>(hn::Sub(bits, hn::Set(d, 0x3f3504f3)));
        m.v[k] = hn::Sub(hn::BitCast(f, hn::Sub(bits, hn::ShiftLeft<23>(exponent))), hn::Set(f, 1.0f));
        power.v[k] = hn::Mul(hn::ConvertTo(f, exponent), hn::Set(f, 0.693147181f));
    });
    Pack log = Polynomial(m, series);
    Each([&](int k) { log.v[k] = hn::MulAdd(m.v[k], log.v[k], power.v[k]); });
    return log;
}

HWY_INLINE Pack Normal(const Pack& x) {
    const F f;
    const VF one = hn::Set(f, 1.0f);
    Pack w;
    Each([&](int k) { w.v[k] = hn::Mul(hn::Sub(one, x.v[k]), hn::Add(one, x.v[k])); });
    w = QuickLog(w);
    Each([&](int k) { w.v[k] = hn::Sub(hn::Set(f, -2.5f), w.v[k]); });
    Pack p = Polynomial(w, central);
    const VF limit = hn::Set(f, 2.5f);
    const VF most = hn::Max(hn::Max(w.v[0], w.v[1]), hn::Max(w.v[2], w.v[3]));
    if (HWY_UNLIKELY(!hn::AllTrue(f, hn::Lt(most, limit)))) {
        Pack root;
        Each([&](int k) { root.v[k] = hn::Sub(hn::Sqrt(hn::Add(w.v[k], limit)), hn::Set(f, 3.0f)); });
        const Pack far = Polynomial(root, outer);
        Each([&](int k) { p.v[k] = hn::IfThenElse(hn::Ge(w.v[k], limit), far.v[k], p.v[k]); });
    }
    Each([&](int k) { p.v[k] = hn::Mul(hn::Mul(hn::Set(f, 1.41421356f), p.v[k]), x.v[k]); });
    return p;
}

/// |n| to the power 1 + tails, with the sign of n.
HWY_INLINE void DrawOut(Pack& n, const GrainRow& row) {
    const F f;
    Pack size;
    Each([&](int k) { size.v[k] = hn::Max(hn::Abs(n.v[k]), hn::Set(f, 1e-20f)); });
    const Pack log = QuickLog(size);
    Each([&](int k) {
        const VF drawn = hn::Exp(f, hn::Mul(hn::Set(f, 1 + row.tails), log.v[k]));
        n.v[k] = hn::CopySign(hn::Mul(drawn, hn::Set(f, row.tail_scale)), n.v[k]);
    });
}

template <Spread S>
void GrainsOf(const GrainRow& row, float* HWY_RESTRICT out) {
    const F f;
    const U u;
    const int lanes = static_cast<int>(hn::Lanes(f));
    // Lit if the hash is below this.
    const VU limit = hn::Set(u, static_cast<std::uint32_t>(static_cast<double>(row.share) * 4294967295.0));
    const VF weight = hn::Set(f, row.weight), base = hn::Set(f, row.base);
    const bool drawn = row.tails > 0;
    for (int x = 0; x < row.count; x += side_by_side * lanes) {
        VU h[side_by_side];
        Hash(static_cast<std::uint32_t>(row.first + x), row.hash_a, row.hash_b, h);
        Pack value;
        if constexpr (S == Spread::sparse) {
            Each([&](int k) { value.v[k] = hn::IfThenElseZero(hn::RebindMask(f, hn::Lt(h[k], limit)), hn::Set(f, 1.0f)); });
        } else {
            value = Even(h);
            if constexpr (S == Spread::gaussian) value = Normal(value);
            // The variance of a uniform deviate on (-1, 1) is 1/3.
            if constexpr (S == Spread::even) Each([&](int k) { value.v[k] = hn::Mul(value.v[k], hn::Set(f, 1.7320508f)); });
            if (drawn) DrawOut(value, row);
        }
        Each([&](int k) {
            float* to = out + x + k * lanes;
            hn::StoreU(hn::MulAdd(weight, value.v[k], row.more ? hn::LoadU(f, to) : base), f, to);
        });
    }
}

void Grains(const GrainRow& row, float* out) {
    switch (row.spread) {
        case Spread::even: return GrainsOf<Spread::even>(row, out);
        case Spread::gaussian: return GrainsOf<Spread::gaussian>(row, out);
        case Spread::sparse: return GrainsOf<Spread::sparse>(row, out);
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
