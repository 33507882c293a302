// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How the colours of a picture are spread, and the change that moves one spread onto another: lightness by its histogram, colour
// by the linear Monge-Kantorovich map of mean and covariance (Pitie & Kokaram 2007), both in OKLab.
#pragma once

#include <vector>

#include "core/image/bundle.h"
#include "core/image/tally.h"
#include "core/colour/colour.h"

namespace loom {

struct ColourSpread {
    static constexpr int bins = 1024;
    Tally lightness{0, 1, bins};
    double mean_a = 0, mean_b = 0;
    double aa = 0, ab = 0, bb = 0;  ///< covariance
    bool nothing = true;            ///< nothing is covered
};

/// Of what is covered. The same at any number of threads.
ColourSpread spread_of(const Bundle& picture, const Job& job);

/// Moves colours that are spread as `from` so that they are spread as `to`.
class SpreadMap {
public:
    SpreadMap(const ColourSpread& from, const ColourSpread& to);
    /// `tone` and `colour`, 0..1, say how far lightness and the rest move.
    Lab moved(const Lab& lab, float tone, float colour) const;

private:
    std::vector<float> lightness_;
    float from_a_, from_b_, to_a_, to_b_;
    float aa_ = 1, ab_ = 0, bb_ = 1;
};

}  // namespace loom
