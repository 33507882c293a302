// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Finds a step by typing and by looking: every step as a live picture at sensible defaults, already in its place, on the strand
// or on the whole cloth.
#pragma once

#include "app/tries/picture_chooser.h"
#include "core/catalogue/description.h"
#include "core/recipe/edits.h"

namespace loom {

class StepFinder : public PictureChooser {
    Q_OBJECT
public:
    /// For a new step at `slot` of `recipe`: the strand up to it, or the cloth.
    static StepFinder* for_new(const Recipe& recipe, const Slot& slot, QWidget* parent);
    /// For another kind in the place of a step: the whole cloth with each.
    static StepFinder* for_exchange(const Recipe& recipe, const Slot& slot, QWidget* parent);

private:
    /// Steps that make something come first where a chain begins, else last.
    StepFinder(std::vector<Scope> scopes, const Recipe& recipe, const Slot& slot, QWidget* parent);
};

/// The recipe with a new step of this kind at its defaults; `id` receives the step's id.
Recipe with_new_step(const Recipe& recipe, const Slot& slot, const StepDescription& description, std::string& id);

}  // namespace loom
