// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a step is given when it runs.
#pragma once

#include <cstdint>
#include <map>
#include <set>
#include <string>
#include <string_view>

#include "core/base/job.h"
#include "core/image/bundle.h"

namespace loom {

struct StepContext {
    /// Pixels of the picture to make; the whole tile.
    Size size;
    /// The tile in design pixels.
    Size tile;
    /// Hash of the recipe's and the step's seed.
    std::uint64_t seed = 0;
    /// What came in; null for the first step of a strand.
    const Bundle* input = nullptr;
    /// Results of the strands that the parameters of kind `strand` name, by parameter id; pictures and recipes within
    /// the recipe likewise, at sizes of their own; and the joined strands to the left under "beneath" for steps that
    /// read it.
    std::map<std::string, const Bundle*, std::less<>> others;
    /// Named planes that somebody reads; others need not be made. Null: all are wanted.
    const std::set<std::string, std::less<>>* wanted = nullptr;
    /// Where the recipe's lamp stands, in degrees: 0 is right, 90 above; and how high.
    double lamp_direction = 135, lamp_elevation = 45;
    /// Whether the recipe blends in linear light.
    bool linear_light = false;
    const Job* job = nullptr;

    bool wants(std::string_view plane) const { return !wanted || wanted->contains(plane); }

    /// Pixels per design pixel.
    double scale_x() const { return static_cast<double>(size.width) / tile.width; }
    double scale_y() const { return static_cast<double>(size.height) / tile.height; }

    const Bundle* other(std::string_view name) const {
        const auto found = others.find(name);
        return found == others.end() ? nullptr : found->second;
    }
};

}  // namespace loom
