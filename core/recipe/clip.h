// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Steps and strands as text that can be copied, mailed and pasted. The text is a small recipe in the recipe's own format: its
// member "clip" says whether its steps or its strands were copied, which strands were only named, and what pictures the steps
// keep, in base64. It is checked on the way in like any file.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/recipe/several.h"
#include "core/recipe/recipe.h"

namespace loom {

struct Clip {
    enum class Of { steps, strands };
    Of of = Of::steps;
    /// Strands that were copied; for steps those they stood in, with nothing else.
    std::vector<StrandRef> strands;
    Assets assets;
};

/// In the recipe's order; what is not there is passed over.
std::string clip_of_steps(const Recipe& recipe, const StepPlaces& steps);
std::string clip_of_strands(const Recipe& recipe, const std::vector<std::string>& strands);

/// Fails with what is wrong with the text. A whole recipe counts as its strands.
Result<Clip> read_clip(std::string_view text);

/// The recipe with the steps put in at a slot, or the strands at an index, under new ids where theirs are taken; `ids` receives
/// those of steps or strands. What they name in the recipe is kept if it is there, else let go of.
Recipe steps_pasted(Recipe recipe, const Clip& clip, const Slot& slot, std::vector<std::string>& ids);
Recipe strands_pasted(Recipe recipe, const Clip& clip, int index, std::vector<std::string>& ids);

}  // namespace loom
