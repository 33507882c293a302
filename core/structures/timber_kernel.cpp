// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/timber_kernel.h"

#include <cmath>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/timber_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

/// Tiles, with heights flattened, in which what a large knot moves fades.
constexpr float widest = 0.09f;

HWY_INLINE float Off(float fibre, float pith) {
    const float off = fibre - pith;
    return off - quick_floor(off + 0.5f);
}

void Flat(const float* HWY_RESTRICT fibre, int count, const FlatCut& cut, float start, float* HWY_RESTRICT phase) {
    const float pith = cut.pith, depth = cut.depth, per_width = 1 / cut.width, depth2 = depth * depth,
                lopsided = 0.45f * cut.lopsided;
    for (int k = 0; k < count; ++k) {
        const float off = Off(fibre[k], pith), far = off < 0 ? -off : off;
        // One side of the tree grew faster; at the far side, where both meet, the fold is rounded.
        const float round = 0.012f, over = 0.5f - far;
        const float a = 0.5f - (std::sqrt(over * over + round * round) - round * 0.5f);
        const float side = off / std::sqrt(off * off + 0.03f * 0.03f);
        const float uneven = 1 + (1.28f * off + lopsided * side) * (1 - 2 * far);
        phase[k] += (std::sqrt(a * a + depth2) - depth) * per_width * uneven + start;
    }
}

void Quarter(const float* HWY_RESTRICT fibre, int count, float bands, float* HWY_RESTRICT phase) {
    for (int k = 0; k < count; ++k) phase[k] += bands * fibre[k];
}

void End(const float* HWY_RESTRICT fibre, int count, float pith, float bow, float start, float* HWY_RESTRICT phase) {
    for (int k = 0; k < count; ++k) {
        const float x = Off(fibre[k], pith), x2 = x * x;
        // Taylor's series of sin(pi x).
        const float sine = x * (3.1415927f + x2 * (-5.1677128f + x2 * (2.5501640f + x2 * (-0.5992645f + x2 * 0.0821459f))));
        phase[k] += start + bow * 2 * sine * sine;
    }
}

void Ring(const RingLook& look, const RingLots& lots, const float* phase, const float* plain, const float* HWY_RESTRICT grain,
          int count, float* HWY_RESTRICT tone, float* HWY_RESTRICT height) {
    const float down2 = look.down * look.down, period = static_cast<float>(lots.period), per_period = 1 / period;
    const float late_from = look.late_from;
    const float fibre = look.fibre, early = 0.22f * look.early, late = 0.34f * look.late;
    const float *strengths = lots.strength, *owns = lots.own;
    for (int x = 0; x < count; ++x) {
        const float across = plain[x + 1] - plain[x];
        const float passed = 0.9f * std::sqrt(across * across + down2), step = passed < 0.5f ? passed : 0.5f;
        const float n = quick_floor(phase[x]), f = phase[x] - n;
        const int ring = static_cast<int>(n - period * quick_floor((n + 0.5f) * per_period));
        const float strength = strengths[ring], own = owns[ring], next = owns[ring + 1];
        const Growth g = growth(f, step, late_from);
        // Each ring has a tone of its own that goes over into the next one's at its end.
        const float over = (f - 0.75f) * 4, ring_tone = own + (over > 0 ? over : 0.0f) * (next - own);
        tone[x] = 0.56f + 0.85f * fibre * grain[x] - late * strength * (g.late - 0.4f) - early * strength * g.early + ring_tone;
        height[x] = 0.8f - 0.05f * g.early + 0.03f * fibre * grain[x];
    }
}

/// Fibres flow round a knot: a windowed flow round a cylinder.
void Flow(const float* HWY_RESTRICT u, int count, const KnotRow& knot, float* HWY_RESTRICT fibre, float* HWY_RESTRICT phase) {
    const float flat2 = knot.dy * knot.dy / (2.3f * 2.3f), r2 = knot.radius * knot.radius;
    // What a knot moves has to be gone half a tile away, where its next copy begins.
    const float flow_strength = 1.3225f * r2 * knot.turn;
    const float flow = least(5.5f * knot.radius, widest), rise = least(2.2f * knot.radius, widest);
    const float flow_window = 1 / (flow * flow), flow_end = 2.6f * 2.6f * flow * flow;
    if (fibre)
        for (int k = 0; k < count; ++k) {
            const float dx = Off(u[k], knot.u), f2 = dx * dx + flat2;
            const float moved = dx * flow_strength / (f2 + 0.35f * r2) * quick_exp(-f2 * flow_window);
            fibre[k] -= f2 < flow_end ? moved : 0.0f;
        }
    if (phase) {
        const float window = 1 / (rise * rise), end = 9 * rise * rise;
        for (int k = 0; k < count; ++k) {
            const float dx = Off(u[k], knot.u), f2 = dx * dx + flat2;
            const float raised = knot.rings * quick_exp(-f2 * window);
            phase[k] += f2 < end ? raised : 0.0f;
        }
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Flat);
HWY_EXPORT(Quarter);
HWY_EXPORT(End);
HWY_EXPORT(Ring);
HWY_EXPORT(Flow);

void flat_sawn_row(const float* fibre, int count, const FlatCut& cut, float start, float* phase) {
    HWY_DYNAMIC_DISPATCH(Flat)(fibre, count, cut, start, phase);
}
void quarter_sawn_row(const float* fibre, int count, float bands, float* phase) {
    HWY_DYNAMIC_DISPATCH(Quarter)(fibre, count, bands, phase);
}
void end_grain_row(const float* fibre, int count, float pith, float bow, float start, float* phase) {
    HWY_DYNAMIC_DISPATCH(End)(fibre, count, pith, bow, start, phase);
}
void ring_row(const RingLook& look, const RingLots& lots, const float* phase, const float* plain, const float* grain, int count,
              float* tone, float* height) {
    HWY_DYNAMIC_DISPATCH(Ring)(look, lots, phase, plain, grain, count, tone, height);
}

void flow_row(const float* u, int count, const KnotRow& knot, float* fibre, float* phase) {
    HWY_DYNAMIC_DISPATCH(Flow)(u, count, knot, fibre, phase);
}

}  // namespace loom
#endif
