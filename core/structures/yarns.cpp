// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/yarns.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/base/quick_math.h"
#include "core/image/plane.h"

namespace loom {

namespace {

/// Periodic smooth noise of one yarn, -1..1: draws at `cells` places with soft steps between.
class AlongNoise {
public:
    AlongNoise(std::uint64_t seed, int cells) : cells_(static_cast<float>(cells)) {
        for (int k = 0; k < cells; ++k) draws_.push_back(2 * unit_float(mix64(seed, static_cast<std::uint64_t>(k))) - 1);
        draws_.push_back(draws_.front()), draws_.push_back(draws_.front());
    }
    /// At a share of the yarn's way, 0..1.
    float at(float share) const {
        const float place = share * cells_;
        const auto cell = static_cast<std::size_t>(place);
        const float t = place - static_cast<float>(cell);
        return draws_[cell] + t * t * (3 - 2 * t) * (draws_[cell + 1] - draws_[cell]);
    }

private:
    float cells_;
    std::vector<float> draws_;
};

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
    : entries_(crossings * per_crossing) {
    const int kinds = warp ? draft.ends : draft.picks, repeat = warp ? draft.picks : draft.ends;
    std::vector<std::vector<float>> profile;
    for (int kind = 0; kind < kinds; ++kind) {
        std::vector<float> signs;
        for (int k = 0; k < repeat; ++k) signs.push_back((warp ? draft.over(kind, k) : !draft.over(k, kind)) ? 1.0f : -1.0f);
        std::vector<float> rise = softened(signs, per_crossing, 0.36);
        const std::vector<float> wide = softened(signs, per_crossing, 0.75);
        const auto arch = static_cast<float>(s.arch);
        for (std::size_t k = 0; k < rise.size(); ++k) rise[k] = (rise[k] + arch * wide[k]) / (1 + arch * 0.9f);
        if (s.shoulder > 0)
            for (float& each : rise)
                each = std::copysign(std::pow(std::min(1.0f, std::abs(each)), static_cast<float>(1 - 0.6 * s.shoulder)), each);
        profile.push_back(std::move(rise));
    }
    auto rise_of = [&](int yarn, int k) {
        const auto& rise = profile[static_cast<std::size_t>(wrap(yarn, kinds))];
        return rise[static_cast<std::size_t>(k) % rise.size()];
    };
    places_.reserve(static_cast<std::size_t>(count) * static_cast<std::size_t>(entries_ + 1));
    const auto closing = static_cast<float>(s.closing), jitter_share = static_cast<float>(s.jitter),
               slub = static_cast<float>(s.slub);
    for (int yarn = 0; yarn < count; ++yarn) {
        if (s.job) s.job->check();
        const std::uint64_t lots = mix64(s.seed, 0x7961726e + static_cast<std::uint64_t>(yarn));
        auto lot = [&](std::uint64_t which) { return static_cast<double>(unit_float(mix64(lots, which))); };
        // Slow and quick changes, a thickness of the yarn's own, and on some one long thick place.
        const int slow = std::max(2, static_cast<int>(0.2 * crossings / std::max(0.3, s.slub_px_crossings / 6))),
                  quick = std::max(3, crossings / 2);
        const double own = 0.45 * (2 * lot(0) - 1), thick_at = lot(1), thick = lot(2) < 0.35 ? 0.8 + 2 * lot(3) : 0;
        const AlongNoise slow_swell(mix64(lots, 11), slow), quick_swell(mix64(lots, 12), quick),
            slow_jitter(mix64(lots, 13), std::max(2, crossings / 12)), quick_jitter(mix64(lots, 14), std::max(3, crossings / 3));
        const float per_length = static_cast<float>(1 / std::max(s.slub_px_crossings / std::max(1, crossings), 1e-3));
        for (int k = 0; k < entries_; ++k) {
            const float share = static_cast<float>(k) / static_cast<float>(entries_);
            float place = share - static_cast<float>(thick_at);
            place = (place - quick_floor(place + 0.5f)) * per_length;
            const float swell = static_cast<float>(own) + 0.7f * slow_swell.at(share) + 0.25f * quick_swell.at(share) +
                                static_cast<float>(thick) * quick_exp(-place * place);
            const float jitter = 0.6f * slow_jitter.at(share) + 0.4f * quick_jitter.at(share);
            const float under_next = 0.5f - 0.5f * rise_of(yarn + 1, k), under_last = 0.5f - 0.5f * rise_of(yarn - 1, k);
            places_.push_back({rise_of(yarn, k), closing * (under_next - under_last) + jitter_share * jitter,
                               std::clamp(1 + slub * swell, 0.4f, 2.0f)});
        }
        places_.push_back(places_[places_.size() - static_cast<std::size_t>(entries_)]);
    }
}

float Yarns::reach(float half) const {
    float most = 0;
    for (const YarnPlace& place : places_)
        most = std::max(most, half * place.swell * (1 + 0.13f * place.rise) + std::abs(place.shift));
    return most;
}

}  // namespace loom
