// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Searches over dials and parameters of a recipe for what looks most like a picture: controlled random search with local mutation
// (Kaelo & Ali 2006) from NLopt, which needs no slopes. Likeness is of colours (their spread in OKLab) and of bands of lightness.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "core/base/job.h"
#include "core/base/result.h"
#include "core/colour/likeness.h"
#include "core/measure/life.h"
#include "core/recipe/recipe.h"
#include "core/render/render.h"

namespace loom {

/// Something that may be changed: a dial, or the number at an address.
struct Knob {
    std::string dial;  ///< its name, or ""
    Address at;        ///< where `dial` is ""
    double low = 0, high = 100;
};

struct Goal {
    ColourSpread spread;
    Bands bands;
    Size size;  ///< that it was brought to; what is held against it has the same longer side
};
/// Of a picture, brought to so many pixels on its longer side, or fewer if it has fewer.
Goal goal_of(const Bundle& picture, int longest, const Job& job);
/// How unlike a picture is: distances in OKLab of lightness (mean over all shares of the area), of the mean colour and of how far
/// it is spread, and a tenth of the mean difference of bands in octaves. 0 is alike; real neighbours are about 0.05 apart.
double unlikeness(const Bundle& picture, const Goal& goal, const Job& job);

struct Found {
    std::vector<double> values;  ///< of the knobs, in their order
    double away = 0;             ///< unlikeness
};

struct SearchPlan {
    std::vector<Knob> knobs;  ///< one to eight
    int tries = 240;
    int best = 12;           ///< how many are told
    std::uint32_t seed = 1;  ///< of the search
};

/// The recipe with the knobs at these values.
Recipe turned(Recipe recipe, const std::vector<Knob>& knobs, const std::vector<double>& values);
/// Where the knobs stand now.
std::vector<double> present_values(const Recipe& recipe, const std::vector<Knob>& knobs);

/// `better` is told the best so far, best first and none like another, whenever they change, and how many were tried. Fails with
/// Fault::call without knobs, with Fault::cancelled once the job is cancelled.
Result<std::vector<Found>> search_toward(const Recipe& recipe, const SearchPlan& plan, const Goal& goal,
                                         const RenderOptions& options, const Job& job,
                                         const std::function<void(const std::vector<Found>&, int tried)>& better);

}  // namespace loom
