// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/brushing.h"

#include <algorithm>
#include <cmath>

#include "core/image/direction.h"
#include "core/image/gaussian.h"

namespace loom {

namespace {

constexpr double least_fine = 0.8;  ///< pixels
/// Slopes of half an 8-bit step a design pixel say half as much as steep ones; of the difference over two pixels, squared.
constexpr float least_power = 1.0f / (255 * 255);

/// Slopes between single pixels favour the lattice's directions; a little softer they favour none. What is not covered says
/// nothing of what is.
Plane softened_tone(const Bundle& strand, double by, const Job& job) {
    const PlaneRef tone = covered_tone_of(strand, job);
    Plane soft = gaussian_blur(*tone, by, by, job);
    if (!strand.coverage) return soft;
    const Plane cover = gaussian_blur(*strand.coverage, by, by, job);
    for_values(job, soft, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) soft.data()[i] /= std::max(1e-6f, cover.data()[i]);
    });
    return soft;
}

Bundle strength_of(const Bundle& brushing) {
    Bundle strength;
    strength.colour = {brushing.colour[2]};
    strength.coverage = brushing.coverage;
    return strength;
}

}  // namespace

Bundle brushing_of(const Bundle& strand, double soft, const Job& job) {
    const Plane* cover = strand.coverage.get();
    const double design_px = soft / brushing_soft_px;
    Plane power;
    DirectionField lines = directions_of(softened_tone(strand, std::max(least_fine, design_px), job), cover, soft, power, job);
    const auto per_px = static_cast<float>(design_px * design_px);
    for_values(job, power, [&](std::size_t first, std::size_t last) {
        float *c = lines.cosine.data(), *s = lines.sine.data(), *p = power.data();
        for (std::size_t i = first; i < last; ++i) {
            const float covered = cover ? cover->data()[i] : 1.0f, slopes = std::max(0.0f, p[i]) * per_px;
            const float length = std::sqrt(c[i] * c[i] + s[i] * s[i]);
            const float coherence = std::min(1.0f, length / std::max(1e-20f, p[i]));
            const float strength = covered * coherence * slopes / (slopes + least_power);
            const float scale = length > 0 ? strength / length : 0;
            // Rows grow downwards.
            c[i] *= scale, s[i] *= -scale, p[i] = strength;
        }
    });
    Bundle result = Bundle::of(std::move(lines.cosine), std::move(lines.sine), std::move(power));
    result.coverage = strand.coverage;
    return result;
}

Bundle brushings_joined(const Bundle& under, const Bundle& over, const Joining& joining, const Job& job) {
    const Bundle mixed = blended(under, over, {Blend::normal, joining.settings.amount}, nullptr, job);
    const Bundle blent = joined(strength_of(under), strength_of(over), joining, nullptr, job);
    Plane cosine = blent.channel(0).alike(), sine = cosine.alike(), strength = cosine.alike();
    for_values(job, strength, [&](std::size_t first, std::size_t last) {
        const float *c = mixed.channel(0).data(), *s = mixed.channel(1).data(), *m = mixed.channel(2).data(),
                    *b = blent.channel(0).data();
        for (std::size_t i = first; i < last; ++i) {
            const float length = std::sqrt(c[i] * c[i] + s[i] * s[i]);
            const float agreed = std::clamp(b[i], 0.0f, 1.0f) * (m[i] > 1e-6f ? std::min(1.0f, length / m[i]) : 0.0f);
            const float scale = length > 0 ? agreed / length : 0;
            cosine.data()[i] = scale * c[i], sine.data()[i] = scale * s[i], strength.data()[i] = agreed;
        }
    });
    return Bundle::of(std::move(cosine), std::move(sine), std::move(strength));
}

Bundle brushing_map(const Bundle& brushing, const Job& job) {
    Plane x = brushing.channel(0).alike(), y = x.alike();
    for_values(job, x, [&](std::size_t first, std::size_t last) {
        const float *c = brushing.channel(0).data(), *s = brushing.channel(1).data();
        for (std::size_t i = first; i < last; ++i) {
            // Half the angle, without leaving for it: 1 + cos is twice its cosine's square.
            const float length = std::sqrt(c[i] * c[i] + s[i] * s[i]);
            const float cosine = length > 0 ? std::clamp(c[i] / length, -1.0f, 1.0f) : 1.0f;
            const float across = std::sqrt((1 + cosine) / 2), up = std::sqrt((1 - cosine) / 2);
            x.data()[i] = 0.5f + 0.5f * across, y.data()[i] = 0.5f + (s[i] < 0 ? -0.5f : 0.5f) * up;
        }
    });
    Bundle result;
    result.colour = {share(std::move(x)), share(std::move(y)), brushing.colour[2]};
    return result;
}

}  // namespace loom
