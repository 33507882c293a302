// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The values a parameter can have. What each kind of value knows of itself is in core/catalogue/kinds.
#pragma once

#include <concepts>
#include <map>
#include <string>
#include <type_traits>
#include <variant>

#include "core/base/shared_value.h"
#include "core/catalogue/kinds/curve.h"
#include "core/catalogue/kinds/inputs.h"
#include "core/catalogue/kinds/moves.h"
#include "core/catalogue/kinds/outline.h"
#include "core/catalogue/kinds/stops.h"
#include "core/catalogue/kinds/strokes.h"
#include "core/colour/colour.h"

namespace loom {

void hash_value(Key& key, const Colour& colour);

/// A text that may be long, such as a draft.
using LongText = SharedValue<std::string>;

/// Small values lie in it, large ones are shared. number and count: double; toggle: bool; colour; stops; curve; inputs; strokes;
/// moves; outline; draft: a long text; all other kinds: the word or text.
using Value = std::variant<double, bool, std::string, Colour, SharedValue<Stops>, SharedValue<Inputs>, LongText,
                           SharedValue<CurvePoints>, Strokes, SharedValue<Moves>, SharedValue<Outline>>;
using Values = std::map<std::string, Value, std::less<>>;

/// What a value has to do for the keys of the cache and for undo.
template <class T>
concept ValueData = std::equality_comparable<T> && requires(Key& key, const T& value) {
    hash_value(key, value);
};
template <class... T>
constexpr bool all_value_data(const std::variant<T...>*) {
    return (ValueData<T> && ...);
}
static_assert(all_value_data(static_cast<const Value*>(nullptr)), "every value can be hashed and compared");

void hash_value(Key& key, const Value& value);

/// The content of a value, shared or not; null if it has another type. `T` may be double, bool, std::string, Colour, Stops,
/// CurvePoints, Inputs, Strokes, Moves or Outline; a long text is a std::string too.
template <class T>
const T* as_if(const Value& value) {
    if constexpr (std::is_constructible_v<Value, std::in_place_type_t<SharedValue<T>>>)
        if (const auto* shared = std::get_if<SharedValue<T>>(&value)) return &**shared;
    if constexpr (std::is_constructible_v<Value, std::in_place_type_t<T>>) return std::get_if<T>(&value);
    return nullptr;
}
template <class T>
const T& as(const Value& value) {
    if (const T* content = as_if<T>(value)) return *content;
    throw std::bad_variant_access();
}

}  // namespace loom
