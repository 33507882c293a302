// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What every step has besides the parameters of its kind, described like these: addresses, checks, the command line, the
// desk and docs/recipe-format.md follow from it.
#pragma once

#include <string_view>
#include <vector>

#include "core/catalogue/description.h"
#include "core/recipe/recipe.h"

namespace loom {

struct CommonField {
    Parameter parameter;  ///< its id is what stands behind the dot of an address
    Value (*get)(const Step&);
    void (*set)(Step&, const Value&);
};

const std::vector<CommonField>& common_fields();
/// Whether the field matters, as a gate's ends do only where there is a gate.
bool matters(const CommonField& field, const Step& step);
const CommonField* find_common_field(std::string_view id);

/// Words of a gate's source in files: "", "own" and "beneath".
std::string_view gate_word(ToneGate::Of of);
std::optional<ToneGate::Of> find_gate(std::string_view word);

}  // namespace loom
