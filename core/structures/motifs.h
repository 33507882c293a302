// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Outlines of scattered things in their own frame, where the middle is 0,0 and the radius 1.
#pragma once

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>

#include "core/base/hash.h"

namespace loom {

enum class Motif { disc, flake, polygon, stain, square, strand };

/// Up to eight half planes: inside is where all distances are above 0.
class MotifOutline {
public:
    MotifOutline(Motif motif, std::uint64_t lots) : motif_(motif) {
        auto lot = [&](std::uint64_t which) { return unit_float(mix64(lots, which)); };
        if (motif == Motif::flake) {
            // A hexagon, a quarter of them with a broken corner.
            static const auto hexagon = [] {
                std::array<Side, 6> sides;
                for (int k = 0; k < 6; ++k)
                    sides[static_cast<std::size_t>(k)] = side(6.2831853f * static_cast<float>(k) / 6, 0.866f);
                return sides;
            }();
            for (const Side& each : hexagon) add(each);
            if (lot(20) < 0.25f) add(side(6.2831853f * lot(21), 0.45f + 0.3f * lot(22)));
        } else if (motif == Motif::polygon) {
            const int sides = 4 + static_cast<int>(lot(23) * 3.999f);
            for (int k = 0; k < sides; ++k)
                add(side(6.2831853f * (static_cast<float>(k) + 0.75f * (lot(static_cast<std::uint64_t>(24 + k)) - 0.5f)) /
                             static_cast<float>(sides),
                         0.62f + 0.3f * lot(static_cast<std::uint64_t>(34 + k))));
        }
    }

    /// Distance inwards from the outline, in radii.
    float inside(float x, float y) const {
        switch (motif_) {
            case Motif::disc:
            case Motif::stain: return 1 - std::sqrt(x * x + y * y);
            case Motif::square:
            case Motif::strand: return 0.886f - std::max(std::abs(x), std::abs(y));
            case Motif::flake:
            case Motif::polygon: break;
        }
        float least = 2;
        for (int k = 0; k < count_; ++k) {
            const Side& s = sides_[static_cast<std::size_t>(k)];
            least = std::min(least, s.far - s.c * x - s.s * y);
        }
        return least;
    }

private:
    struct Side {
        float c, s, far;
    };
    static Side side(float angle, float far) { return {std::cos(angle), std::sin(angle), far}; }
    void add(const Side& each) { sides_[static_cast<std::size_t>(count_++)] = each; }
    Motif motif_;
    int count_ = 0;
    std::array<Side, 8> sides_{};
};

enum class Profile { flat, dome, pebble, chipped };

/// Height of a profile above the plane of a thing, in radii; `inside`: distance inwards from the outline, `far` from the middle.
inline float profile_height(Profile profile, float inside, float far, float lot) {
    switch (profile) {
        case Profile::flat: return 0;
        case Profile::dome: return std::sqrt(std::max(0.0f, 1 - far * far));
        // Broad on top, round at the sides.
        case Profile::pebble: return 0.6f * std::sqrt(std::sqrt(std::max(0.0f, 1 - far * far * far * far)));
        // A flat face that has broken off slantingly along its rim.
        case Profile::chipped: return 0.3f * std::min(1.0f, std::max(0.0f, inside) / (0.12f + 0.22f * lot));
    }
    return 0;
}

}  // namespace loom
