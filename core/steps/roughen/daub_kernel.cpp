// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/roughen/daub_kernel.h"

#include <cmath>
#include <cstring>

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/steps/roughen/daub_kernel.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {

void Begin(const DaubSettings& settings, const float* HWY_RESTRICT xx, const float* HWY_RESTRICT xy, const float* HWY_RESTRICT yy,
           int count, DaubSums& sums) {
    std::memset(&sums, 0, sizeof(sums));
    const float radius = settings.radius, follow = settings.follow;
    for (int x = 0; x < count; ++x) {
        const float difference = xx[x] - yy[x], sum = xx[x] + yy[x];
        const float root = std::sqrt(difference * difference + 4 * xy[x] * xy[x]);
        const float anisotropy = sum > 1e-9f ? root / (sum > 1e-9f ? sum : 1.0f) : 0.0f;
        // Along the edge, across the steepest change, by half the angle of (difference, 2 xy).
        const float c2 = root > 1e-20f ? -difference / (root > 1e-20f ? root : 1.0f) : -1.0f;
        const float c = std::sqrt(0.5f + 0.5f * (c2 < -1 ? -1 : c2 > 1 ? 1 : c2));
        const float s = std::sqrt(0.5f - 0.5f * (c2 < -1 ? -1 : c2 > 1 ? 1 : c2));
        sums.cosine[x] = c, sums.sine[x] = xy[x] > 0 ? -s : s;
        const float stretch = 1 + follow * anisotropy;
        sums.along[x] = radius * stretch, sums.across[x] = radius / stretch;
    }
}

void Places(const DaubSums& sums, float x, float y, float left, float row, int count, float* HWY_RESTRICT px,
            float* HWY_RESTRICT py) {
    for (int k = 0; k < count; ++k) {
        const float along = x * sums.along[k], across = y * sums.across[k];
        px[k] = left + static_cast<float>(k) + along * sums.cosine[k] - across * sums.sine[k];
        py[k] = row + along * sums.sine[k] + across * sums.cosine[k];
    }
}

void AddPlace(const DaubSettings& settings, const float* const* values, const float* weight, int count, DaubSums& sums) {
    float squares[daub_tile] = {};
    for (int c = 0; c < settings.channels; ++c) {
        const float* HWY_RESTRICT from = values[c];
        for (int k = 0; k < count; ++k) squares[k] += from[k] * from[k];
    }
    for (int n = 0; n < daub_sectors; ++n) {
        const float w = weight[n];
        if (w == 0) continue;
        sums.weight[n] += w;
        float* HWY_RESTRICT square = sums.square[n];
        for (int k = 0; k < count; ++k) square[k] += w * squares[k];
        for (int c = 0; c < settings.channels; ++c) {
            const float* HWY_RESTRICT from = values[c];
            float* HWY_RESTRICT mean = sums.mean[n][c];
            for (int k = 0; k < count; ++k) mean[k] += w * from[k];
        }
    }
}

void Finish(const DaubSettings& settings, DaubSums& sums, int count, float* const* out) {
    float total[daub_tile] = {}, share[daub_tile];
    for (int c = 0; c < settings.channels; ++c)
        for (int k = 0; k < count; ++k) out[c][k] = 0;
    for (int n = 0; n < daub_sectors; ++n) {
        const float scale = 1 / sums.weight[n];
        float* HWY_RESTRICT spread = sums.square[n];
        for (int k = 0; k < count; ++k) spread[k] *= scale;
        for (int c = 0; c < settings.channels; ++c) {
            float* HWY_RESTRICT mean = sums.mean[n][c];
            for (int k = 0; k < count; ++k) mean[k] *= scale, spread[k] -= mean[k] * mean[k];
        }
        for (int k = 0; k < count; ++k) {
            const float calm = 1 + settings.sharpness * (spread[k] > 0 ? spread[k] : 0.0f), squared = calm * calm;
            share[k] = 1 / (squared * squared);
            total[k] += share[k];
        }
        for (int c = 0; c < settings.channels; ++c) {
            const float* HWY_RESTRICT mean = sums.mean[n][c];
            float* HWY_RESTRICT to = out[c];
            for (int k = 0; k < count; ++k) to[k] += share[k] * mean[k];
        }
    }
    for (int c = 0; c < settings.channels; ++c)
        for (int k = 0; k < count; ++k) out[c][k] /= total[k];
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Begin);
HWY_EXPORT(Places);
HWY_EXPORT(AddPlace);
HWY_EXPORT(Finish);
void daub_begin(const DaubSettings& settings, const float* xx, const float* xy, const float* yy, int count, DaubSums& sums) {
    HWY_DYNAMIC_DISPATCH(Begin)(settings, xx, xy, yy, count, sums);
}
void daub_places(const DaubSums& sums, float x, float y, float left, float row, int count, float* px, float* py) {
    HWY_DYNAMIC_DISPATCH(Places)(sums, x, y, left, row, count, px, py);
}
void daub_add(const DaubSettings& settings, const float* const* values, const float* weight, int count, DaubSums& sums) {
    HWY_DYNAMIC_DISPATCH(AddPlace)(settings, values, weight, count, sums);
}
void daub_finish(const DaubSettings& settings, DaubSums& sums, int count, float* const* out) {
    HWY_DYNAMIC_DISPATCH(Finish)(settings, sums, count, out);
}
}  // namespace loom
#endif
