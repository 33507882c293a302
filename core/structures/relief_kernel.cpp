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
    V rise_x = hn::Mul(slope, hn::Sub(right, left)), rise_y = hn::Mul(slope, hn::Sub(under, over));
    if (row.edge) {
        const auto own = hn::Gt(hn::LoadU(f, row.edge + x), hn::Zero(f));
        rise_x = hn::IfThenElse(own, hn::Neg(hn::LoadU(f, row.own_x + x)), rise_x);
        rise_y = hn::IfThenElse(own, hn::Neg(hn::LoadU(f, row.own_y + x)), rise_y);
    }
    return Unit({rise_x, rise_y, C(1.0f)});
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
    const V variance = hn::Mul(hn::Mul(depth, depth), hn::Mul(squares, C(1.0f / 12)));
    return row.edge ? hn::IfThenZeroElse(hn::Gt(hn::LoadU(f, row.edge + x), hn::Zero(f)), variance) : variance;
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

/// What a place gains over `before` is compressed the more, the more of what is left to white it takes; white is never reached.
HWY_INLINE V Shouldered(const ReliefLight& light, V before, V lit) {
    if (light.knee >= 1) return lit;
    const V room = hn::Max(hn::Sub(C(1.0f), before), C(1e-4f)), share = hn::Div(hn::Sub(lit, before), room);
    const V over = hn::Mul(hn::Sub(share, C(light.knee)), C(1 / (1 - light.knee)));
    const V bent = hn::MulAdd(hn::Div(over, hn::Add(C(1.0f), over)), C(1 - light.knee), C(light.knee));
    return hn::IfThenElse(hn::Gt(share, C(light.knee)), hn::MulAdd(bent, room, before), lit);
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
        const V sky = or_one(row.sky),
                facing = hn::MulAdd(Dot(normal, lamp), C(1 / (1 + light.wrap)), C(light.wrap / (1 + light.wrap)));
        const V lit = hn::Mul(hn::Mul(C(light.diffuse), hn::Max(zero, facing)), hn::Mul(open, sky));
        // Of a sky that is as bright everywhere a leaning place sees less.
        const V above = hn::Mul(hn::MulAdd(normal.z, C(0.5f), C(0.5f)), sky);
        const auto light_of = [&](int c) {
            return hn::MulAdd(C(light.overhead[c]), above, hn::MulAdd(C(light.tint[c]), lit, C(light.ambient[c])));
        };
        V shine = zero;
        if (light.shine > 0) {
            const Vector half = Unit({lamp.x, lamp.y, hn::Add(lamp.z, one)});
            V variance = SlopeVariance(row, x, depth);
            if (row.rough) {
                const V rough = hn::Min(one, hn::Max(zero, hn::LoadU(f, row.rough + x)));
                variance = hn::MulAdd(hn::Mul(rough, rough), C(0.5f), variance);
            }
            const Highlight highlight(light.sharpness, variance);
            shine = highlight.Of(Dot(normal, half));
            if (!light.shine_on_all) {
                // A level place keeps the tone it has: only what shines more than that counts. Wide lobes shine hardly more.
                shine = hn::Max(zero, hn::Sub(shine, highlight.Of(half.z)));
            }
            shine = hn::Mul(shine, hn::Mul(open, C(light.shine)));
        }
        powers::Many<channels> result;
        if (light.outcome == ReliefLight::Outcome::light) {
            for (int c = 0; c < channels; ++c) result.v[c] = hn::Mul(strength, hn::MulAdd(C(light.tint[c]), shine, light_of(c)));
        } else if (light.outcome == ReliefLight::Outcome::even) {
            const V half = C(0.5f);
            for (int c = 0; c < channels; ++c) {
                const V seen = hn::MulAdd(hn::Mul(light_of(c), half), C(1.0f / light.level), hn::Mul(C(light.tint[c]), shine));
                result.v[c] = Shouldered(light, half, hn::MulAdd(strength, hn::Sub(seen, half), half));
            }
        } else {
            // Light multiplies in linear values; a level place keeps the tone it has.
            for (int c = 0; c < channels; ++c) {
                result.v[c] = hn::LoadU(f, row.in[c] + x);
                if (row.cover) result.v[c] = hn::IfThenElseZero(hn::Gt(cover, zero), hn::Div(result.v[c], cover));
            }
            result = powers::ToLinear(result);
            for (int c = 0; c < channels; ++c) {
                const V gain = hn::MulSub(light_of(c), C(1.0f / light.level), one), before = result.v[c];
                const V ratio = hn::Max(zero, hn::MulAdd(strength, gain, one));
                result.v[c] = hn::MulAdd(hn::Mul(strength, C(light.tint[c])), shine, hn::Mul(before, ratio));
                result.v[c] = Shouldered(light, before, result.v[c]);
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
