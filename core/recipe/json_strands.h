// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Strands with their steps, as they stand in a recipe's JSON.
#pragma once

#include <string>

#include "core/catalogue/json_reader.h"
#include "core/recipe/fields.h"

namespace loom {

template <class Owner>
const Parameter& described(const Fields<Owner>& fields, std::string_view id) {
    return find_field(fields, id)->parameter;
}

/// `defaults`: by which the file was written, see present_defaults.
Strand read_strand(json_reading::Reader& reader, const json_reading::json& node, const std::string& pointer, int defaults);

}  // namespace loom
