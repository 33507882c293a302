// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/knot_face.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"

namespace loom {

namespace {

constexpr float full_turn = 6.2831853f;

/// How deep in a check a place lies, 0..1. Checks run from the heart, each at its own angle and length.
float check_at(const Knot& knot, float turn, float d, float longer) {
    float check = 0;
    for (std::uint64_t k = 0; k < 3; ++k) {
        const float angle = full_turn * unit_float(mix64(knot.lots, 8 + k)),
                    reach = (0.35f + 0.4f * unit_float(mix64(knot.lots, 12 + k))) * longer;
        float off = turn - angle + 0.25f * std::sin(9 * d + angle);
        if (longer == 1) off = turn - angle;
        off -= full_turn * std::floor(off / full_turn + 0.5f);
        const float side = std::abs(off) * d;
        if (d < reach) check = std::max(check, std::clamp(1 - side / (0.05f * longer * (1 - d / reach) + 0.012f), 0.0f, 1.0f));
    }
    return check;
}

}  // namespace

void knot_row(const Knot& knot, const KnotLook& look, const float* u, int width, float v, const KnotRows& rows) {
    if (!Timber::beside(knot, v, 3 * knot.radius)) return;
    const auto strength = static_cast<float>(look.strength), dark_core = static_cast<float>(look.core);
    const float shift = full_turn * unit_float(mix64(knot.lots, 4));
    const int middle = static_cast<int>(knot.u * static_cast<float>(width)),
              wide = std::min(width, 2 * static_cast<int>(3 * knot.radius * static_cast<float>(width)) + 2);
    for (int n = 0; n < wide; ++n) {
        const int x = wrap(middle - wide / 2 + n, width);
        float dx, dy;
        if (Timber::from_knot(knot, u[x], v, dx, dy) > 3 * knot.radius) continue;
        const float ex = dx / knot.radius, ey = dy / (1.35f * knot.radius), far = std::sqrt(ex * ex + ey * ey),
                    turn = std::atan2(ey, ex);
        const float wobble = 1 + 0.07f * std::sin(2 * turn + shift) + 0.05f * std::sin(5 * turn + 2 * shift);
        const float d = far / wobble;
        if (d > 2.6f) continue;
        const float cut = std::clamp((1.04f - d) / 0.16f, 0.0f, 1.0f), inside = cut * cut * (3 - 2 * cut);
        const float wave = 0.5f + 0.5f * std::sin(25 * d + 1.3f * std::sin(2 * turn + shift) + 0.6f * std::sin(7 * turn));
        const float check = check_at(knot, turn, d, 1 + 0.8f * dark_core);
        const float rim = std::exp(-(d - 1) * (d - 1) * 70) * (0.6f + 0.4f * std::sin(3 * turn + shift)),
                    halo = std::exp(-std::max(0.0f, d - 1) * 2.6f);
        // The heart rots first: its edge is ragged.
        const float ragged = 0.06f * std::sin(4 * turn + 3 * shift) + 0.04f * std::sin(11 * turn + shift),
                    heart = dark_core > 0 ? dark_core * std::exp(-std::pow((d + ragged) / 0.42f, 4.0f)) : 0.0f;
        float& tone = rows.tone[x];
        const float face = 0.30f + 0.13f * wave + 0.4f * (tone - 0.5f) - (0.22f + 0.1f * dark_core) * check -
                           0.2f * heart * (0.75f + 0.25f * wave);
        tone += strength * (inside * (face - tone) - 0.17f * rim - 0.07f * halo * (1 - inside));
        if (rows.height)
            rows.height[x] -= strength * ((0.25f + 0.15f * dark_core) * check * inside + 0.04f * rim + 0.06f * heart);
        if (rows.within) rows.within[x] = std::max(rows.within[x], std::clamp(inside + 0.8f * rim, 0.0f, 1.0f));
    }
}

}  // namespace loom
