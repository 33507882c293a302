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

void Unit(const LaidUnit& unit, const UnitEdges& edges, float dx, float dy, int from, int to, const UnitRow& row) {
    const LaidUnit u = unit;
    const UnitEdges e = edges;
    const float *HWY_RESTRICT wear = row.wear, *HWY_RESTRICT chips = row.chips;
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
                sign = joint ? -1.0f : 1.0f;
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
        const float inside = left < e.chips_within ? chipped : left;
        const float shows = least(whole + 1, inside + 0.5f - depth[x]);
        const float cover = least(1, inside + 0.5f), deep = most(inside, 0);
        const float top = (1 - quick_exp(-deep * per_bevel)) * (u.level + per_width * px + per_height * py);
        const float shown = ground + of_top * top + of_cover * cover;
        const float before = picture[x], next = sign * most(sign * before, sign * shown);
        const float low = height[x], high = most(low, top), was = depth[x], now = most(inside, was);
        picture[x] = shows > 0 ? next : before;
        height[x] = shows > 0 ? high : low;
        depth[x] = shows > 0 ? now : was;
        mine[x] = shows > 0 ? inside : -1;
    }
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
