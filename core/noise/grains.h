// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Static: one hashed value per grain. Grains belong to the tile, not to the pixels, so a larger rendering
// shows the same grains larger and a smaller one shows their averages.
#pragma once

#include <cstdint>
#include <vector>

#include "core/image/plane.h"

namespace loom {

enum class Spread { even, gaussian, sparse };

struct GrainSettings {
    Spread spread = Spread::gaussian;
    /// Grains per tile in both directions, at least 1.
    int across = 1, down = 1;
    std::uint64_t seed = 0;
    /// 0..1: how far the tails are drawn out (|n| to the power 1 + tails), at unchanged deviation.
    float tails = 0;
    /// 0..1: share of grains that are lit; sparse only.
    float share = 0.05f;
    /// Tiles that columns of grains move across on their way down one.
    int slant = 0;
};

/// Values have mean 0 and, for even and Gaussian spreads, standard deviation 1; sparse grains are 0 or 1.
class GrainField {
public:
    /// `size`: the pixels of the whole tile.
    GrainField(const GrainSettings& settings, Size size);

    /// Mean value of the grains under each pixel of row y, pixels [x, x + count), times `factor`, plus `centre`.
    void row(int y, int x, int count, float* out, float factor = 1, float centre = 0) const;

private:
    struct Span {
        int first;       // grain index
        int weight = 0;  // where its weights begin
        int count = 0;   // how many grains the pixel touches
    };
    struct Spans {
        std::vector<Span> of_pixel;
        std::vector<float> weights;  // share of the pixel each grain covers
        bool one_to_one = false;
    };
    static Spans spans(int grains, int pixels);
    void slanted_row(int y, int x, int count, const float* values, float* out) const;

    GrainSettings settings_;
    float tail_scale_ = 1;
    Spans across_, down_;
};

}  // namespace loom
