// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Gradient noise after Perlin 2002 (quintic fade, gradients of equal length). On a lattice whose basis vectors meet at 60
// degrees: simplex-like noise (Perlin 2001 kernel), and values spread by a round kernel (Lewis 1989).
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

/// Multiply, shift, multiply: the high bits are the good ones, and only they are used.
HWY_INLINE VU Hash(VU point, VU seed) {
    const U u;
    VU h = hn::Xor(hn::Mul(point, hn::Set(u, 0x9E3779B1u)), seed);
    return hn::Mul(hn::Xor(h, hn::ShiftRight<15>(h)), hn::Set(u, 0x7FEB352Du));
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

/// One corner's share of value noise, and the square of its weight: values spread by a round kernel. Divided by the root
/// of all squares they have the same deviation everywhere, so that the lattice does not show.
HWY_INLINE VF ValueCorner(VU h, VF p, VF q, VF& squares) {
    const F f;
    const VF x = hn::MulAdd(hn::Set(f, 0.5f), q, p);
    const VF y = hn::Mul(hn::Set(f, 0.8660254f), q);
    const VF t = hn::Max(hn::Sub(hn::Set(f, 0.75f), hn::MulAdd(x, x, hn::Mul(y, y))), hn::Zero(f));
    const VF weight = hn::Mul(hn::Mul(t, t), t);
    squares = hn::MulAdd(weight, weight, squares);
    return hn::Mul(weight, Signed(h));
}

/// Two vectors are worked on side by side, as each step waits for the one before.
template <class Operation>
HWY_INLINE void Each(Operation operation) {
    operation(0), operation(1);
}

/// The place of pixels in their cells, and the numbers of the cells' corners (00, 10, 01, 11) in both residues.
struct Spot {
    VF p[2], q[2];
    VU k1[4][2], k2[4][2];
};

/// Whose places are found: each pixel's own, moved ones, or places on a lattice that is not turned.
enum class Places { own, moved, straight };

template <Places P>
HWY_INLINE void Find(const LatticeRow& row, int x, Spot& s) {
    const F f;
    const I d;
    const U u;
    const Lattice& lat = *row.lattice;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const VF one = hn::Set(f, 1.0f);
    // The second residue counts in steps of d1, so that the sum of both numbers the lattice points of the tile.
    auto whole = [&](std::int32_t value) { return hn::Set(u, static_cast<std::uint32_t>(value)); };
    const VU m1 = whole(lat.d1), m2 = whole(lat.d1 * lat.d2);
    const VU p1_step = whole(lat.r11), q1_step = whole(lat.r12);
    const VU p2_step = whole(lat.r21 * lat.d1), q2_step = whole(lat.r22 * lat.d1);
    if constexpr (P != Places::straight)
        Each([&](int n) {
            s.p[n] = hn::Add(hn::LoadU(f, row.p + x + n * lanes), hn::Set(f, row.p_row));
            s.q[n] = hn::Add(hn::LoadU(f, row.q + x + n * lanes), hn::Set(f, row.q_row));
        });
    VU(&k1)[2] = s.k1[0];
    VU(&k2)[2] = s.k2[0];
    if constexpr (P == Places::straight) {
        // Residues are the whole parts themselves; as floats they are exact.
        const VF a = hn::Set(f, static_cast<float>(lat.a)), e = hn::Set(f, static_cast<float>(lat.d)), half = hn::Set(f, 0.5f),
                 per_a = hn::Set(f, 1 / static_cast<float>(lat.a)), per_e = hn::Set(f, 1 / static_cast<float>(lat.d)),
                 stride = hn::Set(f, static_cast<float>(lat.d1));
        Each([&](int n) {
            const int at = x + n * lanes;
            const VF p = hn::Mul(a, hn::LoadU(f, row.du + at)), q = hn::Mul(e, hn::LoadU(f, row.dv + at));
            const VF i = hn::Floor(p), j = hn::Floor(q);
            s.p[n] = hn::Sub(p, i), s.q[n] = hn::Sub(q, j);
            const VF i_rest = hn::NegMulAdd(a, hn::Floor(hn::Mul(hn::Add(i, half), per_a)), i),
                     j_rest = hn::NegMulAdd(e, hn::Floor(hn::Mul(hn::Add(j, half), per_e)), j);
            k1[n] = hn::BitCast(u, hn::ConvertTo(d, i_rest)), k2[n] = hn::BitCast(u, hn::ConvertTo(d, hn::Mul(j_rest, stride)));
        });
    } else if constexpr (P == Places::moved) {
        const float inverse1 = 1.0f / static_cast<float>(lat.d1), inverse2 = 1.0f / static_cast<float>(lat.d2);
        const auto a = static_cast<float>(lat.a), b = static_cast<float>(lat.b), c = static_cast<float>(lat.c),
                   e = static_cast<float>(lat.d);
        Each([&](int n) {
            const int at = x + n * lanes;
            const VF du = hn::LoadU(f, row.du + at), dv = hn::LoadU(f, row.dv + at);
            const VF p = hn::Add(s.p[n], hn::MulAdd(hn::Set(f, a), du, hn::Mul(hn::Set(f, b), dv)));
            const VF q = hn::Add(s.q[n], hn::MulAdd(hn::Set(f, c), du, hn::Mul(hn::Set(f, e), dv)));
            const VF p_whole = hn::Floor(p), q_whole = hn::Floor(q);
            s.p[n] = hn::Sub(p, p_whole), s.q[n] = hn::Sub(q, q_whole);
            const VI i = hn::ConvertTo(d, p_whole), j = hn::ConvertTo(d, q_whole);
            k1[n] = Mod(hn::Add(hn::Add(hn::LoadU(d, row.k1 + at), hn::Set(d, row.k1_row)),
                                hn::Add(hn::Mul(i, hn::Set(d, lat.r11)), hn::Mul(j, hn::Set(d, lat.r12)))),
                        lat.d1, inverse1);
            k2[n] = hn::Mul(Mod(hn::Add(hn::Add(hn::LoadU(d, row.k2 + at), hn::Set(d, row.k2_row)),
                                        hn::Add(hn::Mul(i, hn::Set(d, lat.r21)), hn::Mul(j, hn::Set(d, lat.r22)))),
                                lat.d2, inverse2),
                            m1);
        });
    } else {
        // Both fractions are below 1, so that at most one cell is passed.
        const VU k1_row = whole(row.k1_row), k2_row = whole(row.k2_row * lat.d1);
        Each([&](int n) {
            const int at = x + n * lanes;
            const auto p_over = hn::Ge(s.p[n], one), q_over = hn::Ge(s.q[n], one);
            s.p[n] = hn::Sub(s.p[n], hn::IfThenElseZero(p_over, one));
            s.q[n] = hn::Sub(s.q[n], hn::IfThenElseZero(q_over, one));
            const auto p_next = hn::RebindMask(u, p_over), q_next = hn::RebindMask(u, q_over);
            k1[n] = Reduce(hn::Add(hn::BitCast(u, hn::LoadU(d, row.k1 + at)), k1_row), m1);
            k1[n] = Reduce(hn::Add(k1[n], hn::IfThenElseZero(p_next, p1_step)), m1);
            k1[n] = Reduce(hn::Add(k1[n], hn::IfThenElseZero(q_next, q1_step)), m1);
            k2[n] = Reduce(hn::Add(hn::Mul(hn::BitCast(u, hn::LoadU(d, row.k2 + at)), m1), k2_row), m2);
            k2[n] = Reduce(hn::Add(k2[n], hn::IfThenElseZero(p_next, p2_step)), m2);
            k2[n] = Reduce(hn::Add(k2[n], hn::IfThenElseZero(q_next, q2_step)), m2);
        });
    }
    Each([&](int n) {
        s.k1[1][n] = Reduce(hn::Add(s.k1[0][n], p1_step), m1), s.k2[1][n] = Reduce(hn::Add(s.k2[0][n], p2_step), m2);
        s.k1[2][n] = Reduce(hn::Add(s.k1[0][n], q1_step), m1), s.k2[2][n] = Reduce(hn::Add(s.k2[0][n], q2_step), m2);
    });
    Each([&](int n) {
        s.k1[3][n] = Reduce(hn::Add(s.k1[1][n], q1_step), m1), s.k2[3][n] = Reduce(hn::Add(s.k2[1][n], q2_step), m2);
    });
}

template <Basis B, Places P>
HWY_FLATTEN void Row(const LatticeRow& row, float* HWY_RESTRICT out) {
    const F f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const VF one = hn::Set(f, 1.0f), weight = hn::Set(f, row.weight);
    const VU seed = hn::Set(U(), row.seed);
    for (int x = 0; x < row.count; x += 2 * lanes) {
        Spot s;
        Find<P>(row, x, s);
        // Each corner's share: what its hash says at the pixel's offset from it.
        VF corner[4][2], value[2];
        [[maybe_unused]] VF squares[2] = {hn::Zero(f), hn::Zero(f)};
        for (int c = 0; c < 4; ++c)
            Each([&](int n) {
                const VU h = Hash(hn::Add(s.k1[c][n], s.k2[c][n]), seed);
                const VF p = c & 1 ? hn::Sub(s.p[n], one) : s.p[n], q = c & 2 ? hn::Sub(s.q[n], one) : s.q[n];
                if constexpr (B == Basis::gradient) corner[c][n] = Dot(h, p, q);
                if constexpr (B == Basis::value) corner[c][n] = ValueCorner(h, p, q, squares[n]);
                if constexpr (B == Basis::simplex) corner[c][n] = SimplexCorner(h, p, q);
            });
        if constexpr (B == Basis::simplex) {
            // The cell is a rhombus of two triangles, split from (1,0) to (0,1). All four corners are summed: the
            // one across the split is out of the kernel's reach except near the split, where it smooths the fold.
            Each([&](int n) {
                const VF sum = hn::Add(hn::Add(corner[0][n], corner[1][n]), hn::Add(corner[2][n], corner[3][n]));
                value[n] = hn::Mul(sum, hn::Set(f, 12.0f));
            });
        } else if constexpr (B == Basis::value) {
            Each([&](int n) {
                const VF sum = hn::Add(hn::Add(corner[0][n], corner[1][n]), hn::Add(corner[2][n], corner[3][n]));
                value[n] = hn::Div(sum, hn::Sqrt(squares[n]));
            });
        } else {
            Each([&](int n) {
                const VF fp = Fade(s.p[n]);
                value[n] = Lerp(Fade(s.q[n]), Lerp(fp, corner[0][n], corner[1][n]), Lerp(fp, corner[2][n], corner[3][n]));
            });
        }
        Each([&](int n) {
            float* to = out + x + n * lanes;
            hn::StoreU(hn::MulAdd(weight, value[n], hn::LoadU(f, to)), f, to);
        });
    }
}

template <Basis B>
void RowOf(const LatticeRow& row, float* out) {
    if (row.straight)
        Row<B, Places::straight>(row, out);
    else if (row.du)
        Row<B, Places::moved>(row, out);
    else
        Row<B, Places::own>(row, out);
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
