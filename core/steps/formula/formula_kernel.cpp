// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/formula/formula_kernel.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/formula/formula_kernel.cpp"
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

HWY_INLINE VF One() { return hn::Set(F(), 1.0f); }
HWY_INLINE VF Half() { return hn::Set(F(), 0.5f); }
HWY_INLINE VF Truth(hn::Mask<F> mask) { return hn::IfThenElseZero(mask, One()); }
HWY_INLINE hn::Mask<F> IsTrue(VF value) { return hn::Ne(value, hn::Zero(F())); }
HWY_INLINE VF Fraction(VF t) { return hn::Sub(t, hn::Floor(t)); }
HWY_INLINE VF Unit(VF t) { return hn::Min(hn::Max(t, hn::Zero(F())), One()); }
/// Sines are exact enough within some thousand turns; angles are brought near 0 first.
HWY_INLINE VF Turned(VF radians) {
    const F f;
    const VF turns = hn::Mul(radians, hn::Set(f, 0.15915494309f));
    return hn::Mul(hn::Sub(turns, hn::Round(turns)), hn::Set(f, 6.28318530718f));
}
HWY_INLINE VF Power(VF a, VF b) {
    const F f;
    const VF safe = hn::Max(hn::Abs(a), hn::Set(f, 1e-30f));
    const VF raised = hn::Exp(f, hn::Min(hn::Mul(b, hn::Log(f, safe)), hn::Set(f, 80.0f)));
    // Below 0 only whole powers are numbers: even ones come out above it, odd ones below.
    const VF half = hn::Mul(b, Half());
    const auto whole = hn::Eq(hn::Round(b), b), odd = hn::Ne(hn::Round(half), half);
    const VF below = hn::IfThenElseZero(whole, hn::IfThenElse(odd, hn::Neg(raised), raised));
    const VF power = hn::IfThenElse(hn::Lt(a, hn::Zero(f)), below, raised);
    return hn::IfThenElse(hn::And(hn::Eq(a, hn::Zero(f)), hn::Gt(b, hn::Zero(f))), hn::Zero(f), power);
}

/// A whole number as an int: the same on every machine for what is too large for one, and for what is no number.
HWY_INLINE hn::Vec<I> Counted(VF whole) {
    const VF bounded = hn::Min(hn::Max(whole, hn::Set(F(), -1e9f)), hn::Set(F(), 1e9f));
    return hn::ConvertTo(I(), hn::IfThenElseZero(hn::Eq(whole, whole), bounded));
}

HWY_INLINE VU Scrambled(VU h) {
    const U u;
    h = hn::Mul(hn::Xor(h, hn::ShiftRight<16>(h)), hn::Set(u, 0x7FEB352Du));
    h = hn::Mul(hn::Xor(h, hn::ShiftRight<15>(h)), hn::Set(u, 0x846CA68Bu));
    return hn::Xor(h, hn::ShiftRight<16>(h));
}
HWY_INLINE VF Lot(VU h) {
    return hn::Mul(hn::ConvertTo(F(), hn::BitCast(I(), hn::ShiftRight<8>(h))), hn::Set(F(), 1.0f / 16777216.0f));
}

template <class Operation>
HWY_INLINE void Each(const float* HWY_RESTRICT a, const float* HWY_RESTRICT b, const float* HWY_RESTRICT c, int count,
                     float* HWY_RESTRICT out, Operation operation) {
    const F f;
    for (int x = 0; x < count; x += static_cast<int>(hn::Lanes(f)))
        hn::StoreU(operation(hn::LoadU(f, a + x), hn::LoadU(f, b + x), hn::LoadU(f, c + x)), f, out + x);
}

void Apply(FormulaOp op, const float* a, const float* b, const float* c, int count, float* out) {
    auto each = [&](auto operation) { Each(a, b, c, count, out, operation); };
    switch (op) {
        case FormulaOp::negate: return each([](VF x, VF, VF) { return hn::Neg(x); });
        case FormulaOp::add: return each([](VF x, VF y, VF) { return hn::Add(x, y); });
        case FormulaOp::subtract: return each([](VF x, VF y, VF) { return hn::Sub(x, y); });
        case FormulaOp::multiply: return each([](VF x, VF y, VF) { return hn::Mul(x, y); });
        case FormulaOp::divide: return each([](VF x, VF y, VF) { return hn::Div(x, y); });
        case FormulaOp::power: return each([](VF x, VF y, VF) { return Power(x, y); });
        case FormulaOp::modulo: return each([](VF x, VF y, VF) { return hn::Sub(x, hn::Mul(y, hn::Floor(hn::Div(x, y)))); });
        case FormulaOp::less: return each([](VF x, VF y, VF) { return Truth(hn::Lt(x, y)); });
        case FormulaOp::greater: return each([](VF x, VF y, VF) { return Truth(hn::Gt(x, y)); });
        case FormulaOp::less_equal: return each([](VF x, VF y, VF) { return Truth(hn::Le(x, y)); });
        case FormulaOp::greater_equal: return each([](VF x, VF y, VF) { return Truth(hn::Ge(x, y)); });
        case FormulaOp::equal: return each([](VF x, VF y, VF) { return Truth(hn::Eq(x, y)); });
        case FormulaOp::unequal: return each([](VF x, VF y, VF) { return Truth(hn::Ne(x, y)); });
        case FormulaOp::both: return each([](VF x, VF y, VF) { return Truth(hn::And(IsTrue(x), IsTrue(y))); });
        case FormulaOp::either: return each([](VF x, VF y, VF) { return Truth(hn::Or(IsTrue(x), IsTrue(y))); });
        case FormulaOp::sine: return each([](VF x, VF, VF) { return hn::Sin(F(), Turned(x)); });
        case FormulaOp::cosine: return each([](VF x, VF, VF) { return hn::Cos(F(), Turned(x)); });
        case FormulaOp::tangent:
            return each([](VF x, VF, VF) { return hn::Div(hn::Sin(F(), Turned(x)), hn::Cos(F(), Turned(x))); });
        case FormulaOp::exponential: return each([](VF x, VF, VF) { return hn::Exp(F(), hn::Min(x, hn::Set(F(), 80.0f))); });
        case FormulaOp::logarithm: return each([](VF x, VF, VF) { return hn::Log(F(), hn::Max(x, hn::Set(F(), 1e-30f))); });
        case FormulaOp::root: return each([](VF x, VF, VF) { return hn::Sqrt(hn::Max(x, hn::Zero(F()))); });
        case FormulaOp::absolute: return each([](VF x, VF, VF) { return hn::Abs(x); });
        case FormulaOp::floor: return each([](VF x, VF, VF) { return hn::Floor(x); });
        case FormulaOp::ceiling: return each([](VF x, VF, VF) { return hn::Ceil(x); });
        case FormulaOp::round: return each([](VF x, VF, VF) { return hn::Round(x); });
        case FormulaOp::saw:
        case FormulaOp::fraction: return each([](VF x, VF, VF) { return Fraction(x); });
        case FormulaOp::sign:
            return each([](VF x, VF, VF) { return hn::Sub(Truth(hn::Gt(x, hn::Zero(F()))), Truth(hn::Lt(x, hn::Zero(F())))); });
        case FormulaOp::minimum: return each([](VF x, VF y, VF) { return hn::Min(x, y); });
        case FormulaOp::maximum: return each([](VF x, VF y, VF) { return hn::Max(x, y); });
        case FormulaOp::choose: return each([](VF x, VF y, VF z) { return hn::IfThenElse(IsTrue(x), y, z); });
        case FormulaOp::mix: return each([](VF x, VF y, VF z) { return hn::MulAdd(z, hn::Sub(y, x), x); });
        case FormulaOp::step: return each([](VF x, VF y, VF) { return Truth(hn::Ge(y, x)); });
        case FormulaOp::smoothstep:
            return each([](VF x, VF y, VF z) {
                const VF t = Unit(hn::Div(hn::Sub(z, x), hn::Sub(y, x)));
                return hn::Mul(hn::Mul(t, t), hn::Sub(hn::Set(F(), 3.0f), hn::Add(t, t)));
            });
        case FormulaOp::clamp: return each([](VF x, VF y, VF z) { return hn::Min(hn::Max(x, y), z); });
        case FormulaOp::wave:
            return each([](VF x, VF, VF) {
                const VF turn = hn::Sub(x, hn::Round(x));
                return hn::MulAdd(Half(), hn::Sin(F(), hn::Mul(turn, hn::Set(F(), 6.28318530718f))), Half());
            });
        case FormulaOp::triangle:
            return each([](VF x, VF, VF) {
                const VF t = Fraction(x);
                return hn::Min(hn::Add(t, t), hn::Sub(hn::Set(F(), 2.0f), hn::Add(t, t)));
            });
        case FormulaOp::lot:
            return each([](VF x, VF, VF) {
                return Lot(Scrambled(hn::Mul(hn::BitCast(U(), Counted(hn::Floor(x))), hn::Set(U(), 0x9E3779B1u))));
            });
        case FormulaOp::lot_pair:
            return each([](VF x, VF y, VF) {
                const VU first = Scrambled(hn::Mul(hn::BitCast(U(), Counted(hn::Floor(x))), hn::Set(U(), 0x9E3779B1u)));
                const VU second = hn::Mul(hn::BitCast(U(), Counted(hn::Floor(y))), hn::Set(U(), 0x85EBCA77u));
                return Lot(Scrambled(hn::Xor(first, second)));
            });
        case FormulaOp::arc_tangent:
            return each([](VF y, VF x, VF) {
                const VF ax = hn::Abs(x), ay = hn::Abs(y), most = hn::Max(hn::Max(ax, ay), hn::Set(F(), 1e-30f));
                VF angle = hn::Atan(F(), hn::Div(hn::Min(ax, ay), most));
                angle = hn::IfThenElse(hn::Gt(ay, ax), hn::Sub(hn::Set(F(), 1.57079633f), angle), angle);
                angle = hn::IfThenElse(hn::Lt(x, hn::Zero(F())), hn::Sub(hn::Set(F(), 3.14159265f), angle), angle);
                return hn::IfThenElse(hn::Lt(y, hn::Zero(F())), hn::Neg(angle), angle);
            });
        default: return each([](VF x, VF, VF) { return x; });
    }
}

HWY_INLINE VF Wrapped(VF whole, float count) {
    const F f;
    const VF n = hn::Set(f, count);
    return hn::Sub(whole, hn::Mul(n, hn::Floor(hn::Mul(hn::Add(whole, Half()), hn::Set(f, 1.0f / count)))));
}

void Cells(FormulaOp op, int cells, std::uint32_t seed, const float* HWY_RESTRICT u, const float* HWY_RESTRICT v, int count,
           float* HWY_RESTRICT out) {
    const F f;
    const U w;
    const auto n = static_cast<float>(cells);
    for (int x = 0; x < count; x += static_cast<int>(hn::Lanes(f))) {
        const VF p = hn::Mul(Fraction(hn::LoadU(f, u + x)), hn::Set(f, n)),
                 q = hn::Mul(Fraction(hn::LoadU(f, v + x)), hn::Set(f, n));
        const VF i = hn::Floor(p), j = hn::Floor(q);
        const VF px = hn::Sub(p, i), py = hn::Sub(q, j);
        VF nearest = hn::Set(f, 9.0f), second = nearest, tone = hn::Zero(f);
        for (int b = -1; b <= 1; ++b)
            for (int a = -1; a <= 1; ++a) {
                const VF column = Wrapped(hn::Add(i, hn::Set(f, static_cast<float>(a))), n);
                const VF row = Wrapped(hn::Add(j, hn::Set(f, static_cast<float>(b))), n);
                const VU key = hn::BitCast(w, Counted(hn::MulAdd(row, hn::Set(f, n), column)));
                const VU hash = Scrambled(hn::Xor(hn::Mul(key, hn::Set(w, 0x9E3779B1u)), hn::Set(w, seed)));
                const VU more = hn::Mul(hash, hn::Set(w, 0x85EBCA77u));
                const VF dx = hn::Sub(hn::Add(Lot(hash), hn::Set(f, static_cast<float>(a))), px);
                const VF dy = hn::Sub(hn::Add(Lot(more), hn::Set(f, static_cast<float>(b))), py);
                const VF distance = hn::MulAdd(dx, dx, hn::Mul(dy, dy));
                const auto nearer = hn::Lt(distance, nearest);
                second = hn::Min(second, hn::Max(distance, nearest));
                tone = hn::IfThenElse(nearer, Lot(hn::Mul(Scrambled(more), hn::Set(w, 0x9E3779B1u))), tone);
                nearest = hn::Min(nearest, distance);
            }
        VF value = tone;
        if (op == FormulaOp::cells) value = hn::Sqrt(nearest);
        if (op == FormulaOp::cell_edge) value = hn::Sub(hn::Sqrt(second), hn::Sqrt(nearest));
        hn::StoreU(value, f, out + x);
    }
}

void Sound(float* HWY_RESTRICT values, int count) {
    const F f;
    for (int x = 0; x < count; x += static_cast<int>(hn::Lanes(f))) {
        const VF value = hn::LoadU(f, values + x);
        // A comparison with something that is no number is false.
        hn::StoreU(hn::IfThenElseZero(hn::Lt(hn::Abs(value), hn::Set(f, 1e6f)), value), f, values + x);
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Apply);
HWY_EXPORT(Cells);
HWY_EXPORT(Sound);

void formula_apply(FormulaOp op, const float* a, const float* b, const float* c, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(Apply)(op, a, b, c, count, out);
}
void formula_cells(FormulaOp op, int cells, std::uint32_t seed, const float* u, const float* v, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(Cells)(op, cells, seed, u, v, count, out);
}
void formula_sound(float* values, int count) { HWY_DYNAMIC_DISPATCH(Sound)(values, count); }
}  // namespace loom
#endif
