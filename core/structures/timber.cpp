// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/timber.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/base/quick_math.h"
#include "core/structures/throws.h"
#include "core/structures/timber_kernel.h"

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

/// What moves the fibre to the sides: whole rows, and parts of them.
std::vector<NoiseSheet::Part> leans(const TimberSettings& s) {
    const auto way = static_cast<float>(s.sway);
    return {{1, 2, way, mix64(s.seed, 1)}, {1, 5, 0.27f * way, mix64(s.seed, 2)}};
}
std::vector<NoiseSheet::Part> bends(const TimberSettings& s) {
    const auto way = static_cast<float>(s.sway);
    return {{2, 2, 0.8f * way, mix64(s.seed, 3)}, {6, 4, 0.2f * way, mix64(s.seed, 4)}};
}

std::vector<NoiseSheet::Part> wobbles(const TimberSettings& s) {
    // Of the ring width: cells across and down, and how many rings the noise moves.
    const struct {
        double across, down, rings;
        bool fine;
    } scales[] = {{1, 3, 0.8, false},  {3, 2, 0.9, false},   {8, 3, 0.55, false},
                  {20, 6, 0.26, true}, {50, 11, 0.11, true}, {110, 25, 0.05, true}};
    std::vector<NoiseSheet::Part> parts;
    for (std::size_t k = 0; k < std::size(scales); ++k)
        parts.push_back({scales[k].across, scales[k].down,
                         static_cast<float>(scales[k].rings * s.wobble * (scales[k].fine ? s.fine : 1)), mix64(s.seed, 10 + k)});
    return parts;
}

KnotRow row_of(const Knot& knot, float v) {
    float dx, dy;
    Timber::from_knot(knot, knot.u, v, dx, dy);
    return {knot.u, dy, knot.radius, 2.4f + unit_float(mix64(knot.lots, 3)), knot.turn};
}

/// A row of a sheet as long as it lasts until the next.
const float* read(const NoiseSheet& sheet, float v) {
    thread_local std::vector<float> line;
    line.resize(static_cast<std::size_t>(sheet.columns() + NoiseSheet::row_padding));
    sheet.row(v, line.data());
    return line.data();
}

}  // namespace

int ring_period(const TimberSettings& s) { return s.cut == Cut::quarter ? std::max(1, s.bands) : gain_of(s); }

Timber::Timber(const Job& job, const TimberSettings& s)
    : s_(s),
      period_(ring_period(s)),
      gain_(gain_of(s)),
      pith_(0.3f + 0.4f * unit_float(mix64(s.seed, 0x70697468))),
      lean_(job, leans(s)),
      bend_(job, bends(s)),
      phases_(job, wobbles(s)) {
    // Rings get narrower outwards as far as the fold at the far side.
    const double far = std::sqrt(0.25 + s.depth * s.depth) - s.depth;
    width_ = static_cast<float>(far / std::max(1, s.bands));
    for (int k = 0; k < s.knots; ++k) {
        const std::uint64_t drawn = s.knot_seed == 0 ? s.seed : mix64(s.seed, 0x6b73 + s.knot_seed),
                            lots = mix64(drawn, 0x6b6e6f74 + static_cast<std::uint64_t>(k));
        const double bell = std::clamp(static_cast<double>(normal_draw(lots, 2)), -2.0, 2.0);
        knots_.push_back({unit_float(mix64(lots, 0)), unit_float(mix64(lots, 1)),
                          static_cast<float>(s.knot_size * std::exp(s.knot_spread * bell)), static_cast<float>(s.knot_turn),
                          lots});
        if (k == 0 && s.first_knot)
            knots_[0].u = static_cast<float>(s.first_knot->first), knots_[0].v = static_cast<float>(s.first_knot->second);
    }
    // What combs rings: bundles of fibres, and fewer single ones.
    if (s.comb > 0 && s.cut != Cut::end) {
        const auto way = static_cast<float>(0.4 * s.comb);
        comb_.emplace(job, std::vector<NoiseSheet::Part>{{430, 26, 0.62f * way, mix64(s.seed, 0x636f6d62)},
                                                         {210, 13, 0.64f * way, mix64(s.seed, 0x636f6d63)},
                                                         {90, 7, 0.42f * way, mix64(s.seed, 0x636f6d64)},
                                                         {36, 5, 0.18f * way, mix64(s.seed, 0x636f6d65)}});
    }
    if (s.ring_spread <= 0) return;
    const NoiseSheet uneven(job,
                            {{static_cast<double>(period_), 1, 0.32f * static_cast<float>(s.ring_spread), mix64(s.seed, 5)}});
    uneven_columns_ = uneven.columns();
    uneven_.resize(static_cast<std::size_t>(uneven_columns_ + NoiseSheet::row_padding));
    uneven.row(0.5f / 8, uneven_.data());
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

void Timber::sway(float v, const float* u, int count, float* fibre) const {
    const float lean = read(lean_, v)[0];
    for (int k = 0; k < count; ++k) fibre[k] = u[k] + lean;
    add_line(read(bend_, v), bend_.columns(), u, count, 1, fibre);
    for (const Knot& knot : knots_)
        if (beside(knot, v, flow_reach * knot.radius)) flow_row(u, count, row_of(knot, v), fibre, nullptr);
}

void Timber::row(float v, const float* u, int count, float* fibre, float* phase) const {
    sway(v, u, count, fibre);
    if (!phase) return;
    std::fill_n(phase, count, 0.0f);
    add_line(read(phases_, v), phases_.columns(), fibre, count, 1, phase);
    const auto depth = static_cast<float>(s_.depth), gain = static_cast<float>(gain_);
    switch (s_.cut) {
        case Cut::flat:
            flat_sawn_row(fibre, count, {pith_, depth, width_, static_cast<float>(s_.lopsided)}, gain * v, phase);
            break;
        case Cut::quarter: quarter_sawn_row(fibre, count, static_cast<float>(s_.bands), phase); break;
        // Arcs bow towards the pith, as deep as the cut is near it.
        case Cut::end: end_grain_row(fibre, count, pith_, 0.06f * gain / (0.5f + 8 * depth), gain * v, phase); break;
    }
    for (const Knot& knot : knots_)
        if (beside(knot, v, rise_reach * knot.radius)) flow_row(u, count, row_of(knot, v), nullptr, phase);
    if (uneven_.empty()) return;
    // Uneven rings: the phase is moved by noise of itself.
    thread_local std::vector<float> turn;
    turn.resize(static_cast<std::size_t>(count));
    for (std::size_t k = 0; k < turn.size(); ++k) turn[k] = phase[k] / static_cast<float>(period_);
    add_line(uneven_.data(), uneven_columns_, turn.data(), count, 1, phase);
}

void Timber::comb_row(float v, const float* fibre, int count, float* moved) const {
    if (comb_) add_line(read(*comb_, v), comb_->columns(), fibre, count, 1, moved);
}

CombedPhase::CombedPhase(const Job& job, const Timber& timber, const float* u, int count, int tall)
    : rows_(std::clamp(tall / 4, 64, 1024)),
      count_(count),
      gain_(static_cast<float>(timber.gain_down())),
      plain_(static_cast<std::size_t>(rows_) * static_cast<std::size_t>(count)) {
    for_ranges(job, rows_, 8, [&](int first, int last) {
        std::vector<float> fibre(static_cast<std::size_t>(count));
        for (int k = first; k < last; ++k) {
            const float v = static_cast<float>(k) / static_cast<float>(rows_);
            float* phase = plain_.data() + static_cast<std::size_t>(k) * static_cast<std::size_t>(count);
            timber.row(v, u, count, fibre.data(), phase);
            for (int x = 0; x < count; ++x) phase[x] -= gain_ * v;
        }
    });
}

void CombedPhase::row(float v, const float* moved, float* phase) const {
    const auto rows = static_cast<float>(rows_);
    const auto width = static_cast<std::size_t>(count_);
    for (int x = 0; x < count_; ++x) {
        const float at = v + moved[x], place = at * rows, low = quick_floor(place), share = place - low;
        const int k = wrap(static_cast<int>(low), rows_), next = k + 1 == rows_ ? 0 : k + 1;
        const float a = plain_[static_cast<std::size_t>(k) * width + static_cast<std::size_t>(x)],
                    b = plain_[static_cast<std::size_t>(next) * width + static_cast<std::size_t>(x)];
        phase[x] = a + share * (b - a) + gain_ * at;
    }
}

}  // namespace loom
