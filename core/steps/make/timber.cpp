// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/make/timber.h"

#include <algorithm>
#include <cmath>

#include "core/base/quick_math.h"
#include "core/steps/make/throws.h"

namespace loom {

namespace {

/// Flat-sawn rings slant over the tile by this share of them, so that arches point one way.
constexpr double arch_share = 0.38;

int gain_of(const TimberSettings& s) {
    switch (s.cut) {
        case Cut::flat: return std::max(1, static_cast<int>(std::lround(arch_share * s.bands)));
        case Cut::quarter: return 0;
        case Cut::end: return std::max(1, s.bands);
    }
    return 0;
}

}  // namespace

Timber::Timber(const TimberSettings& s)
    : s_(s),
      period_(s.cut == Cut::quarter ? std::max(1, s.bands) : gain_of(s)),
      gain_(gain_of(s)),
      pith_(0.3f + 0.4f * unit_float(mix64(s.seed, 0x70697468))),
      slow_(1, 2, mix64(s.seed, 1)),
      faster_(1, 5, mix64(s.seed, 2)),
      bend_(2, 2, mix64(s.seed, 3)),
      bend_fine_(6, 4, mix64(s.seed, 4)),
      rings_(period_, 1, mix64(s.seed, 5)) {
    // Of the ring width: cells across and down, and how many rings the noise moves.
    const struct {
        double across, down, rings;
        bool fine;
    } scales[] = {{1, 3, 0.8, false},  {3, 2, 0.9, false},   {8, 3, 0.55, false},
                  {20, 6, 0.26, true}, {50, 11, 0.11, true}, {110, 25, 0.05, true}};
    for (std::size_t k = 0; k < std::size(scales); ++k)
        phases_.emplace_back(PlaceNoise(scales[k].across, scales[k].down, mix64(s.seed, 10 + k)),
                             static_cast<float>(scales[k].rings * s.wobble * (scales[k].fine ? s.fine : 1)));
    // Rings get narrower outwards as far as the fold at the far side.
    const double far = std::sqrt(0.25 + s.depth * s.depth) - s.depth;
    width_ = static_cast<float>(far / std::max(1, s.bands));
    for (int k = 0; k < s.knots; ++k) {
        const std::uint64_t lots = mix64(s.seed, 0x6b6e6f74 + static_cast<std::uint64_t>(k));
        const double bell = std::clamp(static_cast<double>(normal_draw(lots, 2)), -2.0, 2.0);
        knots_.push_back({unit_float(mix64(lots, 0)), unit_float(mix64(lots, 1)),
                          static_cast<float>(s.knot_size * std::exp(s.knot_spread * bell)), lots});
    }
}

float Timber::from_knot(const Knot& knot, float u, float v, float& dx, float& dy) {
    dx = u - knot.u, dy = v - knot.v;
    dx -= quick_floor(dx + 0.5f), dy -= quick_floor(dy + 0.5f);
    const float flat = dy / 2.3f;
    return std::sqrt(dx * dx + flat * flat);
}

bool Timber::beside(const Knot& knot, float v, float reach) {
    float dy = v - knot.v;
    dy -= quick_floor(dy + 0.5f);
    return std::abs(dy) < 2.3f * reach;
}

void Timber::sway(const float* u, const float* v, int count, float* fibre) const {
    thread_local std::vector<float> zero;
    const std::size_t padded = static_cast<std::size_t>(count) + lattice_padding;
    if (zero.size() < padded) zero.assign(padded, 0.0f);
    std::fill_n(fibre, padded, 0.0f);
    const auto way = static_cast<float>(s_.sway);
    slow_.add(zero.data(), v, count, way, fibre);
    faster_.add(zero.data(), v, count, 0.27f * way, fibre);
    bend_.add(u, v, count, 0.8f * way, fibre);
    bend_fine_.add(u, v, count, 0.2f * way, fibre);
    for (int k = 0; k < count; ++k) fibre[k] += u[k];
    for (const Knot& knot : knots_) {
        const float r2 = knot.radius * knot.radius, reach = 5.5f * knot.radius, window = 1 / (reach * reach);
        for (int k = 0; k < count; ++k) {
            float dx, dy;
            if (!beside(knot, v[k], 2.6f * reach)) continue;
            const float f = from_knot(knot, u[k], v[k], dx, dy), f2 = f * f;
            if (f > 2.6f * reach) continue;
            // A windowed flow round a cylinder.
            fibre[k] -= dx * 1.3225f * r2 / (f2 + 0.35f * r2) * quick_exp(-f2 * window);
        }
    }
}

void Timber::at(const float* u, const float* v, int count, float* fibre, float* phase) const {
    sway(u, v, count, fibre);
    if (!phase) return;
    const std::size_t padded = static_cast<std::size_t>(count) + lattice_padding;
    std::fill_n(phase, padded, 0.0f);
    for (const auto& [noise, rings] : phases_) noise.add(fibre, v, count, rings, phase);
    const auto depth = static_cast<float>(s_.depth), gain = static_cast<float>(gain_), bands = static_cast<float>(s_.bands);
    for (int k = 0; k < count; ++k) {
        float off = fibre[k] - pith_;
        off -= quick_floor(off + 0.5f);
        switch (s_.cut) {
            case Cut::flat: {
                // One side of the tree grew faster; at the far side, where both meet, the fold is rounded.
                float a = std::abs(off);
                const float round = 0.012f, over = 0.5f - a;
                a = 0.5f - (std::sqrt(over * over + round * round) - round * 0.5f);
                const float uneven = 1 + 1.28f * off * (1 - 2 * std::abs(off));
                phase[k] += (std::sqrt(a * a + depth * depth) - depth) / width_ * uneven + gain * v[k];
                break;
            }
            case Cut::quarter: phase[k] += bands * fibre[k]; break;
            case Cut::end: {
                // Arcs that bow towards the pith, as deep as the cut is near it.
                const float bow = (1 - std::cos(6.2831853f * off)) / (0.5f + 8 * depth);
                phase[k] += gain * v[k] + 0.06f * gain * bow;
                break;
            }
        }
    }
    for (const Knot& knot : knots_) {
        const float height = 2.4f + unit_float(mix64(knot.lots, 3)), reach = 2.2f * knot.radius, window = 1 / (reach * reach);
        for (int k = 0; k < count; ++k) {
            float dx, dy;
            if (!beside(knot, v[k], 3 * reach)) continue;
            const float f = from_knot(knot, u[k], v[k], dx, dy);
            if (f < 3 * reach) phase[k] += height * quick_exp(-f * f * window);
        }
    }
    if (s_.ring_spread <= 0) return;
    // Uneven rings: the phase is moved by noise of itself.
    thread_local std::vector<float> turn, zero, move;
    turn.resize(padded), zero.assign(padded, 0.0f), move.assign(padded, 0.0f);
    for (int k = 0; k < count; ++k) turn[static_cast<std::size_t>(k)] = phase[k] / static_cast<float>(period_);
    rings_.add(turn.data(), zero.data(), count, 0.32f * static_cast<float>(s_.ring_spread), move.data());
    for (int k = 0; k < count; ++k) phase[k] += move[static_cast<std::size_t>(k)];
}

}  // namespace loom
