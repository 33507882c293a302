// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <string>
#include <vector>

#include "core/base/hash.h"

namespace loom {

/// A number with a name of its own: an input of a formula, a dial of a recipe within the recipe.
struct Input {
    std::string name;  ///< letters, digits and _; dials have any name
    double value = 0.5, min = 0, max = 1;
    std::string note;
    bool operator==(const Input&) const = default;
};
using Inputs = std::vector<Input>;

/// Of all that a picture depends on, so not of the notes.
void hash_value(Key& key, const Inputs& inputs);

}  // namespace loom
