// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How everything that a recipe holds is named: on the command line, by dials and colourways, in messages.
//
//   STRAND/STEP.PARAMETER              and what every step has: amount, on, seed, where, gate.of|from|to|softness
//   STRAND/STEP.PARAMETER.PART         stops.N.colour|place|grain (N from 0), inputs.NAME
//   STRAND.amount|blend|on|within|lift    of a strand and its join, also gate.of|from|to|softness
//   STRAND.routes.MAP.amount|blend
//   seed, picture, tile.FIELD, lamp.FIELD, finish.FIELD
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace loom {

struct Address {
    std::string strand, step;  ///< `step` is empty for a strand itself, both for the recipe
    std::string parameter;     ///< with the part, if it is one; of the recipe "tile.width" and so on
    bool operator==(const Address&) const = default;
    auto operator<=>(const Address&) const = default;
    std::string text() const;
    /// Nothing if it is not written as above; whether a recipe has such a place is asked of place_at().
    static std::optional<Address> parse(std::string_view text);
};

/// How one is written, for messages.
constexpr std::string_view address_form = "STRAND/STEP.PARAMETER, STRAND.FIELD, seed, picture, tile.FIELD, lamp.FIELD or finish.FIELD";

}  // namespace loom
