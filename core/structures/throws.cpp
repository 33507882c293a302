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
                    for (const Throw& other : grid.squares[grid.at(wrap(ci + i, grid.across), wrap(cj + j, grid.down))])
                        if (meet(x, y, radius, inner, other)) return false;
        }
        return true;
    }
    bool meet(float x, float y, float radius, float inner, const Throw& other) const {
        const float dx = shortest(other.x - x, width_), dy = shortest(other.y - y, height_);
        const float apart = inner * (radius + other.radius);
        return dx * dx + dy * dy < apart * apart;
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
    /// The way on a ring; both places lie on the tile, so that the difference is exact.
    static float shortest(float way, float length) {
        return way > length / 2 ? way - length : way < -length / 2 ? way + length : way;
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
    static const Job alone;
    const Job& job = s.job ? *s.job : alone;
    auto at = [&](std::uint64_t k, float radius) {
        if (s.job && k % 1024 == 0) s.job->check();
        return Throw{lot(k, 0) * width, lot(k, 1) * height, radius, static_cast<std::uint32_t>(k)};
    };
    const auto stays = [&](const Throw& one) {
        return !s.keeps || s.keeps(static_cast<double>(one.x / width), static_cast<double>(one.y / height), one.lot);
    };
    if (s.overlap == Overlap::free || s.overlap == Overlap::stacked) {
        result.resize(count);
        for_ranges(job, static_cast<int>(count), 1024, [&](int first, int last) {
            for (int k = first; k < last; ++k)
                result[static_cast<std::size_t>(k)] = at(static_cast<std::uint64_t>(k), radius_of(static_cast<std::uint64_t>(k)));
        });
        if (s.keeps) std::erase_if(result, [&](const Throw& one) { return !stays(one); });
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
        const float margin = packed ? 1.0f / 0.86f : 0.5f, inner = packed ? 0.86f : 1.0f;
        // As if one were thrown after the other: many are tried against what lies already, at once, and then in their order
        // against those of them that found room.
        const auto more = [&] {
            return result.size() < (packed ? std::min(count, wanted) : count) && failed < 400 + 4 * count / 100;
        };
        while (more()) {
            constexpr int together = 512;
            std::vector<Throw> tried(together);
            std::vector<char> room_left(together);
            for_ranges(job, together, 32, [&](int first, int last) {
                for (int n = first; n < last; ++n) {
                    const auto at_n = static_cast<std::size_t>(n);
                    const std::uint64_t k = next + static_cast<std::uint64_t>(n);
                    tried[at_n] = at(k, radius_of(k) * static_cast<float>(scale));
                    room_left[at_n] =
                        stays(tried[at_n]) && room.free(tried[at_n].x, tried[at_n].y, tried[at_n].radius + margin, inner);
                }
            });
            const std::size_t before = result.size();
            for (std::size_t n = 0; n < together && more(); ++n, ++next) {
                const Throw& one = tried[n];
                const bool free =
                    room_left[n] &&
                    std::none_of(result.begin() + static_cast<std::ptrdiff_t>(before), result.end(),
                                 [&](const Throw& other) { return room.meet(one.x, one.y, one.radius + margin, inner, other); });
                if (!free) {
                    ++failed;
                    continue;
                }
                failed = 0;
                room.add(one), result.push_back(one);
            }
        }
    }
    return result;
}

}  // namespace loom
