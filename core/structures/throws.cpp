// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/throws.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"

namespace loom {

float normal_draw(std::uint64_t seed, std::uint64_t which) {
    const std::uint64_t hash = mix64(seed, which);
    const float a = 1 - unit_float(hash), b = unit_float(mix64(hash));
    return std::sqrt(-2 * std::log(a)) * std::cos(6.2831853f * b);
}

namespace {

/// Circles on the torus, by size and by squares of a grid for each size, so that neighbours are found at once.
class Room {
public:
    Room(Size tile, double least, double widest)
        : width_(static_cast<float>(tile.width)), height_(static_cast<float>(tile.height)) {
        // Every class holds circles up to twice as wide as the one before.
        for (double radius = 2 * least;; radius *= 2) {
            Grid grid;
            grid.widest = static_cast<float>(radius);
            grid.across = std::clamp(static_cast<int>(tile.width / (2 * radius)), 1, 2048);
            grid.down = std::clamp(static_cast<int>(tile.height / (2 * radius)), 1, 2048);
            grid.squares.resize(static_cast<std::size_t>(grid.across) * static_cast<std::size_t>(grid.down));
            grids_.push_back(std::move(grid));
            if (radius >= widest) break;
        }
    }

    /// Whether a circle keeps apart from the `inner` share of all others.
    bool free(float x, float y, float radius, float inner) const {
        for (const Grid& grid : grids_) {
            if (grid.empty) continue;
            const float reach = inner * (radius + grid.widest);
            const int columns = steps(reach, width_, grid.across), rows = steps(reach, height_, grid.down);
            const int ci = place(x, width_, grid.across), cj = place(y, height_, grid.down);
            for (int j = -rows; j < std::min(rows + 1, grid.down - rows); ++j)
                for (int i = -columns; i < std::min(columns + 1, grid.across - columns); ++i)
                    for (const Throw& other : grid.squares[grid.at(wrap(ci + i, grid.across), wrap(cj + j, grid.down))]) {
                        const float dx = std::remainder(other.x - x, width_), dy = std::remainder(other.y - y, height_);
                        const float apart = inner * (radius + other.radius);
                        if (dx * dx + dy * dy < apart * apart) return false;
                    }
        }
        return true;
    }
    void add(const Throw& one) {
        std::size_t k = 0;
        while (k + 1 < grids_.size() && one.radius > grids_[k].widest) ++k;
        Grid& grid = grids_[k];
        grid.empty = false;
        grid.squares[grid.at(place(one.x, width_, grid.across), place(one.y, height_, grid.down))].push_back(one);
    }

private:
    struct Grid {
        float widest = 0;
        int across = 1, down = 1;
        bool empty = true;
        std::vector<std::vector<Throw>> squares;
        std::size_t at(int i, int j) const {
            return static_cast<std::size_t>(j) * static_cast<std::size_t>(across) + static_cast<std::size_t>(i);
        }
    };
    static int place(float at, float length, int count) {
        return std::min(count - 1, static_cast<int>(at / length * static_cast<float>(count)));
    }
    /// Squares to look at to each side; at most all of them once.
    static int steps(float reach, float length, int count) {
        return std::min(count / 2, static_cast<int>(reach / length * static_cast<float>(count)) + 1);
    }
    float width_, height_;
    std::vector<Grid> grids_;
};

}  // namespace

std::vector<Throw> thrown(const ThrowSettings& s) {
    auto lot = [&](std::uint64_t k, std::uint64_t which) { return unit_float(mix64(mix64(s.seed, 0x7468726f + k), which)); };
    auto radius_of = [&](std::uint64_t k) {
        // Extremes of the bell would be the one object that betrays the repeat.
        const float bell = std::clamp(normal_draw(mix64(s.seed, 0x73697a65), k), -2.2f, 2.2f);
        return static_cast<float>(s.radius * std::exp(s.spread * static_cast<double>(bell)));
    };
    const auto width = static_cast<float>(s.tile.width), height = static_cast<float>(s.tile.height);
    const auto count = static_cast<std::size_t>(std::max(0, s.count));
    std::vector<Throw> result;
    auto at = [&](std::uint64_t k, float radius) {
        if (s.job && k % 1024 == 0) s.job->check();
        return Throw{lot(k, 0) * width, lot(k, 1) * height, radius, static_cast<std::uint32_t>(k)};
    };
    if (s.overlap == Overlap::free || s.overlap == Overlap::stacked) {
        for (std::size_t k = 0; k < count; ++k) result.push_back(at(k, radius_of(k)));
        return result;
    }
    // Packed things come in four classes, each a bit more than half the one before, and may touch at their corners.
    const bool packed = s.overlap == Overlap::packed;
    const int classes = packed ? 4 : 1;
    const double widest = s.radius * std::exp(2.2 * s.spread) * (packed ? 2 : 1);
    const double least = s.radius * std::exp(-2.2 * s.spread) * (packed ? 2 * 0.56 * 0.56 * 0.56 : 1);
    Room room(s.tile, std::max(least, 1e-3), widest);
    std::uint64_t next = 0;
    double scale = packed ? 2 : 1;
    for (int c = 0; c < classes; ++c, scale *= 0.56) {
        // Smaller classes hold more: each has as many as fit until most throws fail.
        const std::size_t wanted =
            packed ? (c + 1 == classes ? count : count * static_cast<std::size_t>(1 << c) / 24 + 1) : count;
        std::size_t failed = 0;
        while (result.size() < (packed ? std::min(count, wanted) : count) && failed < 400 + 4 * count / 100) {
            const std::uint64_t k = next++;
            const Throw one = at(k, radius_of(k) * static_cast<float>(scale));
            if (!room.free(one.x, one.y, one.radius + (packed ? 1.0f / 0.86f : 0.5f), packed ? 0.86f : 1.0f)) {
                ++failed;
                continue;
            }
            failed = 0;
            room.add(one), result.push_back(one);
        }
    }
    return result;
}

}  // namespace loom
