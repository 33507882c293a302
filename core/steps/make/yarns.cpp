// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/make/yarns.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/image/plane.h"

namespace loom {

namespace {

/// Periodic smooth noise of one yarn, -1..1: draws at `cells` places with soft steps between.
float along_noise(std::uint64_t seed, double share, int cells) {
    const double place = share * cells, whole = std::floor(place);
    auto draw = [&](int k) {
        return 2 * static_cast<double>(unit_float(mix64(seed, static_cast<std::uint64_t>(wrap(k, cells))))) - 1;
    };
    const double t = place - whole, s = t * t * (3 - 2 * t);
    return static_cast<float>(draw(static_cast<int>(whole)) * (1 - s) + draw(static_cast<int>(whole) + 1) * s);
}

/// Over and under, held for a crossing each, softened by a bell of `deviation` crossings; periodic over `signs`.
std::vector<float> softened(const std::vector<float>& signs, int per_crossing, double deviation) {
    const int count = static_cast<int>(signs.size()) * per_crossing,
              reach = static_cast<int>(std::ceil(3.2 * deviation * per_crossing));
    std::vector<float> weights, out(static_cast<std::size_t>(count));
    float total = 0;
    for (int k = -reach; k <= reach; ++k)
        total += weights.emplace_back(static_cast<float>(std::exp(-0.5 * std::pow(k / (deviation * per_crossing), 2))));
    for (int k = 0; k < count; ++k) {
        float sum = 0;
        for (int n = -reach; n <= reach; ++n)
            sum +=
                weights[static_cast<std::size_t>(n + reach)] * signs[static_cast<std::size_t>(wrap(k + n, count) / per_crossing)];
        out[static_cast<std::size_t>(k)] = sum / total;
    }
    return out;
}

}  // namespace

Yarns::Yarns(const Draft& draft, bool warp, int count, int crossings, const YarnSettings& s)
    : count_(count), length_(crossings * per_crossing) {
    const int kinds = warp ? draft.ends : draft.picks, repeat = warp ? draft.picks : draft.ends;
    std::vector<std::vector<float>> profile;
    for (int kind = 0; kind < kinds; ++kind) {
        std::vector<float> signs;
        for (int k = 0; k < repeat; ++k) signs.push_back((warp ? draft.over(kind, k) : !draft.over(k, kind)) ? 1.0f : -1.0f);
        std::vector<float> rise = softened(signs, per_crossing, 0.36);
        const std::vector<float> wide = softened(signs, per_crossing, 0.75);
        const auto arch = static_cast<float>(s.arch);
        for (std::size_t k = 0; k < rise.size(); ++k) rise[k] = (rise[k] + arch * wide[k]) / (1 + arch * 0.9f);
        profile.push_back(std::move(rise));
    }
    auto rise_of = [&](int yarn, int k) {
        const auto& rise = profile[static_cast<std::size_t>(wrap(yarn, kinds))];
        return rise[static_cast<std::size_t>(k) % rise.size()];
    };
    places_.resize(static_cast<std::size_t>(count) * static_cast<std::size_t>(length_));
    for (int yarn = 0; yarn < count; ++yarn) {
        const std::uint64_t lots = mix64(s.seed, 0x7961726e + static_cast<std::uint64_t>(yarn));
        auto lot = [&](std::uint64_t which) { return static_cast<double>(unit_float(mix64(lots, which))); };
        // Slow and quick changes, a thickness of the yarn's own, and on some one long thick place.
        const int slow = std::max(2, static_cast<int>(0.2 * crossings / std::max(0.3, s.slub_px_crossings / 6))),
                  quick = std::max(3, crossings / 2);
        const double own = 0.45 * (2 * lot(0) - 1), thick_at = lot(1), thick = lot(2) < 0.35 ? 0.8 + 2 * lot(3) : 0;
        for (int k = 0; k < length_; ++k) {
            const double share = static_cast<double>(k) / length_;
            double off = share - thick_at;
            off -= std::round(off);
            const double length = s.slub_px_crossings / std::max(1, crossings), place = off / std::max(length, 1e-3);
            const double swell = own + 0.7 * along_noise(mix64(lots, 11), share, slow) +
                                 0.25 * along_noise(mix64(lots, 12), share, quick) + thick * std::exp(-place * place);
            const double jitter = 0.6 * along_noise(mix64(lots, 13), share, std::max(2, crossings / 12)) +
                                  0.4 * along_noise(mix64(lots, 14), share, std::max(3, crossings / 3));
            const float under_next = 0.5f - 0.5f * rise_of(yarn + 1, k), under_last = 0.5f - 0.5f * rise_of(yarn - 1, k);
            places_[static_cast<std::size_t>(yarn) * static_cast<std::size_t>(length_) + static_cast<std::size_t>(k)] = {
                rise_of(yarn, k),
                static_cast<float>(s.closing * static_cast<double>(under_next - under_last) + s.jitter * jitter),
                static_cast<float>(std::clamp(1 + s.slub * swell, 0.4, 2.0))};
        }
    }
}

}  // namespace loom
