// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/cell_kernel.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/noise/cell_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include <hwy/contrib/math/math-inl.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

using F = hn::ScalableTag<float>;
using I = hn::RebindToSigned<F>;
using VF = hn::Vec<F>;

template <CellMetric M>
HWY_INLINE VF Distance(VF dx, VF dy) {
    if constexpr (M == CellMetric::euclid) return hn::MulAdd(dx, dx, hn::Mul(dy, dy));
    if constexpr (M == CellMetric::manhattan) return hn::Add(hn::Abs(dx), hn::Abs(dy));
    return hn::Max(hn::Abs(dx), hn::Abs(dy));
}

HWY_INLINE VF Places(const CellSpan& span, int x) {
    const F f;
    return hn::MulAdd(hn::Iota(f, static_cast<float>(x)), hn::Set(f, span.step), hn::Set(f, span.dx));
}

template <CellMetric M>
HWY_INLINE void OfferOne(const CellSpan& span, float* HWY_RESTRICT nearest, std::int32_t* HWY_RESTRICT owner) {
    const F f;
    const I d;
    const VF dy = hn::Set(f, span.dy);
    const auto id = hn::Set(d, span.cell);
    for (int x = 0; x < span.count; x += static_cast<int>(hn::Lanes(f))) {
        const VF distance = Distance<M>(Places(span, x), dy);
        const VF before = hn::LoadU(f, nearest + x);
        const auto nearer = hn::Lt(distance, before);
        hn::StoreU(hn::Min(distance, before), f, nearest + x);
        hn::StoreU(hn::IfThenElse(hn::RebindMask(d, nearer), id, hn::LoadU(d, owner + x)), d, owner + x);
    }
}

template <CellMetric M>
void OfferIn(const std::vector<CellSpan>& spans, float* nearest, std::int32_t* owner) {
    for (const CellSpan& span : spans) OfferOne<M>(span, nearest + span.at, owner + span.at);
}

void Offer(CellMetric metric, const std::vector<CellSpan>& spans, float* nearest, std::int32_t* owner) {
    switch (metric) {
        case CellMetric::euclid: return OfferIn<CellMetric::euclid>(spans, nearest, owner);
        case CellMetric::manhattan: return OfferIn<CellMetric::manhattan>(spans, nearest, owner);
        case CellMetric::chebyshev: return OfferIn<CellMetric::chebyshev>(spans, nearest, owner);
    }
}

/// Distance (Euclid's) to the line of places that are as far from 0 as from (a, b) by rows and columns: a slanted piece within
/// the box of both points, and a straight one on from each of its ends. Half the difference of both distances, which is used
/// elsewhere, is the same over whole areas beside that box.
HWY_INLINE VF ToBend(VF x, VF y, float a, float b) {
    const F f;
    if (a < 0) x = hn::Neg(x), a = -a;
    if (b < 0) y = hn::Neg(y), b = -b;
    if (a < b) {
        const VF swapped = x;
        x = y, y = swapped;
        const float other = a;
        a = b, b = other;
    }
    auto square = [](VF across, VF down) { return hn::MulAdd(across, across, hn::Mul(down, down)); };
    const VF zero = hn::Zero(f), from_first = hn::Sub(x, hn::Set(f, 0.5f * (a + b))),
             from_last = hn::Sub(x, hn::Set(f, 0.5f * (a - b)));
    const VF first = square(from_first, hn::Max(y, zero)), last = square(from_last, hn::Min(hn::Sub(y, hn::Set(f, b)), zero));
    const VF t = hn::Min(hn::Max(hn::Mul(hn::Sub(y, from_first), hn::Set(f, 0.5f)), zero), hn::Set(f, b));
    const VF slanted = square(hn::Add(from_first, t), hn::Sub(y, t));
    return hn::Sqrt(hn::Min(slanted, hn::Min(first, last)));
}

template <CellMetric M>
HWY_INLINE VF ToBorder(VF dx, VF dy, float a, float b) {
    if constexpr (M == CellMetric::manhattan) return ToBend(dx, dy, a, b);
    // The longer of both ways is the sum of both, turned by 45 degrees.
    constexpr float c = 0.70710678f;
    const VF half = hn::Set(F(), c);
    return ToBend(hn::Mul(half, hn::Add(dx, dy)), hn::Mul(half, hn::Sub(dx, dy)), c * (a + b), c * (a - b));
}

/// Distance to the true border with one neighbour, for places round the cell's point.
template <CellMetric M>
HWY_INLINE VF Line(const CellSide& side, VF dx, float dy, VF own) {
    const F f;
    VF b;
    if constexpr (M == CellMetric::euclid)
        b = hn::MulAdd(dx, hn::Set(f, side.across), hn::Set(f, side.middle + dy * side.down));
    else
        b = hn::IfThenElseZero(hn::Gt(Distance<M>(hn::Sub(dx, hn::Set(f, side.dx)), hn::Set(f, dy - side.dy)), own),
                               hn::Mul(ToBorder<M>(dx, hn::Set(f, dy), side.dx, side.dy), hn::Set(f, side.scale)));
    return hn::Max(b, hn::Zero(f));
}

/// Distances to the true borders with all neighbours, kept so that each is worked out once.
constexpr std::size_t most_sides = 64;
struct Kept {
    HWY_ALIGN float lines[most_sides * HWY_MAX_BYTES / sizeof(float)];
    HWY_INLINE VF At(std::size_t k) const { return hn::Load(F(), lines + k * hn::Lanes(F())); }
};
template <CellMetric M>
HWY_INLINE std::size_t Keep(const std::vector<CellSide>& sides, VF dx, float dy, VF own, float rounding, Kept& kept) {
    const F f;
    const std::size_t count = sides.size() < most_sides ? sides.size() : most_sides, lanes = hn::Lanes(f);
    if constexpr (M == CellMetric::euclid) {
        for (std::size_t k = 0; k < count; ++k) hn::Store(Line<M>(sides[k], dx, dy, own), f, kept.lines + k * lanes);
        return count;
    }
    // How much farther a neighbour is bounds the way to the line between: it is at least half of it over the square root of 2.
    // Most neighbours are too far to count, and need not be measured.
    VF nearest = hn::Set(f, 1e30f), nearest_lifted = nearest;
    const VF soft = hn::Set(f, 8 * rounding);
    for (std::size_t k = 0; k < count; ++k) {
        const CellSide& side = sides[k];
        const VF more = hn::Sub(Distance<M>(hn::Sub(dx, hn::Set(f, side.dx)), hn::Set(f, dy - side.dy)), own),
                 least = hn::Mul(hn::Max(more, hn::Zero(f)), hn::Set(f, 0.35355339f * side.scale)), lift = hn::Set(f, side.lift);
        const auto counts = hn::Or(hn::Le(least, nearest), hn::Le(hn::Add(least, lift), hn::Add(nearest_lifted, soft)));
        const VF line = hn::AllFalse(f, counts) ? least : Line<M>(side, dx, dy, own);
        nearest = hn::Min(nearest, line), nearest_lifted = hn::Min(nearest_lifted, hn::Add(line, lift));
        hn::Store(line, f, kept.lines + k * lanes);
    }
    return count;
}

/// Distance to a cell's border after merging and rounding.
HWY_INLINE VF Border(const std::vector<CellSide>& sides, std::size_t count, const Kept& kept, float rounding) {
    const F f;
    VF border = hn::Set(f, 1e30f);
    for (std::size_t k = 0; k < count; ++k) border = hn::Min(border, hn::Add(kept.At(k), hn::Set(f, sides[k].lift)));
    if (rounding <= 0) return border;
    // -r log(sum of exp(-b / r)), taken from the least so that nothing overflows.
    const VF sharp = hn::Set(f, -1.0f / rounding);
    VF sum = hn::Zero(f);
    for (std::size_t k = 0; k < count; ++k) {
        const VF b = hn::Add(kept.At(k), hn::Set(f, sides[k].lift));
        sum = hn::Add(sum, hn::Exp(f, hn::Mul(hn::Sub(b, border), sharp)));
    }
    return hn::Max(hn::Zero(f), hn::Sub(border, hn::Mul(hn::Set(f, rounding), hn::Log(f, sum))));
}

/// The lot of the nearest border, mixed by how near each is, or it would jump where two are as near.
HWY_INLINE VF Pair(const std::vector<CellSide>& sides, std::size_t count, const Kept& kept, float soft) {
    const F f;
    VF edge = hn::Set(f, 1e30f), sum = hn::Zero(f), weights = hn::Zero(f);
    for (std::size_t k = 0; k < count; ++k) edge = hn::Min(edge, kept.At(k));
    const VF sharp = hn::Set(f, -1 / soft);
    for (std::size_t k = 0; k < count; ++k) {
        const VF weight = hn::Exp(f, hn::Mul(hn::Sub(kept.At(k), edge), sharp));
        sum = hn::MulAdd(weight, hn::Set(f, sides[k].pair), sum), weights = hn::Add(weights, weight);
    }
    return hn::Div(sum, weights);
}

template <CellMetric M>
void ShadeIn(const CellSpan& span, const std::int32_t* HWY_RESTRICT owner, const float* HWY_RESTRICT nearest,
             const CellShade& shade) {
    const F f;
    const I d;
    const std::vector<CellSide>& sides = (*shade.sides)[static_cast<std::size_t>(span.cell)];
    for (int x = 0; x < span.count; x += static_cast<int>(hn::Lanes(f))) {
        const VF dx = Places(span, x), own = Distance<M>(dx, hn::Set(f, span.dy));
        // In a small tile another copy of the same cell may be the owner: then it is nearer.
        const auto close = hn::Le(own, hn::Mul(hn::LoadU(f, nearest + x), hn::Set(f, 1.00001f)));
        const auto mine = hn::And(hn::And(hn::Eq(hn::LoadU(d, owner + x), hn::Set(d, span.cell)), hn::RebindMask(d, close)),
                                  hn::FirstN(d, static_cast<std::size_t>(span.count - x)));
        if (hn::AllFalse(d, mine)) continue;
        const auto kept = hn::RebindMask(f, mine);
        auto put = [&](VF value, float* to) { hn::StoreU(hn::IfThenElse(kept, value, hn::LoadU(f, to + x)), f, to + x); };
        auto distance_to = [&](const CellSide& side) {
            return Distance<M>(hn::Sub(dx, hn::Set(f, side.dx)), hn::Set(f, span.dy - side.dy));
        };
        if (shade.second) {
            VF second = hn::Set(f, 1e30f);
            for (const CellSide& side : sides) second = hn::Min(second, distance_to(side));
            put(second, shade.second);
        }
        if (!shade.border) continue;
        Kept lines;
        const std::size_t count = Keep<M>(sides, dx, span.dy, own, shade.rounding, lines);
        VF edge = hn::Set(f, 1e30f), other = hn::Zero(f);
        for (std::size_t k = 0; k < count; ++k) {
            const VF b = lines.At(k);
            other = hn::IfThenElse(hn::Lt(b, edge), hn::Set(f, sides[k].tone), other);
            edge = hn::Min(edge, b);
        }
        VF pair = shade.pair ? Pair(sides, count, lines, shade.pair_soft) : hn::Zero(f);
        VF border = Border(sides, count, lines, shade.rounding);
        if (shade.blends) {
            // Where cells run together both have a say, by weights that are the same from either side.
            VF weights = hn::Set(f, 1.0f);
            for (const CellSide& side : (*shade.blends)[static_cast<std::size_t>(span.cell)]) {
                const VF away = hn::Mul(hn::Sub(distance_to(side), own), hn::Set(f, -1.0f / cell_blend));
                const VF near = hn::Max(hn::Zero(f), hn::Add(hn::Set(f, 1.0f), away));
                if (hn::AllFalse(f, hn::And(kept, hn::Gt(near, hn::Zero(f))))) continue;
                const VF weight = hn::Mul(near, near);
                const std::vector<CellSide>& theirs = (*shade.sides)[static_cast<std::size_t>(side.cell)];
                const VF their_dx = hn::Sub(dx, hn::Set(f, side.dx));
                const float their_dy = span.dy - side.dy;
                const std::size_t their_count =
                    Keep<M>(theirs, their_dx, their_dy, Distance<M>(their_dx, hn::Set(f, their_dy)), shade.rounding, lines);
                if (shade.merges) border = hn::MulAdd(weight, Border(theirs, their_count, lines, shade.rounding), border);
                if (shade.pair) pair = hn::MulAdd(weight, Pair(theirs, their_count, lines, shade.pair_soft), pair);
                weights = hn::Add(weights, weight);
            }
            if (shade.merges) border = hn::Div(border, weights);
            if (shade.pair) pair = hn::Div(pair, weights);
        }
        if (shade.pair) put(pair, shade.pair);
        put(border, shade.border), put(edge, shade.edge);
        const VF own_tone = hn::Set(f, shade.own_tone);
        const VF share = hn::Max(hn::Zero(f), hn::NegMulAdd(edge, hn::Set(f, shade.pixels), hn::Set(f, 0.5f)));
        put(hn::MulAdd(share, hn::Sub(other, own_tone), own_tone), shade.tone);
    }
}

void ShadeAny(const CellSpan& span, const std::int32_t* owner, const float* nearest, const CellShade& shade) {
    switch (shade.metric) {
        case CellMetric::euclid: return ShadeIn<CellMetric::euclid>(span, owner, nearest, shade);
        case CellMetric::manhattan: return ShadeIn<CellMetric::manhattan>(span, owner, nearest, shade);
        case CellMetric::chebyshev: return ShadeIn<CellMetric::chebyshev>(span, owner, nearest, shade);
    }
}

void Roots(const float* HWY_RESTRICT squares, float factor, int count, float* HWY_RESTRICT out) {
    const F f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    int x = 0;
    for (; x + lanes <= count; x += lanes)
        hn::StoreU(hn::Mul(hn::Set(f, factor), hn::Sqrt(hn::LoadU(f, squares + x))), f, out + x);
    for (; x < count; ++x) out[x] = factor * std::sqrt(squares[x]);
}

void Dome(const float* HWY_RESTRICT border, float depth, int count, float* HWY_RESTRICT out) {
    const F f;
    const VF sharp = hn::Set(f, -1.0f / depth), one = hn::Set(f, 1.0f);
    for (int x = 0; x < count; x += static_cast<int>(hn::Lanes(f)))
        hn::StoreU(hn::Sub(one, hn::Exp(f, hn::Mul(sharp, hn::LoadU(f, border + x)))), f, out + x);
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Offer);
HWY_EXPORT(ShadeAny);
HWY_EXPORT(Dome);
HWY_EXPORT(Roots);

void cell_offer(CellMetric metric, const std::vector<CellSpan>& spans, float* nearest, std::int32_t* owner) {
    HWY_DYNAMIC_DISPATCH(Offer)(metric, spans, nearest, owner);
}
void cell_shade(const CellSpan& span, const std::int32_t* owner, const float* nearest, const CellShade& shade) {
    HWY_DYNAMIC_DISPATCH(ShadeAny)(span, owner, nearest, shade);
}
void root_row(const float* squares, float factor, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(Roots)(squares, factor, count, out);
}
void dome_row(const float* border, float depth, int count, float* out) { HWY_DYNAMIC_DISPATCH(Dome)(border, depth, count, out); }
}  // namespace loom
#endif
