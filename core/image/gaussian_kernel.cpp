// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/gaussian_kernel.h"

#include <cstddef>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/image/gaussian_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;
using F = hn::ScalableTag<float>;
using V = hn::Vec<F>;

/// One complex one-pole filter: state <- pole * state + input.
struct Pole {
    V pr, pi, rr, ri, re, im;
    Pole(RecursiveGaussian::Pair pole, RecursiveGaussian::Pair residue)
        : pr(hn::Set(F(), pole.real)),
          pi(hn::Set(F(), pole.imaginary)),
          rr(hn::Set(F(), residue.real)),
          ri(hn::Set(F(), residue.imaginary)),
          re(hn::Zero(F())),
          im(hn::Zero(F())) {}
    HWY_INLINE void Step(V x) {
        const V next = hn::NegMulAdd(pi, im, hn::MulAdd(pr, re, x));
        im = hn::MulAdd(pi, re, hn::Mul(pr, im));
        re = next;
    }
    HWY_INLINE V Out() const { return hn::NegMulAdd(ri, im, hn::Mul(rr, re)); }
    /// The state without the newest sample, for the half that must not count the centre again.
    HWY_INLINE V OutBefore() const {
        const V next = hn::NegMulAdd(pi, im, hn::Mul(pr, re));
        const V turned = hn::MulAdd(pi, re, hn::Mul(pr, im));
        return hn::NegMulAdd(ri, turned, hn::Mul(rr, next));
    }
    void Close(RecursiveGaussian::Pair closing) {
        const V cr = hn::Set(F(), closing.real), ci = hn::Set(F(), closing.imaginary);
        const V next = hn::NegMulAdd(ci, im, hn::Mul(cr, re));
        im = hn::MulAdd(ci, re, hn::Mul(cr, im));
        re = next;
    }
};

/// Two vectors of lines go side by side, as every sample waits for the one before.
int Lanes() { return 2 * static_cast<int>(hn::Lanes(F())); }

struct Pair {
    Pole a, b;
    explicit Pair(const RecursiveGaussian& filter) : a(filter.pole[0], filter.residue[0]), b(filter.pole[1], filter.residue[1]) {}
    HWY_INLINE void Step(V x) { a.Step(x), b.Step(x); }
    void Close(const RecursiveGaussian& filter) { a.Close(filter.closing[0]), b.Close(filter.closing[1]); }
    HWY_INLINE V Out() const { return hn::Add(a.Out(), b.Out()); }
    HWY_INLINE V OutBefore() const { return hn::Add(a.OutBefore(), b.OutBefore()); }
};

void Strip(const RecursiveGaussian& filter, const float* HWY_RESTRICT in, float* HWY_RESTRICT out, int count) {
    const F f;
    const std::size_t half = hn::Lanes(f), lanes = 2 * half;
    auto at = [&](int n) { return static_cast<std::size_t>(n) * lanes; };
    {
        Pair left(filter), right(filter);
        for (int n = count - filter.warm_up; n < count; ++n)
            left.Step(hn::LoadU(f, in + at(n))), right.Step(hn::LoadU(f, in + at(n) + half));
        left.Close(filter), right.Close(filter);
        for (int n = 0; n < count; ++n) {
            left.Step(hn::LoadU(f, in + at(n))), right.Step(hn::LoadU(f, in + at(n) + half));
            hn::StoreU(left.Out(), f, out + at(n));
            hn::StoreU(right.Out(), f, out + at(n) + half);
        }
    }
    Pair left(filter), right(filter);
    for (int n = filter.warm_up - 1; n >= 0; --n)
        left.Step(hn::LoadU(f, in + at(n))), right.Step(hn::LoadU(f, in + at(n) + half));
    left.Close(filter), right.Close(filter);
    for (int n = count - 1; n >= 0; --n) {
        float* place = out + at(n);
        hn::StoreU(hn::Add(hn::LoadU(f, place), left.OutBefore()), f, place);
        hn::StoreU(hn::Add(hn::LoadU(f, place + half), right.OutBefore()), f, place + half);
        left.Step(hn::LoadU(f, in + at(n))), right.Step(hn::LoadU(f, in + at(n) + half));
    }
}

/// Rows to columns in squares of four; what is left over one by one.
void Transpose(const float* HWY_RESTRICT in, std::size_t in_stride, int rows, int columns, float* HWY_RESTRICT out,
               std::size_t out_stride) {
    int y = 0;
#if HWY_TARGET != HWY_SCALAR
    const hn::FixedTag<float, 4> d;
    for (; y + 4 <= rows; y += 4) {
        const float* from = in + static_cast<std::size_t>(y) * in_stride;
        int x = 0;
        for (; x + 4 <= columns; x += 4) {
            const auto r0 = hn::LoadU(d, from + x), r1 = hn::LoadU(d, from + in_stride + x);
            const auto r2 = hn::LoadU(d, from + 2 * in_stride + x), r3 = hn::LoadU(d, from + 3 * in_stride + x);
            const auto t0 = hn::InterleaveLower(d, r0, r1), t1 = hn::InterleaveUpper(d, r0, r1);
            const auto t2 = hn::InterleaveLower(d, r2, r3), t3 = hn::InterleaveUpper(d, r2, r3);
            float* to = out + static_cast<std::size_t>(x) * out_stride + y;
            hn::StoreU(hn::ConcatLowerLower(d, t2, t0), d, to);
            hn::StoreU(hn::ConcatUpperUpper(d, t2, t0), d, to + out_stride);
            hn::StoreU(hn::ConcatLowerLower(d, t3, t1), d, to + 2 * out_stride);
            hn::StoreU(hn::ConcatUpperUpper(d, t3, t1), d, to + 3 * out_stride);
        }
        for (; x < columns; ++x)
            for (int k = 0; k < 4; ++k)
                out[static_cast<std::size_t>(x) * out_stride + static_cast<std::size_t>(y + k)] =
                    from[static_cast<std::size_t>(k) * in_stride + static_cast<std::size_t>(x)];
    }
#endif
    for (; y < rows; ++y)
        for (int x = 0; x < columns; ++x)
            out[static_cast<std::size_t>(x) * out_stride + static_cast<std::size_t>(y)] =
                in[static_cast<std::size_t>(y) * in_stride + static_cast<std::size_t>(x)];
}

/// sums[x] = weights[0] * middle[x] + sum of weights[k] * (before[k][x] + after[k][x]).
void Symmetric(const float* const* rows, const float* weights, int radius, int count, float* HWY_RESTRICT out) {
    const F f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    // Four vectors side by side keep the machine busy; a row's end is done one by one.
    int x = 0;
    for (; x + 4 * lanes <= count; x += 4 * lanes) {
        V sum[4];
        for (int n = 0; n < 4; ++n) sum[n] = hn::Mul(hn::Set(f, weights[0]), hn::LoadU(f, rows[radius] + x + n * lanes));
        for (int k = 1; k <= radius; ++k) {
            const V weight = hn::Set(f, weights[k]);
            const float *before = rows[radius - k] + x, *after = rows[radius + k] + x;
            for (int n = 0; n < 4; ++n)
                sum[n] = hn::MulAdd(weight, hn::Add(hn::LoadU(f, before + n * lanes), hn::LoadU(f, after + n * lanes)), sum[n]);
        }
        for (int n = 0; n < 4; ++n) hn::StoreU(sum[n], f, out + x + n * lanes);
    }
    for (; x < count; ++x) {
        float sum = weights[0] * rows[radius][x];
        for (int k = 1; k <= radius; ++k) sum += weights[k] * (rows[radius - k][x] + rows[radius + k][x]);
        out[x] = sum;
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Lanes);
HWY_EXPORT(Strip);
HWY_EXPORT(Symmetric);
HWY_EXPORT(Transpose);
int gaussian_lanes() { return HWY_DYNAMIC_DISPATCH(Lanes)(); }
void gaussian_strip(const RecursiveGaussian& filter, const float* in, float* out, int count) {
    HWY_DYNAMIC_DISPATCH(Strip)(filter, in, out, count);
}
void symmetric_sum(const float* const* rows, const float* weights, int radius, int count, float* out) {
    HWY_DYNAMIC_DISPATCH(Symmetric)(rows, weights, radius, count, out);
}
void transpose(const float* in, std::size_t in_stride, int rows, int columns, float* out, std::size_t out_stride) {
    HWY_DYNAMIC_DISPATCH(Transpose)(in, in_stride, rows, columns, out, out_stride);
}
}  // namespace loom
#endif
