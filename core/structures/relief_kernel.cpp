// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/relief_kernel.h"

#include <cstddef>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/relief_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/colour/powers-inl.h"

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;
using powers::C;
using powers::F;
using powers::V;

struct Vector {
    V x, y, z;
};
HWY_INLINE V Dot(const Vector& a, const Vector& b) { return hn::MulAdd(a.x, b.x, hn::MulAdd(a.y, b.y, hn::Mul(a.z, b.z))); }
HWY_INLINE Vector Unit(const Vector& v) {
    const V scale = hn::Div(C(1.0f), hn::Sqrt(hn::Max(Dot(v, v), C(1e-20f))));
    return {hn::Mul(v.x, scale), hn::Mul(v.y, scale), hn::Mul(v.z, scale)};
}

/// Normal of the Sobel slopes of SVG's lighting filters.
HWY_INLINE Vector Normal(const ReliefRow& row, int x, V depth) {
    const F f;
    auto at = [&](const float* line, int step) { return hn::LoadU(f, line + x + step); };
    const V two = C(2.0f);
    const V al = at(row.above, -1), ar = at(row.above, 1), bl = at(row.below, -1), br = at(row.below, 1);
    const V right = hn::Add(hn::MulAdd(two, at(row.here, 1), ar), br), left = hn::Add(hn::MulAdd(two, at(row.here, -1), al), bl);
    const V under = hn::Add(hn::MulAdd(two, at(row.below, 0), bl), br), over = hn::Add(hn::MulAdd(two, at(row.above, 0), al), ar);
    const V slope = hn::Mul(depth, C(-0.125f));
    return Unit({hn::Mul(slope, hn::Sub(right, left)), hn::Mul(slope, hn::Sub(under, over)), C(1.0f)});
}

/// How much the slope varies within a pixel, from how it changes to its neighbours: a slope that goes evenly from one side to
/// the other by d has a variance of d^2 / 12.
HWY_INLINE V SlopeVariance(const ReliefRow& row, int x, V depth) {
    const F f;
    auto at = [&](const float* line, int step) { return hn::LoadU(f, line + x + step); };
    const V twice = hn::Mul(C(2.0f), at(row.here, 0));
    const V across = hn::Sub(hn::Add(at(row.here, -1), at(row.here, 1)), twice),
            down = hn::Sub(hn::Add(at(row.above, 0), at(row.below, 0)), twice),
            skew = hn::Mul(C(0.25f),
                           hn::Sub(hn::Add(at(row.above, -1), at(row.below, 1)), hn::Add(at(row.above, 1), at(row.below, -1))));
    const V squares = hn::MulAdd(across, across, hn::MulAdd(down, down, hn::Mul(C(2.0f), hn::Mul(skew, skew))));
    return hn::Mul(hn::Mul(depth, depth), hn::Mul(squares, C(1.0f / 12)));
}

/// A highlight of that sharpness over a pixel whose slopes vary: the variance widens the lobe (Tokuyoshi & Kaplanyan 2019, after
/// Toksvig 2005) and what it gains in width it loses in height.
struct Highlight {
    V sharpness, level;
    HWY_INLINE Highlight(float given, V variance) {
        // A lobe cos^n has a width of 2 / (n + 2).
        const V width = hn::MulAdd(C(2.0f), variance, C(2.0f / (given + 2)));
        level = hn::Div(C(2.0f / (given + 2)), width);
        sharpness = hn::Max(hn::Sub(hn::Div(C(2.0f), width), C(2.0f)), C(0.05f));
    }
    HWY_INLINE V Of(V cosine) const {
        return hn::Mul(level, powers::Power<1>({{hn::Max(hn::Zero(F()), cosine)}}, sharpness).v[0]);
    }
};

HWY_INLINE Vector Lamp(const ReliefLight& light, const ReliefRow& row, int x, V depth) {
    const F f;
    if (!light.near) return {C(light.lamp[0]), C(light.lamp[1]), C(light.lamp[2])};
    auto nearest = [](V way, float period) {
        return hn::Sub(way, hn::Mul(hn::Round(hn::Mul(way, C(1.0f / period))), C(period)));
    };
    const V dx = nearest(hn::Sub(C(light.lamp[0] - static_cast<float>(x)), hn::Iota(f, 0)), light.period[0]);
    const V dy = nearest(C(light.lamp[1] - static_cast<float>(row.y)), light.period[1]);
    return Unit({dx, dy, hn::NegMulAdd(depth, hn::LoadU(f, row.here + x), C(light.lamp[2]))});
}

template <int channels>
HWY_INLINE void Channels(const ReliefLight& light, const ReliefRow& row) {
    const F f;
    const int lanes = static_cast<int>(hn::Lanes(f));
    const V zero = hn::Zero(f), one = C(1.0f), depth = C(light.depth), strength = C(light.strength);
    for (int x = 0; x < row.width; x += lanes) {
        auto or_one = [&](const float* line) { return line ? hn::LoadU(f, line + x) : one; };
        const Vector normal = Normal(row, x, depth), lamp = Lamp(light, row, x, depth);
        const V open = or_one(row.open), cover = or_one(row.cover);
        const V lit = hn::Mul(hn::Mul(C(light.diffuse), hn::Max(zero, Dot(normal, lamp))), hn::Mul(open, or_one(row.sky)));
        V shine = zero;
        if (light.shine > 0) {
            const Vector half = Unit({lamp.x, lamp.y, hn::Add(lamp.z, one)});
            const Highlight highlight(light.sharpness, SlopeVariance(row, x, depth));
            shine = highlight.Of(Dot(normal, half));
            if (!light.light_only) {
                // A level place keeps the tone it has: only what shines more than that counts. Wide lobes shine hardly more.
                shine = hn::Max(zero, hn::Sub(shine, highlight.Of(half.z)));
            }
            shine = hn::Mul(shine, hn::Mul(open, C(light.shine)));
        }
        powers::Many<channels> result;
        if (light.light_only) {
            for (int c = 0; c < channels; ++c) result.v[c] = hn::Mul(hn::Mul(strength, C(light.tint[c])), hn::Add(lit, shine));
        } else {
            // Light multiplies in linear values; a level place keeps the tone it has.
            for (int c = 0; c < channels; ++c) {
                result.v[c] = hn::LoadU(f, row.in[c] + x);
                if (row.cover) result.v[c] = hn::IfThenElseZero(hn::Gt(cover, zero), hn::Div(result.v[c], cover));
            }
            result = powers::ToLinear(result);
            for (int c = 0; c < channels; ++c) {
                const V tint = C(light.tint[c]), gain = hn::MulSub(hn::Mul(tint, lit), C(1.0f / light.level), one);
                const V ratio = hn::Max(zero, hn::MulAdd(strength, gain, one));
                result.v[c] = hn::MulAdd(hn::Mul(strength, tint), shine, hn::Mul(result.v[c], ratio));
            }
            result = powers::ToEncoded(result);
            if (row.cover)
                for (int c = 0; c < channels; ++c) result.v[c] = hn::Mul(result.v[c], cover);
        }
        const int left = row.width - x;
        for (int c = 0; c < channels; ++c)
            if (left >= lanes)
                hn::StoreU(result.v[c], f, row.out[c] + x);
            else
                hn::BlendedStore(result.v[c], hn::FirstN(f, static_cast<std::size_t>(left)), f, row.out[c] + x);
    }
}

void Row(const ReliefLight& light, const ReliefRow& row) { (row.channels == 1 ? Channels<1> : Channels<3>)(light, row); }

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Row);
void relief_row(const ReliefLight& light, const ReliefRow& row) { HWY_DYNAMIC_DISPATCH(Row)(light, row); }
}  // namespace loom
#endif
