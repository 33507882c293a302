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
HWY_INLINE VU Mod(VI value, std::int32_t modulus, float inverse) {
    const F f;
    const I d;
    const VI m = hn::Set(d, modulus);
    const VI quotient = hn::ConvertTo(d, hn::Floor(hn::Mul(hn::ConvertTo(f, value), hn::Set(f, inverse))));
    VI rest = hn::Sub(value, hn::Mul(quotient, m));
    rest = hn::IfThenElse(hn::Lt(rest, hn::Zero(d)), hn::Add(rest, m), rest);
    return hn::BitCast(U(), hn::IfThenElse(hn::Lt(rest, m), rest, hn::Sub(rest, m)));
}

/// k mod m for k below 2 m: one too many wraps round to a huge number when m is taken off.
HWY_INLINE VU Reduce(VU k, VU m) { return hn::Min(k, hn::Sub(k, m)); }

/// Two rounds of multiply and shift; the high bits are the good ones.
HWY_INLINE VU Hash(VU point, VU seed) {
    const U u;
    VU h = hn::Xor(hn::Mul(point, hn::Set(u, 0x9E3779B1u)), seed);
    h = hn::Mul(hn::Xor(h, hn::ShiftRight<15>(h)), hn::Set(u, 0x7FEB352Du));
    return hn::Mul(hn::Xor(h, hn::ShiftRight<16>(h)), hn::Set(u, 0x846CA68Bu));
}

/// A number in [-1, 1) from a hash.
HWY_INLINE VF Signed(VU h) {
    const F f;
    const I d;
    return hn::Mul(hn::ConvertTo(f, hn::BitCast(d, h)), hn::Set(f, 1.0f / 2147483648.0f));
}

/// cos and sin of 16 directions, evenly spread and none along an axis: gradients of equal length.
HWY_ALIGN constexpr float directions_x[16] = {0.98078528f,  0.83146961f,  0.55557023f,  0.19509032f,  -0.19509032f, -0.55557023f,
                                              -0.83146961f, -0.98078528f, -0.98078528f, -0.83146961f, -0.55557023f, -0.19509032f,
                                              0.19509032f,  0.55557023f,  0.83146961f,  0.98078528f};
HWY_ALIGN constexpr float directions_y[16] = {0.19509032f,  0.55557023f,  0.83146961f,  0.98078528f,  0.98078528f,  0.83146961f,
                                              0.55557023f,  0.19509032f,  -0.19509032f, -0.55557023f, -0.83146961f, -0.98078528f,
                                              -0.98078528f, -0.83146961f, -0.55557023f, -0.19509032f};

HWY_INLINE VF Look(const float* table, VU index) {
    const F f;
    if constexpr (HWY_MAX_BYTES == 64 && !HWY_HAVE_SCALABLE) {
        return hn::TableLookupLanes(hn::Load(f, table), hn::IndicesFromVec(f, index));
    } else {
        return hn::GatherIndex(f, table, hn::BitCast(I(), index));
    }
}

/// Dot product of an offset with the gradient that belongs to a hash.
HWY_INLINE VF Dot(VU h, VF x, VF y) {
    const VU index = hn::ShiftRight<28>(h);
    return hn::MulAdd(Look(directions_x, index), x, hn::Mul(Look(directions_y, index), y));
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

template <Basis B, bool Moved>
void Row(const LatticeRow& row, float* HWY_RESTRICT out) {
    const F f;
    const I d;
    const U u;
    const Lattice& lat = *row.lattice;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const float inverse1 = 1.0f / static_cast<float>(lat.d1), inverse2 = 1.0f / static_cast<float>(lat.d2);
    const VF one = hn::Set(f, 1.0f), weight = hn::Set(f, row.weight);
    // The second residue counts in steps of d1, so that the sum of both numbers the lattice points of the tile.
    auto whole = [&](std::int32_t value) { return hn::Set(u, static_cast<std::uint32_t>(value)); };
    const VU m1 = whole(lat.d1), m2 = whole(lat.d1 * lat.d2), seed = hn::Set(u, row.seed);
    const VU p1_step = whole(lat.r11), q1_step = whole(lat.r12);
    const VU p2_step = whole(lat.r21 * lat.d1), q2_step = whole(lat.r22 * lat.d1);
    const VU k1_row = whole(row.k1_row), k2_row = whole(row.k2_row * lat.d1);
    for (int x = 0; x < row.count; x += lanes) {
        VF p = hn::Add(hn::LoadU(f, row.p + x), hn::Set(f, row.p_row));
        VF q = hn::Add(hn::LoadU(f, row.q + x), hn::Set(f, row.q_row));
        VU k1, k2;
        if constexpr (Moved) {
            const VF du = hn::LoadU(f, row.du + x), dv = hn::LoadU(f, row.dv + x);
            p = hn::Add(
                p, hn::MulAdd(hn::Set(f, static_cast<float>(lat.a)), du, hn::Mul(hn::Set(f, static_cast<float>(lat.b)), dv)));
            q = hn::Add(
                q, hn::MulAdd(hn::Set(f, static_cast<float>(lat.c)), du, hn::Mul(hn::Set(f, static_cast<float>(lat.d)), dv)));
            const VF p_whole = hn::Floor(p), q_whole = hn::Floor(q);
            p = hn::Sub(p, p_whole), q = hn::Sub(q, q_whole);
            const VI i = hn::ConvertTo(d, p_whole), j = hn::ConvertTo(d, q_whole);
            k1 = Mod(hn::Add(hn::Add(hn::LoadU(d, row.k1 + x), hn::Set(d, row.k1_row)),
                             hn::Add(hn::Mul(i, hn::Set(d, lat.r11)), hn::Mul(j, hn::Set(d, lat.r12)))),
                     lat.d1, inverse1);
            k2 = Mod(hn::Add(hn::Add(hn::LoadU(d, row.k2 + x), hn::Set(d, row.k2_row)),
                             hn::Add(hn::Mul(i, hn::Set(d, lat.r21)), hn::Mul(j, hn::Set(d, lat.r22)))),
                     lat.d2, inverse2);
            k2 = hn::Mul(k2, m1);
        } else {
            // Both fractions are below 1, so that at most one cell is passed.
            const auto p_over = hn::Ge(p, one), q_over = hn::Ge(q, one);
            p = hn::Sub(p, hn::IfThenElseZero(p_over, one)), q = hn::Sub(q, hn::IfThenElseZero(q_over, one));
            const auto p_next = hn::RebindMask(u, p_over), q_next = hn::RebindMask(u, q_over);
            k1 = Reduce(hn::Add(hn::BitCast(u, hn::LoadU(d, row.k1 + x)), k1_row), m1);
            k1 = Reduce(hn::Add(k1, hn::IfThenElseZero(p_next, p1_step)), m1);
            k1 = Reduce(hn::Add(k1, hn::IfThenElseZero(q_next, q1_step)), m1);
            k2 = Reduce(hn::Add(hn::Mul(hn::BitCast(u, hn::LoadU(d, row.k2 + x)), m1), k2_row), m2);
            k2 = Reduce(hn::Add(k2, hn::IfThenElseZero(p_next, p2_step)), m2);
            k2 = Reduce(hn::Add(k2, hn::IfThenElseZero(q_next, q2_step)), m2);
        }
        const VU k1p = Reduce(hn::Add(k1, p1_step), m1), k2p = Reduce(hn::Add(k2, p2_step), m2);
        const VU k1q = Reduce(hn::Add(k1, q1_step), m1), k2q = Reduce(hn::Add(k2, q2_step), m2);
        const VU k1pq = Reduce(hn::Add(k1p, q1_step), m1), k2pq = Reduce(hn::Add(k2p, q2_step), m2);
        const VU h00 = Hash(hn::Add(k1, k2), seed), h11 = Hash(hn::Add(k1pq, k2pq), seed);
        const VU h10 = Hash(hn::Add(k1p, k2p), seed), h01 = Hash(hn::Add(k1q, k2q), seed);
        const VF p1 = hn::Sub(p, one), q1 = hn::Sub(q, one);
        VF value;
        if constexpr (B == Basis::gradient) {
            const VF fp = Fade(p), fq = Fade(q);
            value = Lerp(fq, Lerp(fp, Dot(h00, p, q), Dot(h10, p1, q)), Lerp(fp, Dot(h01, p, q1), Dot(h11, p1, q1)));
        } else if constexpr (B == Basis::value) {
            const VF fp = Fade(p), fq = Fade(q);
            value = Lerp(fq, Lerp(fp, Signed(h00), Signed(h10)), Lerp(fp, Signed(h01), Signed(h11)));
        } else {
            // The cell is a rhombus of two triangles, split from (1,0) to (0,1). All four corners are summed: the
            // one across the split is out of the kernel's reach except near the split, where it smooths the fold.
            value = hn::Add(hn::Add(SimplexCorner(h00, p, q), SimplexCorner(h10, p1, q)),
                            hn::Add(SimplexCorner(h01, p, q1), SimplexCorner(h11, p1, q1)));
            value = hn::Mul(value, hn::Set(f, 12.0f));
        }
        hn::StoreU(hn::MulAdd(weight, value, hn::LoadU(f, out + x)), f, out + x);
    }
}

template <Basis B>
void RowOf(const LatticeRow& row, float* out) {
    row.du ? Row<B, true>(row, out) : Row<B, false>(row, out);
}

void GradientRow(const LatticeRow& row, float* out) { RowOf<Basis::gradient>(row, out); }
void ValueRow(const LatticeRow& row, float* out) { RowOf<Basis::value>(row, out); }
void SimplexRow(const LatticeRow& row, float* out) { RowOf<Basis::simplex>(row, out); }

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
