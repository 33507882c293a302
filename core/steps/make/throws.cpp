// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/make/throws.h"

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

/// Circles on the torus, by squares of a grid, so that neighbours are found at once.
class Room {
public:
    Room(Size tile, double reach)
        : width_(static_cast<float>(tile.width)),
          height_(static_cast<float>(tile.height)),
          across_(std::max(1, static_cast<int>(tile.width / reach))),
          down_(std::max(1, static_cast<int>(tile.height / reach))),
          squares_(static_cast<std::size_t>(across_) * static_cast<std::size_t>(down_)) {}

    /// Whether a circle keeps `gap` from all others, or from their `inner` share of them.
    bool free(float x, float y, float radius, float gap, float inner) const {
        const int ci = column(x), cj = row(y);
        // As far as the largest circle may reach; a small torus is looked over whole.
        for (int j = -1; j <= 1; ++j)
            for (int i = -1; i <= 1; ++i)
                for (const Throw& other : squares_[at(wrap(ci + i, across_), wrap(cj + j, down_))]) {
                    const float dx = std::remainder(other.x - x, width_), dy = std::remainder(other.y - y, height_);
                    const float apart = inner * (radius + other.radius) + gap;
                    if (dx * dx + dy * dy < apart * apart) return false;
                }
        return true;
    }
    void add(const Throw& one) { squares_[at(column(one.x), row(one.y))].push_back(one); }

private:
    int column(float x) const { return std::min(across_ - 1, static_cast<int>(x / width_ * static_cast<float>(across_))); }
    int row(float y) const { return std::min(down_ - 1, static_cast<int>(y / height_ * static_cast<float>(down_))); }
    std::size_t at(int i, int j) const {
        return static_cast<std::size_t>(j) * static_cast<std::size_t>(across_) + static_cast<std::size_t>(i);
    }
    float width_, height_;
    int across_, down_;
    std::vector<std::vector<Throw>> squares_;
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
    Room room(s.tile, 2 * widest + 1);
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
            if (!room.free(one.x, one.y, one.radius, packed ? 1.0f : 0.5f, packed ? 0.86f : 1.0f)) {
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
