// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/courses_kernel.h"

#include <cmath>

#include "core/base/quick_math.h"
#include "core/base/vector_loop.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/courses_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

/// `Plain`: pillows that nothing is drawn into; most of what others need is left out.
template <bool Plain>
HWY_INLINE void UnitAs(const LaidUnit& unit, const UnitEdges& edges, float dx, float dy, int from, int to, const UnitRow& row) {
    const LaidUnit u = unit;
    const UnitEdges e = edges;
    const float *HWY_RESTRICT wear = row.wear, *HWY_RESTRICT chips = row.chips, *HWY_RESTRICT rim = row.rim ? row.rim : row.wear;
    const float of_rim = row.rim ? 1.0f : 0.0f, least_cut = u.cut > 0 ? 0.0f : 1e6f, over = e.over ? 1.0f : 0.0f,
                of_slant = e.arris == Arris::slant ? 1.0f : 0.0f, of_round = e.arris == Arris::round ? 1.0f : 0.0f,
                of_pillow = 1 - of_slant - of_round;
    float *HWY_RESTRICT depth = row.depth, *HWY_RESTRICT mine = row.mine, *HWY_RESTRICT picture = row.picture,
                        *HWY_RESTRICT height = row.height;
    const float corner = least(e.corner, least(u.half_x, u.half_y)), inner_x = u.half_x - corner, inner_y = u.half_y - corner;
    const float per_width = u.tilt_x / u.half_x, per_height = u.tilt_y / u.half_y, per_bevel = 1 / e.bevel,
                per_wear = 1 / e.wear_fades, wear_px = e.wear * u.wear, chip_px = e.chips * u.wear;
    const float along_x = u.s * dy - u.c * (u.x + dx), along_y = u.c * dy + u.s * (u.x + dx);
    // Joints are what no unit covers, so that there the least is kept instead of the greatest.
    const bool joint = row.show == UnitShow::joint, high_shown = row.show == UnitShow::height;
    const float ground = joint ? 1.0f : 0.0f, of_top = high_shown ? 1.0f : 0.0f,
                of_cover = joint        ? -1.0f
                           : high_shown ? 0.0f
                                        : row.full,
                sign = joint ? -1.0f : 1.0f, full = joint || high_shown ? 0.0f : row.full;
    KEEN_LOOM_VECTOR_LOOP
    for (int x = from; x <= to; ++x) {
        const float column = static_cast<float>(x), px = u.c * column + along_x, py = along_y - u.s * column;
        const float qx = (px < 0 ? -px : px) - inner_x, qy = (py < 0 ? -py : py) - inner_y;
        const float ox = most(qx, 0), oy = most(qy, 0);
        // Distance inwards from the rounded outline.
        const float whole = corner - least(most(qx, qy), 0) - std::sqrt(ox * ox + oy * oy);
        const float worn = whole - wear_px * (0.6f + 0.5f * wear[x]) * quick_exp(-whole * per_wear);
        const float left = whole < e.wear_within ? worn : whole;
        const float chipped = left - chip_px * most(0, chips[x] - 1.1f);
        float inside = left < e.chips_within ? chipped : left;
        if constexpr (!Plain) {
            const float drawn = inside - of_rim * rim[x] * quick_exp(-most(whole, 0) * per_wear);
            const float cx = px - u.cut_x, cy = py - u.cut_y;
            inside = least(drawn, std::sqrt(cx * cx + cy * cy) - u.cut * (1 + 0.25f * wear[x]) + least_cut);
        }
        const float was = depth[x], before = picture[x], low = height[x];
        const float shows = least(whole + 1, Plain ? inside + 0.5f - was : inside + 0.5f - was * (1 - over));
        const float cover = least(1, inside + 0.5f), deep = most(inside, 0);
        float side = 1 - quick_exp(-deep * per_bevel);
        const float face = u.level + per_width * px + per_height * py;
        float top = side * face;
        if constexpr (!Plain) {
            const float slant = least(1, deep * per_bevel);
            side = of_pillow * side + of_slant * slant + of_round * std::sqrt(slant * (2 - slant));
            top = e.ground + side * (face - e.ground);
        }
        const float shown = ground + of_top * top + of_cover * cover;
        float next = sign * most(sign * before, sign * shown), high = most(low, top);
        const float now = most(inside, was);
        if constexpr (!Plain) {
            const float seen = most(cover, 0), laid = before + seen * (of_top * top + full - before),
                        piled = low + seen * (0.45f * u.layer + 0.55f * top - low);
            next += over * (laid - next), high += over * (piled - high);
        }
        picture[x] = shows > 0 ? next : before;
        height[x] = shows > 0 ? high : low;
        depth[x] = shows > 0 ? now : was;
        mine[x] = shows > 0 ? inside : -1;
    }
}

void Unit(const LaidUnit& unit, const UnitEdges& edges, float dx, float dy, int from, int to, const UnitRow& row) {
    const bool plain = !row.rim && unit.cut <= 0 && !edges.over && edges.arris == Arris::pillow && edges.ground == 0;
    if (plain)
        UnitAs<true>(unit, edges, dx, dy, from, to, row);
    else
        UnitAs<false>(unit, edges, dx, dy, from, to, row);
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Unit);

void unit_row(const LaidUnit& unit, const UnitEdges& edges, float dx, float dy, int from, int to, const UnitRow& row) {
    HWY_DYNAMIC_DISPATCH(Unit)(unit, edges, dx, dy, from, to, row);
}

}  // namespace loom
#endif
