// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What each measure speaks of, shown: a small cloth on which it is low, and one on which it is high.
#pragma once

#include "core/measure/judgement.h"
#include "core/recipe/recipe.h"

namespace loom {

struct MeasureExamples {
    Recipe low, high;
    std::string_view low_words, high_words;  ///< a word or two under each
};
MeasureExamples examples_of(MeasureKind kind);
/// What it measures, for somebody who has never heard of it.
std::string_view words_of(MeasureKind kind);
/// Those that say at once whether a cloth can be repeated; the others are for who wants it to look real.
constexpr bool is_first_measure(MeasureKind kind) { return kind <= MeasureKind::evenness; }

}  // namespace loom
