// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/bonds.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"

namespace loom {

namespace {

int multiple_of(int count, int step) { return std::max(step, (count + step / 2) / step * step); }

/// Rows whose units are moved on by a share of their width from row to row, every `cycle` rows the same.
void rows_of(const BondSettings& s, int cycle, std::vector<BondUnit>& units) {
    const int columns = std::max(1, s.columns), rows = multiple_of(s.rows, cycle);
    const double width = 1.0 / columns, height = 1.0 / rows;
    for (int j = 0; j < rows; ++j)
        for (int i = 0; i < columns; ++i)
            units.push_back({(i + static_cast<double>(j % cycle) / cycle) * width, j * height, width, height});
}

/// Squares of two units side by side, lying and standing by turns.
void basket(const BondSettings& s, std::vector<BondUnit>& units) {
    const int columns = multiple_of(s.columns, 2), rows = multiple_of(s.rows, 2);
    const double width = 1.0 / columns, height = 1.0 / rows;
    for (int j = 0; j < rows; ++j)
        for (int i = 0; i < columns; ++i)
            for (int half = 0; half < 2; ++half) {
                const bool lying = (i + j) % 2 == 0;
                units.push_back({(i + (lying ? 0 : 0.5 * half)) * width, (j + (lying ? 0.5 * half : 0)) * height,
                                 lying ? width : width / 2, lying ? height / 2 : height});
            }
}

/// Units of two squares: on the grid of squares a lying unit begins where column - row is 0 modulo 4, a standing one where it
/// is 3. `columns` counts lying units, so that a square is half of one.
void herringbone(const BondSettings& s, std::vector<BondUnit>& units) {
    const int columns = multiple_of(2 * s.columns, 4), rows = multiple_of(s.rows, 4);
    const double width = 1.0 / columns, height = 1.0 / rows;
    for (int j = 0; j < rows; ++j)
        for (int i = 0; i < columns; ++i) {
            const int phase = ((i - j) % 4 + 4) % 4;
            if (phase == 0) units.push_back({i * width, j * height, 2 * width, height});
            if (phase == 3) units.push_back({i * width, j * height, width, 2 * height});
        }
}

/// Boards down the tile, in every column of other lengths, none shorter than half the mean; joints of neighbouring columns
/// keep apart as far as a few tries allow.
void planks(const BondSettings& s, std::vector<BondUnit>& units) {
    const int columns = std::max(1, s.columns), rows = std::max(1, s.rows);
    std::vector<double> before;
    for (int i = 0; i < columns; ++i) {
        std::vector<double> best;
        double best_gap = -1;
        for (std::uint64_t attempt = 0; attempt < 8; ++attempt) {
            auto lot = [&](std::uint64_t which) {
                return static_cast<double>(
                    unit_float(mix64(mix64(s.seed, 0x706c616e + static_cast<std::uint64_t>(i)), attempt * 1024 + which)));
            };
            std::vector<double> joints;
            double at = 0, total = 0;
            std::vector<double> lengths;
            for (int j = 0; j < rows; ++j) lengths.push_back(0.5 + lot(static_cast<std::uint64_t>(j))), total += lengths.back();
            at = lot(1000);
            for (double length : lengths) joints.push_back(at - std::floor(at)), at += length / total;
            double gap = 1;
            for (double joint : joints)
                for (double other : before) gap = std::min(gap, std::abs(std::remainder(joint - other, 1.0)));
            if (gap > best_gap) best_gap = gap, best = joints;
        }
        for (std::size_t j = 0; j < best.size(); ++j) {
            double length = best[(j + 1) % best.size()] - best[j];
            if (length <= 0) length += 1;
            units.push_back({static_cast<double>(i) / columns, best[j], 1.0 / columns, length});
        }
        before = best;
    }
}

}  // namespace

std::vector<BondUnit> lay_bond(const BondSettings& settings) {
    std::vector<BondUnit> units;
    switch (settings.bond) {
        case Bond::running: rows_of(settings, 2, units); break;
        case Bond::stack: rows_of(settings, 1, units); break;
        case Bond::thirds: rows_of(settings, 3, units); break;
        case Bond::basket: basket(settings, units); break;
        case Bond::herringbone: herringbone(settings, units); break;
        case Bond::planks: planks(settings, units); break;
    }
    return units;
}

}  // namespace loom
