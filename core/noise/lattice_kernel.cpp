// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gradient noise after Perlin 2002 (quintic fade, gradients of equal length), value noise on the same lattice,
// and simplex-like noise (Perlin 2001 kernel) on a lattice whose basis vectors meet at 60 degrees.
#include "core/noise/lattice_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/noise/lattice_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

using F = hn::ScalableTag<float>;
using I = hn::RebindToSigned<F>;
using U = hn::RebindToUnsigned<F>;
using VF = hn::Vec<F>;
using VI = hn::Vec<I>;
using VU = hn::Vec<U>;

/// value mod modulus for |value| / modulus below 2^20; the float quotient may be one off, which is mended.
HWY_INLINE VI Mod(VI value, std::int32_t modulus, float inverse) {
    const F f;
    const I d;
    const VI m = hn::Set(d, modulus);
    const VI quotient = hn::ConvertTo(d, hn::Floor(hn::Mul(hn::ConvertTo(f, value), hn::Set(f, inverse))));
    VI rest = hn::Sub(value, hn::Mul(quotient, m));
    rest = hn::IfThenElse(hn::Lt(rest, hn::Zero(d)), hn::Add(rest, m), rest);
    return hn::IfThenElse(hn::Lt(rest, m), rest, hn::Sub(rest, m));
}

/// (k + step) mod modulus for both already reduced.
HWY_INLINE VI Next(VI k, std::int32_t step, std::int32_t modulus) {
    const I d;
    const VI sum = hn::Add(k, hn::Set(d, step));
    const VI m = hn::Set(d, modulus);
    return hn::IfThenElse(hn::Lt(sum, m), sum, hn::Sub(sum, m));
}

HWY_INLINE VU Hash(VI k1, VI k2, std::uint32_t seed) {
    const U u;
    VU h = hn::Add(hn::Mul(hn::BitCast(u, k1), hn::Set(u, 0x9E3779B1u)),
                   hn::Add(hn::Mul(hn::BitCast(u, k2), hn::Set(u, 0x85EBCA77u)), hn::Set(u, seed)));
    h = hn::Mul(hn::Xor(h, hn::ShiftRight<16>(h)), hn::Set(u, 0x7FEB352Du));
    h = hn::Mul(hn::Xor(h, hn::ShiftRight<15>(h)), hn::Set(u, 0x846CA68Bu));
    return hn::Xor(h, hn::ShiftRight<16>(h));
}

/// A number in [-1, 1) from a hash.
HWY_INLINE VF Signed(VU h) {
    const F f;
    const I d;
    return hn::Mul(hn::ConvertTo(f, hn::BitCast(d, h)), hn::Set(f, 1.0f / 2147483648.0f));
}

/// sin(pi t) for t in [-1, 1], error below 0.0011.
HWY_INLINE VF SinPi(VF t) {
    const F f;
    const VF s = hn::Mul(hn::Mul(hn::Set(f, 4.0f), t), hn::Sub(hn::Set(f, 1.0f), hn::Abs(t)));
    return hn::Mul(s, hn::MulAdd(hn::Set(f, 0.225f), hn::Abs(s), hn::Set(f, 0.775f)));
}

/// Dot product of an offset with the unit gradient that belongs to a hash.
HWY_INLINE VF Dot(VU h, VF x, VF y) {
    const F f;
    const VF t = Signed(h);
    VF quarter = hn::Add(t, hn::Set(f, 0.5f));
    quarter = hn::IfThenElse(hn::Lt(quarter, hn::Set(f, 1.0f)), quarter, hn::Sub(quarter, hn::Set(f, 2.0f)));
    return hn::MulAdd(SinPi(quarter), x, hn::Mul(SinPi(t), y));
}

HWY_INLINE VF Fade(VF t) {
    const F f;
    const VF inner = hn::MulAdd(hn::MulAdd(hn::Set(f, 6.0f), t, hn::Set(f, -15.0f)), t, hn::Set(f, 10.0f));
    return hn::Mul(hn::Mul(hn::Mul(t, t), t), inner);
}

HWY_INLINE VF Lerp(VF t, VF a, VF b) { return hn::MulAdd(t, hn::Sub(b, a), a); }

/// One corner's share of simplex-like noise; the offset is in lattice coordinates.
HWY_INLINE VF SimplexCorner(VU h, VF p, VF q) {
    const F f;
    const VF x = hn::MulAdd(hn::Set(f, 0.5f), q, p);
    const VF y = hn::Mul(hn::Set(f, 0.8660254f), q);
    // The kernel ends at the height of the triangle, sqrt(3/4).
    VF t = hn::Sub(hn::Set(f, 0.75f), hn::MulAdd(x, x, hn::Mul(y, y)));
    t = hn::Max(t, hn::Zero(f));
    t = hn::Mul(t, t);
    return hn::Mul(hn::Mul(t, t), Dot(h, x, y));
}

template <Basis B>
void Row(const LatticeRow& row, float* HWY_RESTRICT out) {
    const F f;
    const I d;
    const Lattice& lat = *row.lattice;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const float inverse1 = 1.0f / static_cast<float>(lat.d1), inverse2 = 1.0f / static_cast<float>(lat.d2);
    const VF one = hn::Set(f, 1.0f);
    for (int x = 0; x < row.count; x += lanes) {
        VF p = hn::Add(hn::LoadU(f, row.p + x), hn::Set(f, row.p_row));
        VF q = hn::Add(hn::LoadU(f, row.q + x), hn::Set(f, row.q_row));
        if (row.du) {
            const VF du = hn::LoadU(f, row.du + x), dv = hn::LoadU(f, row.dv + x);
            p = hn::Add(
                p, hn::MulAdd(hn::Set(f, static_cast<float>(lat.a)), du, hn::Mul(hn::Set(f, static_cast<float>(lat.b)), dv)));
            q = hn::Add(
                q, hn::MulAdd(hn::Set(f, static_cast<float>(lat.c)), du, hn::Mul(hn::Set(f, static_cast<float>(lat.d)), dv)));
        }
        const VF p_whole = hn::Floor(p), q_whole = hn::Floor(q);
        p = hn::Sub(p, p_whole), q = hn::Sub(q, q_whole);
        const VI i = hn::ConvertTo(d, p_whole), j = hn::ConvertTo(d, q_whole);
        const VI k1 = Mod(hn::Add(hn::Add(hn::LoadU(d, row.k1 + x), hn::Set(d, row.k1_row)),
                                  hn::Add(hn::Mul(i, hn::Set(d, lat.r11)), hn::Mul(j, hn::Set(d, lat.r12)))),
                          lat.d1, inverse1);
        const VI k2 = Mod(hn::Add(hn::Add(hn::LoadU(d, row.k2 + x), hn::Set(d, row.k2_row)),
                                  hn::Add(hn::Mul(i, hn::Set(d, lat.r21)), hn::Mul(j, hn::Set(d, lat.r22)))),
                          lat.d2, inverse2);
        const VI k1p = Next(k1, lat.r11, lat.d1), k2p = Next(k2, lat.r21, lat.d2);
        const VI k1q = Next(k1, lat.r12, lat.d1), k2q = Next(k2, lat.r22, lat.d2);
        const VI k1pq = Next(k1p, lat.r12, lat.d1), k2pq = Next(k2p, lat.r22, lat.d2);
        const VU h00 = Hash(k1, k2, row.seed), h11 = Hash(k1pq, k2pq, row.seed);
        const VU h10 = Hash(k1p, k2p, row.seed), h01 = Hash(k1q, k2q, row.seed);
        VF value;
        if constexpr (B == Basis::gradient) {
            const VF p1 = hn::Sub(p, one), q1 = hn::Sub(q, one);
            const VF fp = Fade(p), fq = Fade(q);
            value = Lerp(fq, Lerp(fp, Dot(h00, p, q), Dot(h10, p1, q)), Lerp(fp, Dot(h01, p, q1), Dot(h11, p1, q1)));
        } else if constexpr (B == Basis::value) {
            const VF fp = Fade(p), fq = Fade(q);
            value = Lerp(fq, Lerp(fp, Signed(h00), Signed(h10)), Lerp(fp, Signed(h01), Signed(h11)));
        } else {
            // The cell is a rhombus of two triangles, split from (1,0) to (0,1). All four corners are summed: the
            // one across the split is out of the kernel's reach except near the split, where it smooths the fold.
            const VF p1 = hn::Sub(p, one), q1 = hn::Sub(q, one);
            value = hn::Add(hn::Add(SimplexCorner(h00, p, q), SimplexCorner(h10, p1, q)),
                            hn::Add(SimplexCorner(h01, p, q1), SimplexCorner(h11, p1, q1)));
            value = hn::Mul(value, hn::Set(f, 12.0f));
        }
        hn::StoreU(value, f, out + x);
    }
}

void GradientRow(const LatticeRow& row, float* out) { Row<Basis::gradient>(row, out); }
void ValueRow(const LatticeRow& row, float* out) { Row<Basis::value>(row, out); }
void SimplexRow(const LatticeRow& row, float* out) { Row<Basis::simplex>(row, out); }

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(GradientRow);
HWY_EXPORT(ValueRow);
HWY_EXPORT(SimplexRow);

void lattice_row(Basis basis, const LatticeRow& row, float* out) {
    switch (basis) {
        case Basis::gradient: HWY_DYNAMIC_DISPATCH(GradientRow)(row, out); break;
        case Basis::value: HWY_DYNAMIC_DISPATCH(ValueRow)(row, out); break;
        case Basis::simplex: HWY_DYNAMIC_DISPATCH(SimplexRow)(row, out); break;
    }
}
}  // namespace loom
#endif
