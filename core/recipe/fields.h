// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What steps, strands, routes and the recipe have besides the parameters of a kind of step, described like these: addresses,
// checks, the command line, the desk and docs/recipe-format.md follow from it.
#pragma once

#include <functional>
#include <string_view>
#include <vector>

#include "core/catalogue/value_kind.h"
#include "core/catalogue/description.h"
#include "core/recipe/recipe.h"

namespace loom {

template <class Owner>
struct Field {
    Parameter parameter;  ///< its id is what stands in an address
    std::function<Value(const Owner&)> get;
    std::function<void(Owner&, const Value&)> set;
};
template <class Owner>
using Fields = std::vector<Field<Owner>>;

/// on, seed, amount, where, gate.*
const Fields<Step>& step_fields();
/// on; and of the join: blend, amount, within, gate.*
const Fields<Strand>& strand_fields();
/// blend, amount
const Fields<Route>& route_fields();
/// seed, tile.*, lamp.*, finish.*, picture
const Fields<Recipe>& recipe_fields();

template <class Owner>
const Field<Owner>* find_field(const Fields<Owner>& fields, std::string_view id) {
    for (const Field<Owner>& each : fields)
        if (each.parameter.id == id) return &each;
    return nullptr;
}
/// Whether the field matters, as a gate's ends do only where there is a gate.
template <class Owner>
bool matters(const Fields<Owner>& fields, const Field<Owner>& field, const Owner& owner) {
    return field.parameter.when.holds([&](std::string_view id) {
        const Field<Owner>* other = find_field(fields, id);
        return other ? kind_of(other->parameter).text(other->get(owner)) : std::string();
    });
}

/// Words of a gate's source in files: "", "own" and "beneath".
std::string_view gate_word(ToneGate::Of of);
std::optional<ToneGate::Of> find_gate(std::string_view word);

}  // namespace loom
