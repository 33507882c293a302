// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Neighbours in a row are fetched together; gathering instructions are several times slower than single loads on many
// machines. A plane has room for such a load beyond its end (see Plane), and places whose neighbours lie on both sides of the
// tile edge are read again one by one.
#include "core/image/sample_kernel.h"

#include <cassert>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <cstring>

#include "core/image/sample.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/sample_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include <hwy/cache_control.h>

#ifndef LOOM_SAMPLE_ONE
#define LOOM_SAMPLE_ONE
namespace loom::sample_detail {
inline void one_bilinear(const float* const* planes, int plane_count, PlaneRows sheet, float x, float y, int at,
                         float* const* out) {
    for (int k = 0; k < plane_count; ++k) out[k][at] = sample_bilinear(planes[k], sheet, x, y);
}
inline void one_four(const float* values, Size size, float x, float y, int at, float* const* out) {
    x = near_place(x, size.width), y = near_place(y, size.height);
    const float left = std::floor(x), top = std::floor(y), tx = x - left, ty = y - top;
    const std::size_t columns[2] = {4 * static_cast<std::size_t>(wrap(static_cast<int>(left), size.width)),
                                    4 * static_cast<std::size_t>(wrap(static_cast<int>(left) + 1, size.width))};
    const float* rows[2];
    for (int j = 0; j < 2; ++j)
        rows[j] = values + 4 * static_cast<std::size_t>(wrap(static_cast<int>(top) + j, size.height)) *
                               static_cast<std::size_t>(size.width);
    for (std::size_t k = 0; k < 4; ++k) {
        const float a = rows[0][columns[0] + k], b = rows[0][columns[1] + k], c = rows[1][columns[0] + k],
                    d = rows[1][columns[1] + k];
        const float above = a + tx * (b - a), below = c + tx * (d - c);
        out[k][at] = above + ty * (below - above);
    }
}
inline void one_cubic(const float* const* planes, int plane_count, PlaneRows sheet, float x, float y, int at, float* const* out) {
    const CubicPlace place(sheet.size, x, y);
    for (int k = 0; k < plane_count; ++k) out[k][at] = place.read(planes[k], sheet);
}
}  // namespace loom::sample_detail
#endif

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

#if HWY_TARGET != HWY_SCALAR

using F = hn::ScalableTag<float>;
using I = hn::RebindToSigned<F>;
using VF = hn::Vec<F>;
using VI = hn::Vec<I>;

/// A place cut into the pixel before it, inside the tile, and what is left.
struct Cut {
    VI first;
    VF rest;
};

/// near_place of each.
HWY_INLINE VF NearPlaces(VF places, int count) {
    const F f;
    const I i;
    const VI bits = hn::And(hn::BitCast(i, places), hn::Set(i, 0x7fffffff));
    if (HWY_LIKELY(hn::AllFalse(i, hn::Gt(bits, hn::Set(i, static_cast<std::int32_t>(far_place_bits)))))) return places;
    HWY_ALIGN float each[hn::MaxLanes(F())];
    hn::Store(places, f, each);
    for (std::size_t n = 0; n < hn::Lanes(f); ++n) each[n] = near_place(each[n], count);
    return hn::Load(f, each);
}

HWY_INLINE Cut CutAt(VF place, int count, int before) {
    const F f;
    const I i;
    VF whole = hn::Floor(place);
    const VI n = hn::Set(i, count);
    VI plain = hn::Sub(hn::ConvertTo(i, whole), hn::Set(i, before));
    if (HWY_LIKELY(hn::AllFalse(i, hn::Or(hn::Lt(plain, hn::Zero(i)), hn::Gt(plain, hn::Set(i, count - 1))))))
        return {plain, hn::Sub(place, whole)};
    // A place that is too far to be told never comes out of the conversion as one inside the tile.
    place = NearPlaces(place, count), whole = hn::Floor(place);
    plain = hn::Sub(hn::ConvertTo(i, whole), hn::Set(i, before));
    // How many tiles away; a rounding error there is mended by one more turn.
    const VI tiles = hn::ConvertTo(i, hn::Floor(hn::Mul(whole, hn::Set(f, 1.0f / static_cast<float>(count)))));
    VI first = hn::Sub(plain, hn::Mul(tiles, n));
    first = hn::Add(first, hn::IfThenElseZero(hn::Lt(first, hn::Zero(i)), n));
    first = hn::Sub(first, hn::IfThenElseZero(hn::Gt(first, hn::Set(i, count - 1)), n));
    first = hn::Add(first, hn::IfThenElseZero(hn::Lt(first, hn::Zero(i)), n));
    return {first, hn::Sub(place, whole)};
}

HWY_INLINE VI Next(VI index, int count) {
    const I i;
    const VI next = hn::Add(index, hn::Set(i, 1));
    return hn::IfThenElse(hn::Eq(next, hn::Set(i, count)), hn::Zero(i), next);
}

/// A row of the tile as one of those that are there.
HWY_INLINE VI Held(VI row, const PlaneRows& sheet) {
    const I i;
    if (sheet.first == 0) return row;
    const VI held = hn::Sub(row, hn::Set(i, sheet.first));
    return hn::Add(held, hn::IfThenElseZero(hn::Lt(held, hn::Zero(i)), hn::Set(i, sheet.size.height)));
}

HWY_INLINE VF Between(VF a, VF b, VF t) { return hn::MulAdd(t, hn::Sub(b, a), a); }

HWY_INLINE VI Pixel(VI row, VI column, int width) { return hn::Add(hn::Mul(row, hn::Set(I(), width)), column); }

HWY_INLINE void Keys(VF t, VF w[4]) {
    const F f;
    auto c = [&](float value) { return hn::Set(f, value); };
    const VF t2 = hn::Mul(t, t);
    w[0] = hn::Mul(t, hn::MulAdd(t, hn::MulAdd(t, c(-0.5f), c(1.0f)), c(-0.5f)));
    w[1] = hn::MulAdd(t2, hn::MulAdd(t, c(1.5f), c(-2.5f)), c(1.0f));
    w[2] = hn::Mul(t, hn::MulAdd(t, hn::MulAdd(t, c(-1.5f), c(2.0f)), c(0.5f)));
    w[3] = hn::Mul(t2, hn::MulAdd(t, c(0.5f), c(-0.5f)));
}

/// Places are worked on in blocks: where to read, in wide vectors; the reading, one by one; what becomes of it, wide again.
constexpr int block = 64;

HWY_INLINE void Fetch(const float* plane, const std::int32_t* pixels) {
    for (int n = 0; n < block; n += 4) hwy::Prefetch(plane + pixels[n]);
}

/// The next block mostly reads on from where this one does.
HWY_INLINE void FetchAhead(const float* plane, const std::int32_t* pixels) {
    for (int n = 0; n < block; n += 16) hwy::Prefetch(plane + pixels[n] + block);
}

void BilinearBlock(const float* const* planes, int plane_count, const PlaneRows& sheet, const float* x, const float* y,
                   float* const* out, int at) {
    const int width = sheet.size.width, height = sheet.size.height;
    const F f;
    const I i;
    const int lanes = static_cast<int>(hn::Lanes(f));
    HWY_ALIGN std::int32_t top[block], low[block];
    HWY_ALIGN float across[block], down[block];
    HWY_ALIGN std::int64_t above[block], below[block];
    auto edge = hn::FirstN(i, 0);
    for (int n = 0; n < block; n += lanes) {
        const Cut column = CutAt(hn::LoadU(f, x + at + n), width, 0), row = CutAt(hn::LoadU(f, y + at + n), height, 0);
        hn::Store(Pixel(Held(row.first, sheet), column.first, width), i, top + n);
        hn::Store(Pixel(Held(Next(row.first, height), sheet), column.first, width), i, low + n);
        hn::Store(column.rest, f, across + n), hn::Store(row.rest, f, down + n);
        edge = hn::Or(edge, hn::Eq(column.first, hn::Set(i, width - 1)));
    }
    for (int n = 0; n < block; ++n) assert(sheet.holds(top[n]) && sheet.holds(low[n]));
    for (int k = 0; k < plane_count; ++k) Fetch(planes[k], top), FetchAhead(planes[k], low);
    for (int k = 0; k < plane_count; ++k) {
        const float* plane = planes[k];
        for (int n = 0; n < block; ++n) {
            std::memcpy(above + n, plane + top[n], sizeof(std::int64_t));
            std::memcpy(below + n, plane + low[n], sizeof(std::int64_t));
        }
        for (int n = 0; n < block; n += lanes) {
            VF a, b, c, d;
            hn::LoadInterleaved2(f, reinterpret_cast<const float*>(above + n), a, b);
            hn::LoadInterleaved2(f, reinterpret_cast<const float*>(below + n), c, d);
            const VF tx = hn::Load(f, across + n);
            hn::StoreU(Between(Between(a, b, tx), Between(c, d, tx), hn::Load(f, down + n)), f, out[k] + at + n);
        }
    }
    if (HWY_UNLIKELY(!hn::AllFalse(i, edge)))
        for (int n = 0; n < block; ++n)
            if (top[n] % width == width - 1)
                sample_detail::one_bilinear(planes, plane_count, sheet, x[at + n], y[at + n], at + n, out);
}

void Bilinear(const float* const* planes, int plane_count, const PlaneRows& sheet, const float* x, const float* y, int count,
              float* const* out) {
    int at = 0;
    for (; at + block <= count; at += block) BilinearBlock(planes, plane_count, sheet, x, y, out, at);
    for (; at < count; ++at) sample_detail::one_bilinear(planes, plane_count, sheet, x[at], y[at], at, out);
}

void FourBlock(const float* values, int width, int height, const float* x, const float* y, float* const* out, int at) {
    const F f;
    const I i;
    const hn::FixedTag<float, 4> d;
    const int lanes = static_cast<int>(hn::Lanes(f));
    HWY_ALIGN std::int32_t corner[4][block];
    HWY_ALIGN float across[block], down[block], read[4 * block];
    for (int n = 0; n < block; n += lanes) {
        const Cut column = CutAt(hn::LoadU(f, x + at + n), width, 0), row = CutAt(hn::LoadU(f, y + at + n), height, 0);
        const VI right = Next(column.first, width), below = Next(row.first, height);
        hn::Store(Pixel(row.first, column.first, width), i, corner[0] + n),
            hn::Store(Pixel(row.first, right, width), i, corner[1] + n);
        hn::Store(Pixel(below, column.first, width), i, corner[2] + n), hn::Store(Pixel(below, right, width), i, corner[3] + n);
        hn::Store(column.rest, f, across + n), hn::Store(row.rest, f, down + n);
    }
    auto place = [&](int c, int n) { return values + 4 * static_cast<std::ptrdiff_t>(corner[c][n]); };
    auto at_corner = [&](int c, int n) HWY_ATTR { return hn::LoadU(d, place(c, n)); };
    for (int n = 0; n < block; n += 4) hwy::Prefetch(place(0, n)), hwy::Prefetch(place(2, n));
    for (int n = 0; n < block; n += 8) hwy::Prefetch(place(2, n) + 4 * block);
    for (int n = 0; n < block; ++n) {
        const auto tx = hn::Set(d, across[n]), a = at_corner(0, n), c = at_corner(2, n);
        const auto above = hn::MulAdd(tx, hn::Sub(at_corner(1, n), a), a), below = hn::MulAdd(tx, hn::Sub(at_corner(3, n), c), c);
        hn::Store(hn::MulAdd(hn::Set(d, down[n]), hn::Sub(below, above), above), d, read + 4 * n);
    }
    for (int n = 0; n < block; n += lanes) {
        VF a, b, c, e;
        hn::LoadInterleaved4(f, read + 4 * n, a, b, c, e);
        hn::StoreU(a, f, out[0] + at + n), hn::StoreU(b, f, out[1] + at + n);
        hn::StoreU(c, f, out[2] + at + n), hn::StoreU(e, f, out[3] + at + n);
    }
}

void Four(const float* values, int width, int height, const float* x, const float* y, int count, float* const* out) {
    int at = 0;
    for (; at + block <= count; at += block) FourBlock(values, width, height, x, y, out, at);
    for (; at < count; ++at) sample_detail::one_four(values, Size{width, height}, x[at], y[at], at, out);
}

void CubicBlock(const float* const* planes, int plane_count, const PlaneRows& sheet, const float* x, const float* y,
                float* const* out, int at) {
    const int width = sheet.size.width, height = sheet.size.height;
    const F f;
    const I i;
    const int lanes = static_cast<int>(hn::Lanes(f));
    HWY_ALIGN std::int32_t pixel[4][block];
    HWY_ALIGN float across[4 * block], down[4][block];
    auto edge = hn::FirstN(i, 0);
    for (int n = 0; n < block; n += lanes) {
        const Cut column = CutAt(hn::LoadU(f, x + at + n), width, 1), row = CutAt(hn::LoadU(f, y + at + n), height, 1);
        VF w[4];
        Keys(column.rest, w);
        hn::StoreInterleaved4(w[0], w[1], w[2], w[3], f, across + 4 * n);
        Keys(row.rest, w);
        VI line = row.first;
        for (int j = 0; j < 4; ++j) {
            hn::Store(w[j], f, down[j] + n);
            hn::Store(Pixel(Held(line, sheet), column.first, width), i, pixel[j] + n);
            line = Next(line, height);
        }
        edge = hn::Or(edge, hn::Gt(column.first, hn::Set(i, width - 4)));
    }
    for (int j = 0; j < 4; ++j)
        for (int n = 0; n < block; ++n) assert(sheet.holds(pixel[j][n]));
    const hn::FixedTag<float, 4> d;
    for (int k = 0; k < plane_count; ++k) {
        const float* plane = planes[k];
        for (int j = 0; j < 4; ++j) FetchAhead(plane, pixel[j]);
        for (int n = 0; n < block; n += 4) {
            hn::Vec<decltype(d)> sum[4];
            for (int m = 0; m < 4; ++m) {
                auto part = hn::Mul(hn::Set(d, down[0][n + m]), hn::LoadU(d, plane + pixel[0][n + m]));
                for (int j = 1; j < 4; ++j)
                    part = hn::MulAdd(hn::Set(d, down[j][n + m]), hn::LoadU(d, plane + pixel[j][n + m]), part);
                sum[m] = hn::Mul(part, hn::Load(d, across + 4 * (n + m)));
            }
            const auto first = hn::Add(hn::InterleaveLower(d, sum[0], sum[1]), hn::InterleaveUpper(d, sum[0], sum[1]));
            const auto second = hn::Add(hn::InterleaveLower(d, sum[2], sum[3]), hn::InterleaveUpper(d, sum[2], sum[3]));
            hn::StoreU(hn::Add(hn::ConcatLowerLower(d, second, first), hn::ConcatUpperUpper(d, second, first)), d,
                       out[k] + at + n);
        }
    }
    if (HWY_UNLIKELY(!hn::AllFalse(i, edge)))
        for (int n = 0; n < block; ++n)
            if (pixel[0][n] % width > width - 4)
                sample_detail::one_cubic(planes, plane_count, sheet, x[at + n], y[at + n], at + n, out);
}

void Cubic(const float* const* planes, int plane_count, const PlaneRows& sheet, const float* x, const float* y, int count,
           float* const* out) {
    int at = 0;
    for (; at + block <= count; at += block) CubicBlock(planes, plane_count, sheet, x, y, out, at);
    for (; at < count; ++at) sample_detail::one_cubic(planes, plane_count, sheet, x[at], y[at], at, out);
}

#else

void Four(const float* values, int width, int height, const float* x, const float* y, int count, float* const* out) {
    for (int at = 0; at < count; ++at) sample_detail::one_four(values, Size{width, height}, x[at], y[at], at, out);
}
void Bilinear(const float* const* planes, int plane_count, const PlaneRows& sheet, const float* x, const float* y, int count,
              float* const* out) {
    for (int at = 0; at < count; ++at) sample_detail::one_bilinear(planes, plane_count, sheet, x[at], y[at], at, out);
}
void Cubic(const float* const* planes, int plane_count, const PlaneRows& sheet, const float* x, const float* y, int count,
           float* const* out) {
    for (int at = 0; at < count; ++at) sample_detail::one_cubic(planes, plane_count, sheet, x[at], y[at], at, out);
}

#endif

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Bilinear);
HWY_EXPORT(Four);
HWY_EXPORT(Cubic);

void read_bilinear(const float* const* planes, int plane_count, PlaneRows sheet, const float* x, const float* y, int count,
                   float* const* out) {
    HWY_DYNAMIC_DISPATCH(Bilinear)(planes, plane_count, sheet, x, y, count, out);
}

void read_bilinear_four(const float* values, Size size, const float* x, const float* y, int count, float* const out[4]) {
    HWY_DYNAMIC_DISPATCH(Four)(values, size.width, size.height, x, y, count, out);
}

void read_cubic(const float* const* planes, int plane_count, PlaneRows sheet, const float* x, const float* y, int count,
                float* const* out) {
    HWY_DYNAMIC_DISPATCH(Cubic)(planes, plane_count, sheet, x, y, count, out);
}
}  // namespace loom
#endif
