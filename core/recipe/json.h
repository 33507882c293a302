// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A recipe as JSON ("keen-loom/1"), checked against the catalogue while it is read.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/recipe/recipe.h"

namespace loom {

/// Something wrong in a recipe, with the JSON pointer (RFC 6901) of its place.
struct Finding {
    enum class Weight {
        fault,    ///< the recipe cannot be used
        warning,  ///< it is kept and passed over
    };
    Weight weight = Weight::fault;
    std::string pointer;
    std::string message;  ///< words without the place

    std::string text() const { return (pointer.empty() ? std::string("/") : pointer) + ": " + message; }
};

struct Reading {
    Recipe recipe;                  ///< meaningful if there is no fault
    std::vector<Finding> findings;  ///< every fault and warning, in the order of the file

    const Finding* first_fault() const;
};

/// Reads and checks; fails only if the text is no JSON at all. References between strands are checked too.
Reading read_recipe(std::string_view json_text);

/// Indented JSON with a newline at its end. Unknown fields come out as they went in.
std::string write_recipe(const Recipe& recipe);

}  // namespace loom
