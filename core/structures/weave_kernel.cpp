// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/weave_kernel.h"

#include <cmath>

#include "core/base/quick_math.h"
#include "core/base/vector_loop.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/weave_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

constexpr float nowhere = -1e9f;

/// Height of a round yarn at a place across it, squared, of its full height: an arc that meets the ground at a slope, as yarns
/// are never undercut.
HWY_INLINE float Arc(float d2) {
    const float left = 1.08f - d2;
    return (std::sqrt(left > 0 ? left : 0) - 0.28284271f) * 1.3219279f;
}

/// Puts a yarn on top of a pixel, behind what is on top, or nowhere.
struct Piles {
    float* HWY_RESTRICT yarn;
    float* HWY_RESTRICT z;
    float* HWY_RESTRICT d;
    float* HWY_RESTRICT yarn_behind;
    float* HWY_RESTRICT z_behind;
    float* HWY_RESTRICT d_behind;
    explicit Piles(const WovenRow& row)
        : yarn(row.yarn), z(row.z), d(row.d), yarn_behind(row.yarn_behind), z_behind(row.z_behind), d_behind(row.d_behind) {}
};
#define KEEN_LOOM_PILE(p, x, new_yarn, new_z, new_d)                                                       \
    const float old_yarn = p.yarn[x], old_z = p.z[x], old_d = p.d[x], old_behind = p.z_behind[x];          \
    const bool top = new_z > old_z, behind = new_z > old_behind;                                           \
    const float next_yarn = behind ? new_yarn : p.yarn_behind[x], next_d = behind ? new_d : p.d_behind[x]; \
    const float next_z = behind ? new_z : old_behind;                                                      \
    p.yarn_behind[x] = top ? old_yarn : next_yarn, p.d_behind[x] = top ? old_d : next_d;                   \
    p.z_behind[x] = top ? old_z : next_z;                                                                  \
    p.yarn[x] = top ? new_yarn : old_yarn, p.d[x] = top ? new_d : old_d, p.z[x] = top ? new_z : old_z

HWY_INLINE float Within(float along, float crossings, float per_crossings) {
    const float within = along - quick_floor(along * per_crossings) * crossings;
    return within > 0 && within < crossings ? within : 0;
}

void Begin(const WovenRow& row, float warp_crossings, float weft_crossings, float* HWY_RESTRICT along_warp,
           float* HWY_RESTRICT along_weft) {
    const Piles p(row);
    const float *HWY_RESTRICT across = row.across, *HWY_RESTRICT down = row.down;
    const float per_warp = 1 / warp_crossings, per_weft = 1 / weft_crossings;
    const int count = row.count;
    KEEN_LOOM_VECTOR_LOOP
    for (int x = 0; x < count; ++x) {
        along_warp[x] = Within(down[x], warp_crossings, per_warp), along_weft[x] = Within(across[x], weft_crossings, per_weft);
        p.yarn[x] = p.yarn_behind[x] = -1, p.z[x] = p.z_behind[x] = nowhere, p.d[x] = p.d_behind[x] = 0;
    }
}

Reach Down(const WovenRow& row, int from, int to) {
    const float* HWY_RESTRICT down = row.down;
    float low = down[from], high = low;
    for (int x = from; x <= to; ++x) low = down[x] < low ? down[x] : low, high = down[x] > high ? down[x] : high;
    return {low, high};
}

void Upright(const WovenRow& row, int from, int to, float yarn, float middle, const YarnPlace& place, const YarnBody& body) {
    const Piles p(row);
    const float* HWY_RESTRICT across = row.across;
    const float per_half = 1 / (body.half * place.swell * (1 + 0.13f * place.rise)), start = middle + place.shift,
                base = 0.36f * place.rise + body.lift, thick = body.thick * place.swell, far2 = (1 + body.edge) * (1 + body.edge);
    KEEN_LOOM_VECTOR_LOOP
    for (int x = from; x <= to; ++x) {
        const float d = (across[x] - start) * per_half, d2 = d * d;
        const float raised = base + thick * Arc(d2), z = d2 < far2 ? raised : nowhere;
        KEEN_LOOM_PILE(p, x, yarn, z, d);
    }
}

void Lying(const WovenRow& row, int from, int to, float yarn, float middle, const float* HWY_RESTRICT places, int entries,
           const YarnBody& body) {
    const Piles p(row);
    const float *HWY_RESTRICT down = row.down, *HWY_RESTRICT along = row.along_weft;
    const float half = body.half, lift = body.lift, thick = body.thick, far2 = (1 + body.edge) * (1 + body.edge);
    const int last = entries - 1;
    KEEN_LOOM_VECTOR_LOOP
    for (int x = from; x <= to; ++x) {
        const float place = along[x] * Yarns::per_crossing;
        int entry = static_cast<int>(place);
        entry = entry < last ? entry : last;
        const float t = place - static_cast<float>(entry);
        const int a = 3 * entry;
        const float rise = places[a] + t * (places[a + 3] - places[a]),
                    shift = places[a + 1] + t * (places[a + 4] - places[a + 1]),
                    swell = places[a + 2] + t * (places[a + 5] - places[a + 2]);
        const float d = (down[x] - middle - shift) / (half * swell * (1 + 0.13f * rise)), d2 = d * d;
        const float raised = 0.36f * rise + lift + thick * swell * Arc(d2), z = d2 < far2 ? raised : nowhere;
        KEEN_LOOM_PILE(p, x, yarn, z, d);
    }
}

void Twist(const WovenRow& row, const TwistPlaces& places, float* HWY_RESTRICT u, float* HWY_RESTRICT v) {
    const float *HWY_RESTRICT yarns = row.yarn, *HWY_RESTRICT d = row.d, *HWY_RESTRICT along_warp = row.along_warp,
                              *HWY_RESTRICT along_weft = row.along_weft, *HWY_RESTRICT lots_u = places.lots_u,
                              *HWY_RESTRICT lots_v = places.lots_v;
    const auto warps = static_cast<float>(places.warps);
    const float warp_turns = places.warp_turns, weft_turns = places.weft_turns, warp_lean = places.warp_lean,
                weft_lean = places.weft_lean;
    const int count = row.count;
    KEEN_LOOM_VECTOR_LOOP
    for (int x = 0; x < count; ++x) {
        const float yarn = yarns[x];
        const bool warp = yarn < warps;
        const float turns = warp ? warp_turns : weft_turns, along = warp ? along_warp[x] : along_weft[x],
                    lean = warp ? warp_lean : weft_lean;
        // The last half pixel lies beside the yarn.
        const float angle = quick_asin(least(most(d[x], -1), 1));
        const int number = static_cast<int>(yarn > 0 ? yarn : 0);
        u[x] = (along + lean * angle) * turns + lots_u[number];
        v[x] = 0.02f * angle + 2 * along * turns + lots_v[number];
    }
}

/// Light and wear of a yarn's pixel: colours are theirs times `light`, and `worn` of the way to pale.
struct Wear {
    float light, worn;
};
HWY_INLINE Wear WearOf(const WovenLook& look, float yarn, float z, float d, float rough, const float* lots) {
    const float t = unit_cut((z - 0.12f) / 0.55f), rim = least(d * d, 1);
    const int number = static_cast<int>(yarn > 0 ? yarn : 0);
    // What stands out is worn pale; what lies deep keeps its dye and sees less light.
    return {1 + 0.5f * look.dye * (lots[number] - 0.5f) + 0.16f * rough - look.sunk * (1 - t) -
                0.2f * (1 - t) * (0.4f + 0.6f * rim) - 0.34f * rim * rim,
            0.55f * look.fade * t * t * (3 - 2 * t) * (0.7f + 0.3f * rough)};
}

void Shade(const WovenRow& row, const WovenLook& look, const float* HWY_RESTRICT twist, const float* HWY_RESTRICT fuzz,
           float* const colour[3], float* HWY_RESTRICT height) {
    const float *HWY_RESTRICT yarns = row.yarn, *HWY_RESTRICT zs = row.z, *HWY_RESTRICT ds = row.d,
                              *HWY_RESTRICT behind = row.yarn_behind, *HWY_RESTRICT z_behind = row.z_behind,
                              *HWY_RESTRICT d_behind = row.d_behind, *HWY_RESTRICT lots = look.lots_dye;
    float *HWY_RESTRICT red = colour[0], *HWY_RESTRICT green = colour[1], *HWY_RESTRICT blue = colour[2];
    const WovenLook l = look;
    const auto warps = static_cast<float>(l.warps);
    const float per_span = 1 / l.span;
    const int count = row.count;
    KEEN_LOOM_VECTOR_LOOP
    for (int x = 0; x < count; ++x) {
        const float yarn = yarns[x], d = ds[x], far = d < 0 ? -d : d, under = behind[x];
        const bool warp = yarn < warps, none = yarn < 0, under_warp = under < warps, under_none = under < 0;
        const float rough = (warp ? l.warp_twist : l.weft_twist) * twist[x] + 0.6f * (warp ? l.warp_hair : l.weft_hair) * fuzz[x];
        const Wear top = WearOf(l, yarn, zs[x], d, rough, lots), below = WearOf(l, under, z_behind[x], d_behind[x], 0, lots);
        // The rim of a yarn covers its last pixel in part.
        const float cover = unit_cut((1 - far) * (warp ? l.warp_pixels : l.weft_pixels) + 0.5f);
#define KEEN_LOOM_CHANNEL(c, out)                                                                                               \
    {                                                                                                                           \
        const float own = warp ? l.warp_colour[c] : l.weft_colour[c], other = under_warp ? l.warp_colour[c] : l.weft_colour[c], \
                    gap = l.gap_colour[c], own_worn = warp ? l.warp_worn[c] : l.weft_worn[c],                                   \
                    other_worn = under_warp ? l.warp_worn[c] : l.weft_worn[c];                                                  \
        const float seen = unit_cut(own * top.light + top.worn * (own_worn - own)),                                             \
                    deep = under_none ? gap : unit_cut(other * below.light + below.worn * (other_worn - other));                \
        out[x] = none ? gap : deep + cover * (seen - deep);                                                                     \
    }
        KEEN_LOOM_CHANNEL(0, red)
        KEEN_LOOM_CHANNEL(1, green)
        KEEN_LOOM_CHANNEL(2, blue)
#undef KEEN_LOOM_CHANNEL
    }
    if (!height) return;
    KEEN_LOOM_VECTOR_LOOP
    for (int x = 0; x < count; ++x) {
        const bool warp = yarns[x] < warps;
        const float rough = (warp ? l.warp_twist : l.weft_twist) * twist[x] + 0.6f * (warp ? l.warp_hair : l.weft_hair) * fuzz[x],
                    d = ds[x], far = d < 0 ? -d : d;
        const float cover = unit_cut((1 - far) * (yarns[x] < warps ? l.warp_pixels : l.weft_pixels) + 0.5f);
        // Where two yarns meet their surfaces do, without the fibres of either.
        const float apart = unit_cut((zs[x] - z_behind[x]) * 12);
        const float high = unit_cut((zs[x] + 0.06f * rough * apart + l.low) * per_span),
                    deep = unit_cut((z_behind[x] + l.low) * per_span);
        const float mixed = deep + cover * (high - deep);
        height[x] = yarns[x] < 0 ? 0.0f : mixed;
    }
}
#undef KEEN_LOOM_PILE

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Begin);
HWY_EXPORT(Down);
HWY_EXPORT(Upright);
HWY_EXPORT(Lying);
HWY_EXPORT(Twist);
HWY_EXPORT(Shade);

void begin_row(const WovenRow& row, float warp_crossings, float weft_crossings, float* along_warp, float* along_weft) {
    HWY_DYNAMIC_DISPATCH(Begin)(row, warp_crossings, weft_crossings, along_warp, along_weft);
}
Reach reach_down(const WovenRow& row, int from, int to) { return HWY_DYNAMIC_DISPATCH(Down)(row, from, to); }
void show_upright(const WovenRow& row, int from, int to, float yarn, float middle, const YarnPlace& place, const YarnBody& body) {
    HWY_DYNAMIC_DISPATCH(Upright)(row, from, to, yarn, middle, place, body);
}
void show_lying(const WovenRow& row, int from, int to, float yarn, float middle, const Yarns& yarns, int number,
                const YarnBody& body) {
    HWY_DYNAMIC_DISPATCH(Lying)(row, from, to, yarn, middle, &yarns.row(number)->rise, yarns.entries(), body);
}
void twist_row(const WovenRow& row, const TwistPlaces& places, float* u, float* v) {
    HWY_DYNAMIC_DISPATCH(Twist)(row, places, u, v);
}
void shade_row(const WovenRow& row, const WovenLook& look, const float* twist, const float* fuzz, float* const colour[3],
               float* height) {
    HWY_DYNAMIC_DISPATCH(Shade)(row, look, twist, fuzz, colour, height);
}

}  // namespace loom
#endif
