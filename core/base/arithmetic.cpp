// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/base/arithmetic.h"

#include <muParser.h>

#include <algorithm>
#include <cmath>

namespace loom {

std::optional<double> calculated(std::string text, double present) {
    std::replace(text.begin(), text.end(), ',', '.');
    if (text.find_first_not_of("0123456789.+-*/() ") != std::string::npos) return std::nullopt;
    const std::size_t first = text.find_first_not_of(' ');
    if (first == std::string::npos) return std::nullopt;
    try {
        mu::Parser parser;
        parser.DefineVar("present", &present);
        const bool goes_on = text[first] == '*' || text[first] == '/';
        parser.SetExpr(goes_on ? "present" + text : text);
        const double value = parser.Eval();
        if (std::isfinite(value)) return value;
    } catch (const mu::Parser::exception_type&) {
    }
    return std::nullopt;
}

}  // namespace loom
