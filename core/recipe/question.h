// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A question that a try sheet answers: what varies, how far, in how many pictures.
#pragma once

#include "core/recipe/variations.h"

namespace loom {

struct Question {
    enum class What {
        seed,        ///< of `across`, a step's or the recipe's
        one,         ///< the value at `across`
        two,         ///< the values at `across` and `down`
        blend,       ///< of the join of `across.strand`
        colours,     ///< the ramp at `across`
        presence,    ///< of each step of `across.strand`
        colourways,  ///< of the recipe
        toward,      ///< a picture, by dials and values that a search may change
    };
    What what = What::seed;
    Address across{"", "", "seed"}, down;
    std::optional<Span> across_span, down_span;  ///< nothing: the usual ones
    int columns = 5, rows = 5;
    bool operator==(const Question&) const = default;
};

struct SheetAxes {
    Axis across;
    std::optional<Axis> down;
    std::size_t count() const { return across.variants.size() * (down ? down->variants.size() : 1); }
    /// Row by row; nothing beyond the last.
    Variant variant(std::size_t index) const;
    /// That the recipe is in now; -1: none.
    int present(const Recipe& recipe) const;
};

/// What is to be shown; nothing to show where the question does not fit the recipe.
SheetAxes axes_of(const Recipe& recipe, const Question& question);
/// The question as it can be asked of this recipe: what is missing is chosen anew. `near`: what is being worked on.
Question suited(const Recipe& recipe, Question question, const Address& near);
/// What can be asked about the place at `at`; nothing if it cannot be varied.
std::optional<Question> question_about(const Recipe& recipe, const Address& at);

/// The recipe with one more colourway, made of a variant: every colourway sets the same places, so that any of them can be gone
/// back to.
Recipe colourway_of(Recipe recipe, const std::string& name, const Variant& variant);

}  // namespace loom
