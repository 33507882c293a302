// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/several.h"

#include <algorithm>

namespace loom {

namespace {

StepPlaces all_steps(const Recipe& recipe) {
    StepPlaces all;
    for (const StrandRef& strand : recipe.strands)
        for (ChainKind kind : all_chains)
            for (const Step& step : strand->chain(kind)) all.push_back({strand->id, step.id});
    return all;
}

bool among(const StepPlaces& steps, const StepPlace& step) { return std::find(steps.begin(), steps.end(), step) != steps.end(); }

}  // namespace

StepPlaces in_order(const Recipe& recipe, const StepPlaces& steps) {
    StepPlaces found = all_steps(recipe);
    std::erase_if(found, [&](const StepPlace& each) { return !among(steps, each); });
    return found;
}

StepPlaces between(const Recipe& recipe, const StepPlace& from, const StepPlace& to) {
    const StepPlaces all = all_steps(recipe);
    auto first = std::find(all.begin(), all.end(), from), last = std::find(all.begin(), all.end(), to);
    if (first == all.end() || last == all.end()) return {};
    if (last < first) std::swap(first, last);
    return {first, last + 1};
}

Recipe steps_removed(Recipe recipe, const StepPlaces& steps) {
    for (const StepPlace& each : steps) recipe = step_removed(std::move(recipe), each.strand, each.step);
    return recipe;
}

Recipe steps_switched(Recipe recipe, const StepPlaces& steps, bool on) {
    for (const StepPlace& each : in_order(recipe, steps))
        recipe = with_value(std::move(recipe), {each.strand, each.step, "on"}, Value(on));
    return recipe;
}

Recipe steps_duplicated(Recipe recipe, const StepPlaces& steps, StepPlaces& copies) {
    copies.clear();
    const StepPlaces all = in_order(recipe, steps);
    for (std::size_t first = 0; first < all.size();) {
        std::size_t last = first;
        auto at = *slot_of(recipe, all[first].strand, all[first].step);
        for (; last + 1 < all.size(); ++last) {
            const auto next = *slot_of(recipe, all[last + 1].strand, all[last + 1].step);
            if (next != Slot{at.strand, at.chain, at.index + static_cast<int>(last + 1 - first)}) break;
        }
        at.index += static_cast<int>(last + 1 - first);
        for (; first <= last; ++first, ++at.index) {
            recipe = step_added(std::move(recipe), at, Step(*recipe.step({all[first].strand, all[first].step, ""})));
            copies.push_back({at.strand, recipe.strand(at.strand)->chain(at.chain)[static_cast<std::size_t>(at.index)].id});
        }
    }
    return recipe;
}

Recipe steps_moved(Recipe recipe, const StepPlaces& steps, const Slot& to, StepPlaces& moved) {
    moved.clear();
    if (!recipe.strand(to.strand)) return recipe;
    Slot at = to;
    at.index = std::clamp(at.index, 0, static_cast<int>(recipe.strand(at.strand)->chain(at.chain).size()));
    for (const StepPlace& each : in_order(recipe, steps)) {
        const auto from = *slot_of(recipe, each.strand, each.step);
        const bool from_above = from.strand == at.strand && from.chain == at.chain && from.index < at.index;
        recipe = step_moved(std::move(recipe), each.strand, each.step, at);
        if (!from_above) ++at.index;
        const Chain& chain = recipe.strand(at.strand)->chain(at.chain);
        moved.push_back({at.strand, chain[static_cast<std::size_t>(at.index - 1)].id});
    }
    return recipe;
}

Recipe steps_shifted(Recipe recipe, const StepPlaces& steps, int way) {
    StepPlaces all = in_order(recipe, steps);
    // The foremost goes first, so that the next finds its place free.
    if (way > 0) std::reverse(all.begin(), all.end());
    StepPlaces held;
    for (const StepPlace& each : all) {
        const auto from = *slot_of(recipe, each.strand, each.step);
        const Chain& chain = recipe.strand(each.strand)->chain(from.chain);
        const int next = from.index + way;
        if (next < 0 || next >= static_cast<int>(chain.size()) ||
            among(held, {each.strand, chain[static_cast<std::size_t>(next)].id})) {
            held.push_back(each);
            continue;
        }
        recipe = step_moved(std::move(recipe), each.strand, each.step, {each.strand, from.chain, way < 0 ? next : next + 1});
    }
    return recipe;
}

Recipe steps_shifted_across(Recipe recipe, const StepPlaces& steps, int side, StepPlaces& moved) {
    moved.clear();
    StepPlaces all = in_order(recipe, steps);
    // From the strand that is left last, so that no step is met twice; within a strand from the top, so that neighbours stay so.
    if (side > 0)
        std::stable_sort(all.begin(), all.end(), [&](const StepPlace& a, const StepPlace& b) {
            return recipe.index_of(a.strand) > recipe.index_of(b.strand);
        });
    std::vector<Slot> targets;
    for (const StepPlace& each : all) {
        const int beside = recipe.index_of(each.strand) + side;
        if (beside < 0 || beside >= static_cast<int>(recipe.strands.size())) return recipe;
        const Slot from = *slot_of(recipe, each.strand, each.step);
        targets.push_back({recipe.strands[static_cast<std::size_t>(beside)]->id, from.chain, from.index});
    }
    for (std::size_t k = 0; k < all.size(); ++k) {
        Slot to = targets[k];
        to.index = std::min(to.index, static_cast<int>(recipe.strand(to.strand)->chain(to.chain).size()));
        recipe = step_moved(std::move(recipe), all[k].strand, all[k].step, to);
        moved.push_back({to.strand, recipe.strand(to.strand)->chain(to.chain)[static_cast<std::size_t>(to.index)].id});
    }
    return recipe;
}

}  // namespace loom
