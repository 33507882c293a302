// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/noise_sheet.h"

#include <algorithm>
#include <cmath>

#include "core/noise/lattice.h"

#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/noise/noise_sheet.cpp"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

HWY_BEFORE_NAMESPACE();
namespace loom {
namespace HWY_NAMESPACE {
namespace hn = hwy::HWY_NAMESPACE;

void Mix(const float* const* rows, const float* weights, int count, float* HWY_RESTRICT out) {
    const float *a = rows[0], *b = rows[1], *c = rows[2], *d = rows[3];
    for (int x = 0; x < count; ++x) out[x] = weights[0] * a[x] + weights[1] * b[x] + weights[2] * c[x] + weights[3] * d[x];
}

void Line(const float* HWY_RESTRICT row, int columns, const float* HWY_RESTRICT u, int count, float weight,
          float* HWY_RESTRICT out) {
    const hn::ScalableTag<float> f;
    const hn::RebindToSigned<decltype(f)> d;
    const auto scale = hn::Set(f, static_cast<float>(columns)), half = hn::Set(f, 0.5f), w = hn::Set(f, weight);
    const auto mask = hn::Set(d, columns - 1);
    const int lanes = static_cast<int>(hn::Lanes(f));
    auto at = [&](auto place) {
        const auto t = hn::Sub(hn::Mul(place, scale), half), whole = hn::Floor(t), share = hn::Sub(t, whole);
        const auto index = hn::And(hn::ConvertTo(d, whole), mask);
        const auto a = hn::GatherIndex(f, row, index), b = hn::GatherIndex(f, row + 1, index);
        return hn::Mul(w, hn::Add(a, hn::Mul(share, hn::Sub(b, a))));
    };
    int x = 0;
    for (; x + lanes <= count; x += lanes) hn::StoreU(hn::Add(hn::LoadU(f, out + x), at(hn::LoadU(f, u + x))), f, out + x);
    if (x < count) {
        HWY_ALIGN float rest[hn::MaxLanes(f)] = {};
        for (int k = x; k < count; ++k) rest[k - x] = u[k];
        hn::Store(at(hn::Load(f, rest)), f, rest);
        for (int k = x; k < count; ++k) out[k] += rest[k - x];
    }
}

}  // namespace HWY_NAMESPACE
}  // namespace loom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace loom {
HWY_EXPORT(Mix);
HWY_EXPORT(Line);

namespace {

/// Samples a cell that straight lines across and cubic ones down need to be taken for the noise itself.
constexpr double samples_across = 8, samples_down = 6;

int cells(double wanted) { return std::max(1, static_cast<int>(wanted + 0.5)); }

}  // namespace

NoiseSheet::NoiseSheet(const Job& job, const std::vector<Part>& parts, int most_columns) {
    for (const Part& part : parts) {
        while (columns_ < std::min<double>(most_columns, samples_across * cells(part.across))) columns_ *= 2;
        rows_ = std::max(rows_, static_cast<int>(samples_down * cells(part.down)));
    }
    const Size size{columns_, rows_};
    std::vector<std::pair<LatticeNoise, float>> noises;
    for (const Part& part : parts)
        noises.emplace_back(
            LatticeNoise(Lattice::of(cells(part.across), 0, 0, cells(part.down)), Basis::gradient, part.seed, size),
            part.weight / LatticeNoise::deviation(Basis::gradient));
    samples_ = Plane(size);
    for_rows(job, rows_, [&](int first, int last) {
        std::vector<float> line(static_cast<std::size_t>(columns_) + lattice_padding);
        for (int y = first; y < last; ++y) {
            std::fill(line.begin(), line.end(), 0.0f);
            for (const auto& [noise, weight] : noises) noise.add_row(y, weight, line.data());
            std::copy_n(line.begin(), columns_, samples_.row(y));
        }
    });
}

void NoiseSheet::row(float v, float* out) const {
    const float at = v * static_cast<float>(rows_) - 0.5f, whole = std::floor(at), t = at - whole;
    const float* rows[4];
    for (int k = 0; k < 4; ++k) rows[k] = samples_.row(wrap(static_cast<int>(whole) + k - 1, rows_));
    const float weights[4] = {t * (-0.5f + t * (1 - 0.5f * t)), 1 + t * t * (-2.5f + 1.5f * t), t * (0.5f + t * (2 - 1.5f * t)),
                              t * t * (-0.5f + 0.5f * t)};
    HWY_DYNAMIC_DISPATCH(Mix)(rows, weights, columns_, out);
    for (int k = 0; k < row_padding; ++k) out[columns_ + k] = out[k];
}

void add_line(const float* row, int columns, const float* u, int count, float weight, float* out) {
    HWY_DYNAMIC_DISPATCH(Line)(row, columns, u, count, weight, out);
}

}  // namespace loom
#endif
