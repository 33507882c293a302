// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/cell_kernel.h"

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

template <CellMetric M>
void ShadeIn(const CellSpan& span, const std::int32_t* HWY_RESTRICT owner, const CellShade& shade) {
    const F f;
    const I d;
    const VF dy = hn::Set(f, span.dy), huge = hn::Set(f, 1e30f);
    const bool soft = shade.rounding > 0;
    const VF sharp = hn::Set(f, soft ? -1.0f / shade.rounding : 0.0f);
    for (int x = 0; x < span.count; x += static_cast<int>(hn::Lanes(f))) {
        // No further than the span: in a small tile another copy of the same cell may follow.
        const auto mine = hn::And(hn::Eq(hn::LoadU(d, owner + x), hn::Set(d, span.cell)),
                                  hn::FirstN(d, static_cast<std::size_t>(span.count - x)));
        if (hn::AllFalse(d, mine)) continue;
        const auto kept = hn::RebindMask(f, mine);
        const VF dx = Places(span, x), place = hn::Iota(f, static_cast<float>(x));
        [[maybe_unused]] const VF own = Distance<M>(dx, dy);
        VF second = huge, border = huge, edge = huge, other = hn::Zero(f);
        auto line = [&](const CellSide& side) {
            VF b;
            if constexpr (M == CellMetric::euclid)
                b = hn::MulAdd(place, hn::Set(f, side.along), hn::Set(f, side.base));
            else
                b = hn::Mul(hn::Sub(Distance<M>(hn::Sub(dx, hn::Set(f, side.dx)), hn::Set(f, span.dy - side.dy)), own),
                            hn::Set(f, 0.5f * side.scale));
            return hn::Max(b, hn::Zero(f));
        };
        for (int k = 0; k < shade.side_count; ++k) {
            const CellSide& side = shade.sides[k];
            if (shade.second)
                second = hn::Min(second, Distance<M>(hn::Sub(dx, hn::Set(f, side.dx)), hn::Set(f, span.dy - side.dy)));
            if (shade.border) {
                const VF b = line(side);
                other = hn::IfThenElse(hn::Lt(b, edge), hn::Set(f, side.tone), other);
                edge = hn::Min(edge, b);
                border = hn::Min(border, hn::Add(b, hn::Set(f, side.lift)));
            }
        }
        if (shade.border && soft) {
            // -r log(sum of exp(-b / r)), taken from the least so that nothing overflows.
            VF sum = hn::Zero(f);
            for (int k = 0; k < shade.side_count; ++k)
                sum = hn::Add(
                    sum,
                    hn::Exp(f, hn::Mul(hn::Sub(hn::Add(line(shade.sides[k]), hn::Set(f, shade.sides[k].lift)), border), sharp)));
            border = hn::Max(hn::Zero(f), hn::Sub(border, hn::Mul(hn::Set(f, shade.rounding), hn::Log(f, sum))));
        }
        auto put = [&](VF value, float* to) { hn::StoreU(hn::IfThenElse(kept, value, hn::LoadU(f, to + x)), f, to + x); };
        if (shade.second) put(second, shade.second);
        if (shade.border) {
            put(border, shade.border), put(edge, shade.edge);
            const VF own_tone = hn::Set(f, shade.own_tone);
            const VF share = hn::Max(hn::Zero(f), hn::NegMulAdd(edge, hn::Set(f, shade.pixels), hn::Set(f, 0.5f)));
            put(hn::MulAdd(share, hn::Sub(other, own_tone), own_tone), shade.tone);
        }
    }
}

void ShadeAny(const CellSpan& span, const std::int32_t* owner, const CellShade& shade) {
    switch (shade.metric) {
        case CellMetric::euclid: return ShadeIn<CellMetric::euclid>(span, owner, shade);
        case CellMetric::manhattan: return ShadeIn<CellMetric::manhattan>(span, owner, shade);
        case CellMetric::chebyshev: return ShadeIn<CellMetric::chebyshev>(span, owner, shade);
    }
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

void cell_offer(CellMetric metric, const std::vector<CellSpan>& spans, float* nearest, std::int32_t* owner) {
    HWY_DYNAMIC_DISPATCH(Offer)(metric, spans, nearest, owner);
}
void cell_shade(const CellSpan& span, const std::int32_t* owner, const CellShade& shade) {
    HWY_DYNAMIC_DISPATCH(ShadeAny)(span, owner, shade);
}
void dome_row(const float* border, float depth, int count, float* out) { HWY_DYNAMIC_DISPATCH(Dome)(border, depth, count, out); }
}  // namespace loom
#endif
