// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/groups.h"

#include <algorithm>

#include "core/base/unused_name.h"

namespace loom {

namespace {

const Strand& strand_at(const Recipe& recipe, int index) { return *recipe.strands[static_cast<std::size_t>(index)]; }

Recipe regrouped(Recipe recipe, const Run& run, const Group& group) {
    for (int index = run.first; index <= run.last; ++index) {
        StrandRef& strand = recipe.strands[static_cast<std::size_t>(index)];
        if (strand->group == group) continue;
        auto copy = std::make_shared<Strand>(*strand);
        copy->group = group;
        strand = std::move(copy);
    }
    return recipe;
}

template <class Change>
Recipe group_changed(Recipe recipe, std::string_view strand, Change&& change) {
    const auto run = run_of(recipe, strand);
    if (!run) return recipe;
    Group group = strand_at(recipe, run->first).group;
    if (group.name.empty()) return recipe;
    change(group);
    return regrouped(std::move(recipe), *run, group);
}

}  // namespace

std::vector<Run> runs(const Recipe& recipe) {
    std::vector<Run> found;
    for (int index = 0; index < static_cast<int>(recipe.strands.size()); ++index) {
        const std::string& name = strand_at(recipe, index).group.name;
        if (!found.empty() && !name.empty() && strand_at(recipe, index - 1).group.name == name)
            found.back().last = index;
        else
            found.push_back({index, index});
    }
    return found;
}

std::optional<Run> run_of(const Recipe& recipe, std::string_view strand) {
    const int index = recipe.index_of(strand);
    for (const Run& run : runs(recipe))
        if (run.first <= index && index <= run.last) return run;
    return std::nullopt;
}

std::string new_group_name(const Recipe& recipe, const std::string& wish) {
    return unused_name(wish, " ", [&](const std::string& name) {
        return std::any_of(recipe.strands.begin(), recipe.strands.end(),
                           [&](const StrandRef& strand) { return strand->group.name == name; });
    });
}

Recipe grouped_with_next(Recipe recipe, std::string_view strand, std::string name) {
    const auto own = run_of(recipe, strand);
    if (!own || own->last + 1 >= static_cast<int>(recipe.strands.size())) return recipe;
    const auto next = run_of(recipe, strand_at(recipe, own->last + 1).id);
    return regrouped(std::move(recipe), {own->first, next->last}, {std::move(name), false});
}

Recipe group_renamed(Recipe recipe, std::string_view strand, std::string name) {
    return group_changed(std::move(recipe), strand, [&](Group& group) { group.name = std::move(name); });
}

Recipe group_dissolved(Recipe recipe, std::string_view strand) {
    return group_changed(std::move(recipe), strand, [](Group& group) { group = {}; });
}

Recipe strand_shifted(Recipe recipe, std::string_view strand, int side) {
    const int index = recipe.index_of(strand), count = static_cast<int>(recipe.strands.size());
    // What moves as one: a folded group, else a strand.
    const auto unit = [&](int at) {
        const Run run = *run_of(recipe, strand_at(recipe, at).id);
        return strand_at(recipe, run.first).group.folded ? run : Run{at, at};
    };
    if (index < 0) return recipe;
    const Run own = unit(index);
    const int beside = side < 0 ? own.first - 1 : own.last + 1;
    if (beside < 0 || beside >= count) return recipe;
    const Run next = unit(beside);
    const auto at = [&](int place) { return recipe.strands.begin() + place; };
    if (side < 0)
        std::rotate(at(next.first), at(own.first), at(own.last + 1));
    else
        std::rotate(at(own.first), at(next.first), at(next.last + 1));
    if (own.count() > 1) return recipe;
    const int place = recipe.index_of(strand);
    const Group left = place > 0 ? strand_at(recipe, place - 1).group : Group{};
    const Group right = place + 1 < count ? strand_at(recipe, place + 1).group : Group{};
    const std::string& name = strand_at(recipe, place).group.name;
    if (!left.name.empty() && left.name == right.name) return regrouped(std::move(recipe), {place, place}, left);
    if (name != left.name && name != right.name) return regrouped(std::move(recipe), {place, place}, {});
    return recipe;
}

Recipe group_folded(Recipe recipe, std::string_view strand, bool folded) {
    return group_changed(std::move(recipe), strand, [&](Group& group) { group.folded = folded; });
}

}  // namespace loom
