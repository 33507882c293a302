// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The lines and names of a formula, before it is evaluated. Private to core/steps/formula.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/catalogue/description.h"

namespace loom {

/// "name = expression;", or the last part, which is what comes out.
struct FormulaPart {
    std::string name;          ///< "" of the last
    std::size_t at, from, to;  ///< where the name and the expression stand
};

struct FormulaName {
    std::string text;
    std::size_t at;
    bool called;
};

/// The lines of the text.
std::optional<TextFault> split_formula(std::string_view text, std::vector<FormulaPart>& parts);
/// All names from one place to another, and what muParser would take for something else.
std::optional<TextFault> scan_formula(std::string_view text, std::size_t from, std::size_t to, std::vector<FormulaName>& names);

}  // namespace loom
