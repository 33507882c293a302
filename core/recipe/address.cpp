// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/address.h"

#include "core/recipe/fields.h"

namespace loom {

std::string Address::text() const {
    if (strand.empty()) return parameter;
    return strand + (step.empty() ? "" : "/" + step) + "." + parameter;
}

std::optional<Address> Address::parse(std::string_view text) {
    // No field of a strand has the name of one of the recipe's, so a strand may be called "tile" or "lamp" all the same.
    if (find_field(recipe_fields(), text)) return Address{"", "", std::string(text)};
    const auto slash = text.find('/');
    const auto dot = text.find('.', slash == std::string_view::npos ? 0 : slash);
    if (dot == std::string_view::npos) return std::nullopt;
    const bool in_step = slash != std::string_view::npos;
    Address at{std::string(text.substr(0, in_step ? slash : dot)),
               in_step ? std::string(text.substr(slash + 1, dot - slash - 1)) : std::string(), std::string(text.substr(dot + 1))};
    if (at.strand.empty() || (in_step && at.step.empty()) || at.parameter.empty()) return std::nullopt;
    return at;
}

}  // namespace loom
