// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/vein_kernel.h"

#include <cmath>

#include "core/base/quick_math.h"
#include "core/base/vector_loop.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/structures/vein_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

/// A line so many pixels wide; what is thinner than a pixel is drawn a pixel wide and fainter.
HWY_INLINE float Drawn(float distance, float wide) {
    const float per_seen = 1 / std::sqrt(wide * wide + 0.38f), t = distance * per_seen;
    return quick_exp(-t * t) * wide * per_seen;
}

void Piece(const VeinPiece& piece, int from, int to, float* HWY_RESTRICT distance, float* HWY_RESTRICT sided,
           float* HWY_RESTRICT strength, float* HWY_RESTRICT smoke) {
    const VeinPiece p = piece;
    const float per_length2 = 1 / most(1e-6f, p.wx * p.wx + p.wy * p.wy), per_length = std::sqrt(per_length2);
    KEEN_LOOM_VECTOR_LOOP
    for (int x = from; x <= to; ++x) {
        const float px = static_cast<float>(x) + p.x;
        const float t = least(most((px * p.wx + p.y * p.wy) * per_length2, 0), 1);
        const float ox = px - t * p.wx, oy = p.y - t * p.wy, away = std::sqrt(ox * ox + oy * oy);
        const bool nearer = away < distance[x];
        const float signed_away = px * p.wy - p.y * p.wx > 0 ? away : -away;
        sided[x] = nearer ? p.sign * signed_away : sided[x];
        strength[x] = nearer ? p.strength : strength[x];
        distance[x] = nearer ? away : distance[x];
    }
    if (p.smoke_reach <= 0) return;
    const float strong = 0.42f * p.strength, per_reach = 1 / p.smoke_reach;
    KEEN_LOOM_VECTOR_LOOP
    for (int x = from; x <= to; ++x) {
        const float px = static_cast<float>(x) + p.x;
        const float t = least(most((px * p.wx + p.y * p.wy) * per_length2, 0), 1);
        const float ox = px - t * p.wx, oy = p.y - t * p.wy, away = std::sqrt(ox * ox + oy * oy);
        // From 0 on the near side to 1 on the far one; round the ends it goes over from one to the other.
        const float side = 0.5f + 0.5f * p.sign * (px * p.wy - p.y * p.wx) * per_length / (away + 1.0f);
        const float reach = 0.22f + 0.78f * side * side * (3 - 2 * side);
        smoke[x] = most(smoke[x], strong * quick_exp(-away * per_reach / reach));
    }
}

void Distances(const float* HWY_RESTRICT sided, int count, float* HWY_RESTRICT distance) {
    for (int x = 0; x < count; ++x) {
        const float even = sided[x] < 0 ? -sided[x] : sided[x], folded = distance[x];
        // Between the pixels beside a vein the fold is at most half a pixel too far; between two veins it is much more.
        distance[x] = folded - even > 0.75f ? folded : even;
    }
}

void Places(const float* HWY_RESTRICT du, const float* HWY_RESTRICT dv, int count, float start, float step, float across,
            float row, float down, float* HWY_RESTRICT x, float* HWY_RESTRICT y) {
    for (int k = 0; k < count; ++k) {
        x[k] = start + step * static_cast<float>(k) + du[k] * across;
        y[k] = row + dv[k] * down;
    }
}

void Widths(const float* HWY_RESTRICT noise, int count, float spread, float* HWY_RESTRICT wide) {
    for (int x = 0; x < count; ++x) wide[x] = quick_exp(spread * least(most(noise[x], -2.0f), 1.6f));
}

float Smallest(const float* HWY_RESTRICT values, int count) {
    float smallest = values[0];
    for (int x = 0; x < count; ++x) smallest = least(smallest, values[x]);
    return smallest;
}

template <bool Opened>
HWY_INLINE void Line(const VeinPen& p, const float* HWY_RESTRICT distance, const float* HWY_RESTRICT strength,
                     const float* HWY_RESTRICT wide, const float* HWY_RESTRICT open, int count, float width, float share,
                     float weakest, float* HWY_RESTRICT row) {
    const float scale = p.scale, far = p.far;
    KEEN_LOOM_VECTOR_LOOP
    for (int x = 0; x < count; ++x) {
        const float strong = strength[x];
        const float full = width * (0.08f + 0.92f * strong * std::sqrt(most(strong, 0))) * wide[x];
        const float away = scale * distance[x], seen = Opened ? least(most(0.5f + 0.8f * open[x], 0), 1) : 1.0f;
        const float value = share * seen * Drawn(away, full) * (weakest + (1 - weakest) * strong);
        row[x] = most(row[x], away > far ? 0.0f : value);
    }
}

void Lines(const VeinPen& pen, const float* distance, const float* strength, const float* wide, const float* open, int count,
           float thinner, float share, float weakest, float* row) {
    const VeinPen p = pen;
    // Much of a stone has no vein near.
    constexpr int piece = 64;
    for (int x = 0; x < count; x += piece) {
        const int length = count - x < piece ? count - x : piece;
        if (p.scale * Smallest(distance + x, length) > p.far) continue;
        if (open)
            Line<true>(p, distance + x, strength + x, wide + x, open + x, length, thinner * p.width, share, weakest, row + x);
        else
            Line<false>(p, distance + x, strength + x, wide + x, nullptr, length, thinner * p.width, share, weakest, row + x);
    }
}

void Smoke(const float* HWY_RESTRICT smoke, const float* HWY_RESTRICT uneven, int count, float* HWY_RESTRICT row) {
    for (int x = 0; x < count; ++x) row[x] = most(row[x], smoke[x] * least(most(0.75f + 0.4f * uneven[x], 0), 1.2f));
}

void Hairs(const float* HWY_RESTRICT here, const float* HWY_RESTRICT below, const float* HWY_RESTRICT uneven, int count,
           float wide, float share, float* HWY_RESTRICT row) {
    for (int x = 0; x < count; ++x) {
        const float gx = here[x + 1] - here[x], gy = below[x] - here[x], value = here[x];
        const float distance = (value < 0 ? -value : value) / (std::sqrt(gx * gx + gy * gy) + 1e-5f);
        const float open = least(most(uneven[x] - 0.35f, 0), 1);
        row[x] = most(row[x], share * open * Drawn(distance, wide));
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Piece);
HWY_EXPORT(Distances);
HWY_EXPORT(Places);
HWY_EXPORT(Widths);
HWY_EXPORT(Smallest);
HWY_EXPORT(Lines);
HWY_EXPORT(Smoke);
HWY_EXPORT(Hairs);

void vein_piece_row(const VeinPiece& piece, int from, int to, float* distance, float* sided, float* strength, float* smoke) {
    HWY_DYNAMIC_DISPATCH(Piece)(piece, from, to, distance, sided, strength, smoke);
}
void vein_distances(const float* sided, int count, float* distance) { HWY_DYNAMIC_DISPATCH(Distances)(sided, count, distance); }
void vein_places(const float* du, const float* dv, int count, float start, float step, float across, float row, float down,
                 float* x, float* y) {
    HWY_DYNAMIC_DISPATCH(Places)(du, dv, count, start, step, across, row, down, x, y);
}
void vein_widths(const float* noise, int count, float spread, float* wide) {
    HWY_DYNAMIC_DISPATCH(Widths)(noise, count, spread, wide);
}
float vein_least(const float* values, int count) { return HWY_DYNAMIC_DISPATCH(Smallest)(values, count); }
void vein_lines(const VeinPen& pen, const float* distance, const float* strength, const float* wide, const float* open, int count,
                float thinner, float share, float weakest, float* row) {
    HWY_DYNAMIC_DISPATCH(Lines)(pen, distance, strength, wide, open, count, thinner, share, weakest, row);
}
void vein_smoke(const float* smoke, const float* uneven, int count, float* row) {
    HWY_DYNAMIC_DISPATCH(Smoke)(smoke, uneven, count, row);
}
void vein_hairs(const float* here, const float* below, const float* uneven, int count, float wide, float share, float* row) {
    HWY_DYNAMIC_DISPATCH(Hairs)(here, below, uneven, count, wide, share, row);
}

}  // namespace loom
#endif
