// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/ladder.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <map>

#include "core/noise/enlarge.h"
#include "core/noise/lattice.h"

namespace loom {

namespace {

constexpr std::size_t kept_bytes = std::size_t{16} << 20;

/// The rows of a rung that a thread made last. Six are looked at for each row of the next rung.
struct LastRows {
    static constexpr int count = 8;
    std::array<int, count> of;
    std::array<std::vector<float>, count> rows;
    LastRows() { of.fill(-1); }
};

LastRows& last_rows(std::uint64_t ladder, std::size_t rung) {
    thread_local std::map<std::pair<std::uint64_t, std::size_t>, LastRows> all;
    constexpr std::size_t most = 24;
    const std::pair key{ladder, rung};
    if (all.size() >= most && !all.contains(key)) {
        // Numbers only grow: the lowest is the oldest, unless it is the ladder in hand.
        const auto oldest = all.begin()->first.first == ladder ? std::prev(all.end()) : all.begin();
        all.erase(oldest);
    }
    return all[key];
}

}  // namespace

Ladder::Ladder(Size size, std::vector<AddRow> add, const Job& job) {
    static std::atomic<std::uint64_t> numbers{0};
    number_ = ++numbers;
    for (std::size_t k = 0; k < add.size(); ++k)
        rungs_.push_back({{size.width >> (k + 1), size.height >> (k + 1)}, std::move(add[k]), {}});
    for (std::size_t k = rungs_.size(); k-- > 0;) {
        if (rungs_[k].size.pixels() * sizeof(float) > kept_bytes) break;
        Plane plane(rungs_[k].size);
        for_rows(job, plane, [&](int first, int last) {
            std::vector<float> line(static_cast<std::size_t>(plane.width() + lattice_padding));
            for (int y = first; y < last; ++y) {
                make(k, y, line.data());
                std::copy_n(line.begin(), plane.width(), plane.row(y));
            }
        });
        rungs_[k].plane = std::move(plane);
    }
}

void Ladder::make(std::size_t rung, int y, float* line) const {
    const Rung& here = rungs_[rung];
    if (rung + 1 < rungs_.size())
        enlarged(rung + 1, y, line);
    else
        std::fill_n(line, here.size.width + lattice_padding, 0.0f);
    if (here.add) here.add(y, line);
}

const float* Ladder::rung_row(std::size_t rung, int y) const {
    const Rung& here = rungs_[rung];
    if (here.plane.width() > 0) return here.plane.row(y);
    LastRows& last = last_rows(number_, rung);
    const auto slot = static_cast<std::size_t>(y % LastRows::count);
    if (last.of[slot] != y) {
        last.rows[slot].resize(static_cast<std::size_t>(here.size.width + lattice_padding));
        make(rung, y, last.rows[slot].data());
        last.of[slot] = y;
    }
    return last.rows[slot].data();
}

void Ladder::enlarged(std::size_t coarser, int y, float* out) const {
    const Size size = rungs_[coarser].size;
    const float* rows[6];
    for (int k = 0; k < 6; ++k) rows[k] = rung_row(coarser, wrap(enlarging_row(y, k), size.height));
    enlarged_row(rows, size.width, out);
}

void Ladder::row(int y, float* out) const { enlarged(0, y, out); }

}  // namespace loom
