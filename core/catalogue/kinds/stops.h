// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <vector>

#include "core/base/hash.h"
#include "core/colour/colour.h"

namespace loom {

/// One stop of a gradient.
struct Stop {
    double place = 0;  ///< 0..1 along the ramp
    Colour colour;
    double grain = 0;  ///< 0..100 %: noise of its own, fading towards the neighbours' amounts
    bool operator==(const Stop&) const = default;
};
using Stops = std::vector<Stop>;

void hash_value(Key& key, const Stops& stops);

}  // namespace loom
