// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pores and rays of sawn timber: decided at their middle by the ring there, and drawn along the fibre.
#pragma once

#include "core/catalogue/context.h"
#include "core/structures/stroke.h"
#include "core/structures/timber.h"

namespace loom {

struct PoreSettings {
    double pores = 0, length = 11, width = 0.9;  ///< share 0..100; design px
    double early = 75;                           ///< %: how many of them keep to early wood
    double ragged = 0, rows = 0;                 ///< %: how uneven their sides are, and how many are followed by others
    double rays = 0;                             ///< share 0..100
    bool end = false;                            ///< the board shows its end
    std::uint64_t seed = 0;
};

class WoodPores {
public:
    WoodPores(const PoreSettings& settings, const Timber& timber, const StepContext& context);

    /// Darkens tone and height, which may be null. `pores` and `rays`, where not null, get what is covered.
    void draw(Plane& tone, Plane* height, Plane* pores, Plane* rays) const;

private:
    struct Candidate;
    void decide(int row, int all, int pores, int fine, const NoiseSheet& crowds, LaidStrokes& out) const;
    void lay(const Candidate& candidate, double x, double y, double lean, double length, LaidStrokes& out) const;

    PoreSettings s_;
    const Timber& timber_;
    const StepContext& context_;
    LaidStrokes strokes_;
};

}  // namespace loom
