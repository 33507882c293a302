// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "app/loom/step_finder.h"

#include <algorithm>

#include "app/widgets/text.h"

namespace loom {

Recipe with_new_step(const Recipe& recipe, const Slot& slot, const StepDescription& description, std::string& id) {
    const Strand* strand = recipe.strand(slot.strand);
    Step step;
    step.kind = std::string(description.id);
    step.id = id = strand ? new_step_id(*strand) : std::string();
    if (strand && slot.chain == ChainKind::mask &&
        std::none_of(strand->mask.begin(), strand->mask.end(), [](const Step& each) { return each.on; }))
        step.set = description.alone_in_mask;
    if (strand && slot.chain == ChainKind::steps && slot.index == 0 && strand->from_of(slot.chain).empty())
        step.set = description.alone;
    // Two draws of the same kind should not look alike unless somebody wants them to.
    if (description.seeded)
        for (const StrandRef& each : recipe.strands)
            for (ChainKind chain : all_chains)
                for (const Step& other : each->chain(chain)) step.seed = std::max(step.seed, other.seed + 1);
    return step_added(recipe, slot, std::move(step));
}

namespace {

/// Lights the step's relief, where it is one that light alone shows, and tells what is to be looked at.
std::string lit_where_wanted(Recipe& recipe, const Slot& slot, const StepDescription& description, const std::string& id) {
    if (!description.shown_lit) return id;
    Step light;
    light.kind = "relief";
    light.set = {{"height", std::string("height")}, {"depth", 14.0}, {"result", std::string("light")}};
    light.id = new_step_id(*recipe.strand(slot.strand));
    const std::string lit = light.id;
    recipe = step_added(recipe, {slot.strand, slot.chain, slot.index + 1}, std::move(light));
    return lit;
}

const StepDescription& described(const QString& id) { return *find_step(id.toStdString()); }

/// What masks are most often begun with, in that order; 5 for all others.
std::size_t mask_order(const StepDescription& step) {
    constexpr std::string_view first[] = {"shape", "lettering", "paint", "gate", "pick"};
    return static_cast<std::size_t>(std::find(std::begin(first), std::end(first), step.id) - std::begin(first));
}

std::vector<Candidate> candidates(const Recipe& recipe, const Slot& slot) {
    const Strand* strand = recipe.strand(slot.strand);
    // Where nothing has been made yet, only what makes something does anything.
    const bool at_start = slot.chain == ChainKind::steps && slot.index == 0, empty = at_start && strand && strand->steps.empty();
    const bool mask = slot.chain == ChainKind::mask;
    std::vector<const StepDescription*> steps;
    for (const StepDescription& step : all_steps())
        if (empty ? step.family == Family::make || !step.alone.empty() : step.family != Family::mask || mask)
            steps.push_back(&step);
    std::stable_sort(steps.begin(), steps.end(), [](const auto* a, const auto* b) { return a->family < b->family; });
    std::stable_partition(steps.begin(), steps.end(),
                          [&](const StepDescription* step) { return (step->family == Family::make) == at_start; });
    if (mask)
        std::stable_sort(steps.begin(), steps.end(),
                         [](const auto* a, const auto* b) { return mask_order(*a) < mask_order(*b); });
    std::vector<Candidate> all;
    for (const StepDescription* step : steps) {
        QString family = qt(word(mask && mask_order(*step) < 5 ? Family::mask : step->family));
        family[0] = family[0].toUpper();
        const bool whole = step->family == Family::make || !step->handles.empty() || step->tiles == Tiling::breaks;
        all.push_back({qt(step->id), qt(step->title), family, qt(step->summary), whole, qt(step->words)});
    }
    return all;
}

}  // namespace

StepFinder::StepFinder(std::vector<Scope> scopes, const Recipe& recipe, const Slot& slot, QWidget* parent)
    : PictureChooser("steps", tr("Steps"), tr("Find a step: name or what it does"), candidates(recipe, slot), std::move(scopes),
                     parent) {}

StepFinder* StepFinder::for_new(const Recipe& recipe, const Slot& slot, QWidget* parent) {
    const auto on_cloth = [recipe, slot](const QString& kind) {
        std::string id;
        return TryOrder{with_new_step(recipe, slot, described(kind), id), {}};
    };
    const auto on_strand = [recipe, slot](const QString& kind) {
        std::string id;
        TryOrder order{with_new_step(recipe, slot, described(kind), id), {}};
        order.wanted.what = Wanted::What::step, order.wanted.strand = slot.strand;
        order.wanted.step = lit_where_wanted(order.recipe, slot, described(kind), id);
        return order;
    };
    return new StepFinder({{tr("This strand alone"), on_strand, false}, {tr("The whole cloth"), on_cloth, true}}, recipe, slot,
                          parent);
}

StepFinder* StepFinder::for_exchange(const Recipe& recipe, const Slot& slot, QWidget* parent) {
    const Step present = recipe.strand(slot.strand)->chain(slot.chain)[static_cast<std::size_t>(slot.index)];
    const auto on_cloth = [recipe, slot, id = present.id](const QString& kind) {
        return TryOrder{step_exchanged(recipe, slot.strand, id, described(kind)), {}};
    };
    auto* finder = new StepFinder({{tr("The whole cloth"), on_cloth, true}}, recipe, slot, parent);
    finder->mark(QString::fromStdString(present.kind));
    return finder;
}

}  // namespace loom
