// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A recipe as JSON ("keen-loom/1"), checked against the catalogue while it is read.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/finding.h"
#include "core/base/result.h"
#include "core/recipe/recipe.h"

namespace loom {

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
