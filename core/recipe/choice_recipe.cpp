// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/choice_recipe.h"

#include <algorithm>

namespace loom {

namespace {

constexpr int tile_side = 256;

/// Crossing lines over slow tones that differ to all sides, on which bends, blurs, lights and mirrors show.
Step chart() {
    Step step;
    step.id = "chart", step.kind = "formula";
    step.set["expression"] =
        std::string("(0.25 + 0.35 * v + 0.3 * u) * (1 - 0.8 * max(step(0.8, saw(4 * u)), step(0.8, saw(4 * v))))");
    return step;
}

}  // namespace

bool has_picture(const StepDescription& step, const Parameter& parameter, const Choice& choice) {
    Values values;
    set_parameter(step, values, parameter, Value(std::string(choice.id)));
    for (const Parameter& other : step.parameters) {
        const auto ids = other.when.ids();
        if ((other.kind == Kind::strand || other.kind == Kind::picture) && relevant(step, other, values) &&
            std::find(ids.begin(), ids.end(), parameter.id) != ids.end())
            return false;
    }
    return true;
}

Recipe choice_recipe(const StepDescription& step, const Parameter& parameter, const Choice& choice) {
    Step shown;
    shown.id = "shown", shown.kind = step.id, shown.seed = 3;
    shown.set = parameter.on_pictures;
    set_parameter(step, shown.set, parameter, Value(std::string(choice.id)));
    Strand strand;
    strand.id = "strand";
    if (step.family != Family::make) strand.steps.push_back(chart());
    strand.steps.push_back(std::move(shown));
    Recipe recipe;
    recipe.name = choice.title;
    recipe.tile = {tile_side, tile_side, std::nullopt};
    recipe.strands.push_back(std::make_shared<const Strand>(std::move(strand)));
    return recipe;
}

}  // namespace loom
