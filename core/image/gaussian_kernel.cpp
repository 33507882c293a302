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

int Lanes() { return static_cast<int>(hn::Lanes(F())); }

void Strip(const RecursiveGaussian& filter, const float* HWY_RESTRICT in, float* HWY_RESTRICT out, int count) {
    const F f;
    const std::size_t lanes = hn::Lanes(f);
    auto load = [&](int n) { return hn::LoadU(f, in + static_cast<std::size_t>(n) * lanes); };
    {
        Pole a(filter.pole[0], filter.residue[0]), b(filter.pole[1], filter.residue[1]);
        for (int n = count - filter.warm_up; n < count; ++n) {
            const V x = load(n);
            a.Step(x), b.Step(x);
        }
        a.Close(filter.closing[0]), b.Close(filter.closing[1]);
        for (int n = 0; n < count; ++n) {
            const V x = load(n);
            a.Step(x), b.Step(x);
            hn::StoreU(hn::Add(a.Out(), b.Out()), f, out + static_cast<std::size_t>(n) * lanes);
        }
    }
    Pole a(filter.pole[0], filter.residue[0]), b(filter.pole[1], filter.residue[1]);
    for (int n = filter.warm_up - 1; n >= 0; --n) {
        const V x = load(n);
        a.Step(x), b.Step(x);
    }
    a.Close(filter.closing[0]), b.Close(filter.closing[1]);
    for (int n = count - 1; n >= 0; --n) {
        float* place = out + static_cast<std::size_t>(n) * lanes;
        hn::StoreU(hn::Add(hn::LoadU(f, place), hn::Add(a.OutBefore(), b.OutBefore())), f, place);
        const V x = load(n);
        a.Step(x), b.Step(x);
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Lanes);
HWY_EXPORT(Strip);
int gaussian_lanes() { return HWY_DYNAMIC_DISPATCH(Lanes)(); }
void gaussian_strip(const RecursiveGaussian& filter, const float* in, float* out, int count) {
    HWY_DYNAMIC_DISPATCH(Strip)(filter, in, out, count);
}
}  // namespace loom
#endif
