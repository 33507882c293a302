// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#pragma once

#include "core/catalogue/description.h"
#include "core/recipe/recipe.h"

namespace loom {

/// Whether it can be shown by itself: not where it wants another strand or a picture file, which nobody has chosen yet.
bool has_picture(const StepDescription& step, const Parameter& parameter, const Choice& choice);

/// A recipe whose cloth shows what a choice of a visual parameter looks like: the step itself with that choice, at its defaults
/// and the parameter's `on_pictures`, over a chart of lines and tones where it changes what comes in.
Recipe choice_recipe(const StepDescription& step, const Parameter& parameter, const Choice& choice);

}  // namespace loom
