// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/cell_creases.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/image/shoulder.h"
#include "core/noise/cell_kernel.h"
#include "core/noise/place_noise.h"
#include "core/structures/cell_layout.h"

namespace loom {

namespace {

CloudField slow_field(double size_px, int octaves, Size tile, Size size, std::uint64_t seed, const Job& job) {
    CloudSettings clouds;
    clouds.across = tile.width / size_px, clouds.down = tile.height / size_px;
    clouds.octaves = octaves, clouds.seed = seed;
    return CloudField(clouds, size, &job);
}

}  // namespace

CellCreases::CellCreases(const CreaseSettings& settings, double size_px, Size tile, Size size, std::uint64_t seed, const Job& job)
    : s_(settings) {
    if (s_.fade > 0) where_.emplace(slow_field(3.5 * size_px, 3, tile, size, mix64(seed, 0x66616465), job));
}

void CellCreases::row(int y, float* border, const float* pair, int count, float* top) const {
    thread_local std::vector<float> where;
    if (where_) {
        where.resize(static_cast<std::size_t>(where_->padded_width()));
        where_->row(y, where.data());
    }
    const auto spread = static_cast<float>(s_.spread), fade = static_cast<float>(s_.fade),
               round = static_cast<float>(s_.floor_px);
    const auto width_of = [&](int x) { return spread > 0 ? 1 + spread * 1.3f * (pair[x] - 0.5f) : 1.0f; };
    for (int x = 0; x < count; ++x) {
        const float wide = border[x] / width_of(x);
        border[x] = std::sqrt(wide * wide + round * round) - round;
    }
    dome_row(border, static_cast<float>(s_.depth_px), count, top);
    if (spread <= 0 && !where_) return;
    for (int x = 0; x < count; ++x) {
        float deep = spread > 0 ? 1 - spread * 0.85f * (1 - pair[x]) : 1.0f;
        if (where_) deep *= 1 - fade * shoulder(-0.3f, 1.2f, where[static_cast<std::size_t>(x)]);
        top[x] = 1 - deep * (1 - top[x]);
    }
}

CellSettings SecondNet::settings_of(double size_px, Size tile, Size size, std::uint64_t seed) {
    CellSettings cells = cells_apart(size_px, size_px, tile);
    cells.layout.relaxation = 1, cells.layout.seed = seed;
    cells.merging_px = 0.26 * size_px, cells.rounding_px = 0.08 * size_px;
    cells.pixels = static_cast<double>(size.width) / tile.width;
    return cells;
}

bool SecondNet::shows(double size_px, Size tile, Size size) { return share_shown(size_px * size.width / tile.width) > 0; }

SecondNet::SecondNet(double size_px, double strength, Size tile, Size size, std::uint64_t seed, const Job& job)
    : size_px_(size_px),
      // Nets that are finer than pixels are as good as none.
      strength_(static_cast<float>(strength) * share_shown(size_px * size.width / tile.width)),
      field_(settings_of(size_px, tile, size, mix64(seed, 0x6e6574)), size, job),
      where_(slow_field(9 * size_px, 3, tile, size, mix64(seed, 0x6e657477), job)) {}

void SecondNet::read(int first, int last, Rows& rows) const {
    field_.rows(first, last, false, true, rows.cells);
    rows.where.resize(static_cast<std::size_t>(where_.padded_width()));
}

void SecondNet::take(int y, std::size_t at, Rows& rows, int count, float* out) const {
    where_.row(y, rows.where.data());
    const float* border = rows.cells.border.data() + at;
    const auto per_depth = static_cast<float>(1 / (0.14 * size_px_));
    for (int x = 0; x < count; ++x) {
        const float open = shoulder(-1.0f, 1.2f, rows.where[static_cast<std::size_t>(x)]);
        out[x] *= 1 - strength_ * open * std::exp(-border[x] * per_depth);
    }
}

}  // namespace loom
