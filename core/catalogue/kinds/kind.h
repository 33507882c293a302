// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the files of the kinds share. Private to core/catalogue/kinds.
#pragma once

#include <nlohmann/json.hpp>

#include "core/catalogue/json_reader.h"
#include "core/catalogue/value_kind.h"

namespace loom {

template <class T, class Held>
ValueKind::Json KindOf<T, Held>::write(const Value& value) const {
    return write_content(as<T>(value));
}

namespace kinds {

/// Whole numbers without a decimal point, as people write them.
ValueKind::Json number_json(double value);
std::optional<double> parse_number(std::string_view text);
std::vector<std::string_view> words_of(std::string_view text, std::string_view separators);
std::string range_words(const Parameter& parameter);
/// "may have at most 32 stops"
std::string at_most(std::size_t most, std::string_view what);
inline bool in_range(double value, double min, double max) { return value >= min && value <= max; }

/// Describes a number within a value.
Parameter number_part(std::string_view id, std::string_view title, double min, double max, Unit unit, double fallback);
/// "2.colour" is the colour of the third: where the path begins with a number, and what stands behind its dot.
std::string indexed(std::size_t index, std::string_view id);
std::size_t index_of(std::string_view path);

}  // namespace kinds

}  // namespace loom
