// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/stroke_kernel.h"

#include "core/base/quick_math.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/stroke_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

/// A part as one row sees it.
struct Near {
    const StrokePart* part;
    int from, to;
};

/// The parts near a row and the columns they may cover; how many they are.
HWY_INLINE int FindNear(const StrokePen& pen, const StrokePart* const* parts, int count, float row, int width, Near* near,
                        StrokeSpan& span) {
    const float reach = pen.half + pen.edge, end = static_cast<float>(width - 1);
    int found = 0;
    span = {width, -1};
    for (int k = 0; k < count; ++k) {
        const StrokePart* part = parts[k];
        if (row < part->top - reach || row > part->bottom + reach) continue;
        // The piece that is near this row bounds the columns.
        const float py = row - part->y;
        float low = 0, high = 1;
        if (part->per_wy != 0) {
            const float t0 = (py - reach) * part->per_wy, t1 = (py + reach) * part->per_wy;
            low = unit_cut(least(t0, t1)), high = unit_cut(most(t0, t1));
        }
        const float x0 = part->x + low * part->wx, x1 = part->x + high * part->wx;
        const float left = most(least(x0, x1) - reach + pen.dx + 1, 0.0f), right = least(most(x0, x1) + reach + pen.dx, end);
        if (right < left) continue;
        Near& here = near[found++];
        here = {part, static_cast<int>(left), static_cast<int>(right)};
        span.first = here.from < span.first ? here.from : span.first, span.last = here.to > span.last ? here.to : span.last;
    }
    return found;
}

template <class D>
struct Ink {
    using V = hn::Vec<D>;
    D d;
    V zero = hn::Zero(d), one = hn::Set(d, 1.0f), begun, tip, deep;

    /// `way`: how far along the stroke, 0..1.
    HWY_INLINE void Paint(StrokeMix mix, V cover, V way, float* picture, float* whole, float* height) const {
        const V tone = hn::MulAdd(way, tip, begun);
        const V before = hn::LoadU(d, picture);
        switch (mix) {
            case StrokeMix::lighter: hn::StoreU(hn::Max(before, hn::Mul(cover, tone)), d, picture); break;
            case StrokeMix::darker: hn::StoreU(hn::Min(before, hn::NegMulAdd(cover, hn::Sub(one, tone), one)), d, picture); break;
            case StrokeMix::over: {
                const V w = hn::LoadU(d, whole);
                hn::StoreU(hn::MulAdd(cover, hn::Sub(one, w), w), d, whole);
                hn::StoreU(hn::MulAdd(cover, hn::Sub(tone, before), before), d, picture);
                break;
            }
            case StrokeMix::taken: hn::StoreU(hn::NegMulAdd(cover, tone, before), d, picture); break;
        }
        if (!height) return;
        const V h = hn::LoadU(d, height);
        if (mix == StrokeMix::taken) {
            hn::StoreU(hn::Max(hn::NegMulAdd(cover, deep, h), zero), d, height);
        } else {
            // Strokes that cross lie on each other.
            const V piled = hn::MulAdd(hn::Mul(cover, hn::Set(d, 0.35f)), hn::Sub(one, h), hn::Mul(h, hn::Set(d, 0.94f)));
            hn::StoreU(hn::IfThenElse(hn::Gt(cover, zero), piled, h), d, height);
        }
    }
};

/// Columns x and on, as many as D has lanes, of one row.
template <class D>
HWY_INLINE void Columns(D d, int x, float row, const StrokePen& pen, const Near* near, int found, const StrokeInk& ink,
                        float* picture, float* whole, float* height, float* cover_out, float* place_out) {
    using V = hn::Vec<D>;
    const V zero = hn::Zero(d), one = hn::Set(d, 1.0f);
    const int lanes = static_cast<int>(hn::Lanes(d));
    V cover = zero, place = zero;
    for (const Near* at = near; at < near + found; ++at) {
        if (at->from >= x + lanes || at->to < x) continue;
        const StrokePart& part = *at->part;
        const float py = row - part.y;
        const V px = hn::Iota(d, static_cast<float>(x) - pen.dx - part.x), wx = hn::Set(d, part.wx);
        const V along = hn::Mul(hn::MulAdd(px, wx, hn::Set(d, py * part.wy)), hn::Set(d, part.per_length2));
        const V t = hn::Min(hn::Max(along, zero), one);
        const V ox = hn::NegMulAdd(t, wx, px), oy = hn::NegMulAdd(t, hn::Set(d, part.wy), hn::Set(d, py));
        const V away = hn::Sqrt(hn::MulAdd(ox, ox, hn::Mul(oy, oy)));
        const V way = hn::MulAdd(t, hn::Set(d, part.share), hn::Set(d, part.start)),
                from_middle = hn::Sub(hn::Add(way, way), one);
        const V thin = hn::NegMulAdd(hn::Set(d, pen.taper), hn::Mul(from_middle, from_middle), one);
        const V inside =
            hn::Mul(hn::Add(hn::MulSub(hn::Set(d, pen.half), thin, away), hn::Set(d, pen.edge)), hn::Set(d, 0.5f / pen.edge));
        const V here = hn::Mul(hn::Mul(hn::Set(d, pen.fade), hn::Min(hn::Max(inside, zero), one)),
                               hn::Min(one, hn::Add(thin, hn::Set(d, 0.3f))));
        if (place_out || ink.tip != 0) place = hn::IfThenElse(hn::Gt(here, cover), way, place);
        cover = hn::Max(cover, here);
    }
    const Ink<D> paint{d, zero, one, hn::Set(d, ink.tone), hn::Set(d, ink.tip), hn::Set(d, ink.deep)};
    paint.Paint(ink.mix, cover, place, picture + x, whole ? whole + x : nullptr, height ? height + x : nullptr);
    if (cover_out) hn::StoreU(cover, d, cover_out + x), hn::StoreU(place, d, place_out + x);
}

/// A stroke of one part, as most pores and scratches are: what does not change from row to row is set once.
void Straight(const StrokePen& pen, const StrokePart& part, const StrokeInk& ink, const StrokePaper& paper) {
    const hn::CappedTag<float, 8> f;
    const hn::CappedTag<float, 1> single;
    using V = hn::Vec<decltype(f)>;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const V zero = hn::Zero(f), one = hn::Set(f, 1.0f), wx = hn::Set(f, part.wx), wy = hn::Set(f, part.wy),
            per_length2 = hn::Set(f, part.per_length2), share = hn::Set(f, 2 * part.share),
            start = hn::Set(f, 2 * part.start - 1), taper = hn::Set(f, pen.taper), half = hn::Set(f, pen.half),
            edge = hn::Set(f, pen.edge), per_edge = hn::Set(f, 0.5f / pen.edge), fade = hn::Set(f, pen.fade),
            least = hn::Set(f, 0.3f), iota = hn::Iota(f, -pen.dx - part.x);
    const Ink<decltype(f)> paint{f, zero, one, hn::Set(f, ink.tone), hn::Set(f, ink.tip), hn::Set(f, ink.deep)};
    const V half_one = hn::Set(f, 0.5f);
    Near near;
    const StrokePart* const alone = &part;
    for (int y = 0; y < paper.rows; ++y) {
        const float row = pen.row + static_cast<float>(y), py = row - part.y;
        StrokeSpan span;
        if (FindNear(pen, &alone, 1, row, paper.width, &near, span) == 0) continue;
        const auto first = static_cast<std::size_t>(y) * static_cast<std::size_t>(paper.width);
        float *picture = paper.picture + first, *whole = paper.whole ? paper.whole + first : nullptr,
              *height = paper.height ? paper.height + first : nullptr;
        const V along_y = hn::Set(f, py * part.wy), away_y = hn::Set(f, py);
        int x = span.first;
        for (; x <= span.last && x + lanes <= paper.width; x += lanes) {
            const V px = hn::Add(iota, hn::Set(f, static_cast<float>(x)));
            const V t = hn::Min(hn::Max(hn::Mul(hn::MulAdd(px, wx, along_y), per_length2), zero), one);
            const V ox = hn::NegMulAdd(t, wx, px), oy = hn::NegMulAdd(t, wy, away_y);
            const V away = hn::Sqrt(hn::MulAdd(ox, ox, hn::Mul(oy, oy))), from_middle = hn::MulAdd(t, share, start);
            const V thin = hn::NegMulAdd(taper, hn::Mul(from_middle, from_middle), one);
            const V inside = hn::Mul(hn::Add(hn::MulSub(half, thin, away), edge), per_edge);
            const V cover = hn::Mul(hn::Mul(fade, hn::Min(hn::Max(inside, zero), one)), hn::Min(one, hn::Add(thin, least)));
            paint.Paint(ink.mix, cover, hn::MulAdd(from_middle, half_one, half_one), picture + x, whole ? whole + x : nullptr,
                        height ? height + x : nullptr);
        }
        for (; x <= span.last; ++x) Columns(single, x, row, pen, &near, 1, ink, picture, whole, height, nullptr, nullptr);
    }
}

void Stroke(const StrokePen& pen, const StrokePart* parts, int count, const StrokeInk& ink, const StrokePaper& paper,
            const StrokeTrace* trace) {
    if (count == 1 && !trace) return Straight(pen, *parts, ink, paper);
    // Most rows of a stroke are narrow.
    const hn::CappedTag<float, 8> f;
    const hn::CappedTag<float, 1> single;
    const int lanes = static_cast<int>(hn::Lanes(f));
    Near near[most_stroke_parts];
    // Most parts of a long stroke lie above or below these rows, or beside the picture.
    const StrokePart* candidates[most_stroke_parts];
    int some = 0;
    const float reach = pen.half + pen.edge, last_row = pen.row + static_cast<float>(paper.rows - 1);
    for (const StrokePart* part = parts; part < parts + count; ++part) {
        const float x = part->x + pen.dx, end = x + part->wx;
        if (last_row < part->top - reach || pen.row > part->bottom + reach || most(x, end) < -reach ||
            least(x, end) > static_cast<float>(paper.width) + reach)
            continue;
        candidates[some++] = part;
    }
    for (int y = 0; y < paper.rows; ++y) {
        const float row = pen.row + static_cast<float>(y);
        StrokeSpan span{paper.width, -1};
        const int found = some == 0 ? 0 : FindNear(pen, candidates, some, row, paper.width, near, span);
        if (trace) trace->spans[y] = span;
        if (found == 0) continue;
        const auto start = static_cast<std::size_t>(y) * static_cast<std::size_t>(paper.width);
        float *picture = paper.picture + start, *whole = paper.whole ? paper.whole + start : nullptr,
              *height = paper.height ? paper.height + start : nullptr;
        float *cover = trace ? trace->cover + static_cast<std::size_t>(y) * trace->stride : nullptr,
              *place = trace ? trace->place + static_cast<std::size_t>(y) * trace->stride : nullptr;
        // A vector must not reach into the next row, which may be another thread's.
        int x = span.first;
        for (; x <= span.last && x + lanes <= paper.width; x += lanes)
            Columns(f, x, row, pen, near, found, ink, picture, whole, height, cover, place);
        for (; x <= span.last; ++x) Columns(single, x, row, pen, near, found, ink, picture, whole, height, cover, place);
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Stroke);

void paint_stroke(const StrokePen& pen, const StrokePart* parts, int count, const StrokeInk& ink, const StrokePaper& paper,
                  const StrokeTrace* trace) {
    HWY_DYNAMIC_DISPATCH(Stroke)(pen, parts, count, ink, paper, trace);
}

}  // namespace loom
#endif
