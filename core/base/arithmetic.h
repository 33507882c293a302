// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include <optional>
#include <string>

namespace loom {

/// What a calculation comes to that somebody typed into a number field: "2*(3+0.5)", with a point or a comma for decimals. One
/// that begins with * or / goes on from `present`. Nothing if it is none, or comes to no finite number.
std::optional<double> calculated(std::string text, double present);

}  // namespace loom
