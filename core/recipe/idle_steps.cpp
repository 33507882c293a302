// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/idle_steps.h"

#include "core/catalogue/description.h"
#include "core/recipe/edits.h"
#include "core/image/plane_names.h"
#include "core/recipe/references.h"
#include "core/recipe/strand_planes.h"

namespace loom {

namespace {

bool works_everywhere(const Step& step) {
    return step.amount == 100 && step.where.empty() && step.gate.of == ToneGate::Of::nothing;
}

/// The next step that puts something of its own in the place of all before it; null if none does.
const Step* replaced_by(const Chain& chain, std::size_t at) {
    for (std::size_t k = at + 1; k < chain.size(); ++k) {
        const StepDescription* description = find_step(chain[k].kind);
        const bool replaces = chain[k].on && description && !uses_input(*description, chain[k].set) && works_everywhere(chain[k]);
        if (replaces) return &chain[k];
    }
    return nullptr;
}

std::string idle(const Strand& strand, ChainKind kind, std::size_t at) {
    const Step& step = strand.chain(kind)[at];
    const StepDescription* description = find_step(step.kind);
    if (!step.on || !description) return {};
    if (step.amount == 0) return "Its step amount is 0, so that it changes nothing.";
    if (const Step* next = replaced_by(strand.chain(kind), at))
        return "It has no effect: " + step_title(*next) + " puts something of its own in its place.";
    if (kind == ChainKind::edge && description->family == Family::soften)
        return "Along an edge it softens the picture, and not the form that later steps follow; soften the mask for that.";
    return description->notice(step.set);
}

/// A plane that the strand does not have; "" if it does, or if `word` names none.
std::string lacks(const Recipe& recipe, std::string_view strand, std::string_view word) {
    const PlaneName* plane = find_plane_word(word);
    const Strand* named = recipe.strand(strand);
    // What has no height is as high as it is light.
    if (!plane || !named || plane->id == height_plane || planes_of_strand(recipe, strand).contains(plane->id)) return {};
    std::string message = "The strand ";
    message += named->name.empty() ? named->id : named->name;
    message += " has nothing that is called ";
    message += plane->title;
    return message + ": it is black.";
}

std::string lacks(const Recipe& recipe, const Step& step) {
    const StepDescription* description = step.on ? find_step(step.kind) : nullptr;
    if (!description) return {};
    for (const Parameter& p : description->parameters)
        if (!p.planes_of.empty() && relevant(*description, p, step.set))
            return lacks(recipe, as<std::string>(value_or_default(*description->parameter(p.planes_of), step.set)),
                         as<std::string>(value_or_default(p, step.set)));
    return {};
}

}  // namespace

std::string why_idle(const Strand& strand, std::string_view step) {
    for (ChainKind kind : all_chains)
        for (std::size_t k = 0; k < strand.chain(kind).size(); ++k)
            if (strand.chain(kind)[k].id == step) return idle(strand, kind, k);
    return {};
}

std::vector<IdleStep> idle_steps(const Recipe& recipe) {
    std::vector<IdleStep> all;
    for (std::size_t s = 0; s < recipe.strands.size(); ++s) {
        const Strand& strand = *recipe.strands[s];
        const std::string here = "/strands/" + std::to_string(s);
        for (ChainKind kind : all_chains)
            for (std::size_t k = 0; k < strand.chain(kind).size(); ++k)
                if (std::string message = idle(strand, kind, k);
                    !message.empty() || !(message = lacks(recipe, strand.chain(kind)[k])).empty())
                    all.push_back({strand.id, strand.chain(kind)[k].id,
                                   here + "/" + std::string(chain_id(kind)) + "/" + std::to_string(k), std::move(message)});
        for (const auto& [map, route] : strand.routes)
            if (std::string message = lacks(recipe, strand.id, route.plane); strand.on && !message.empty())
                all.push_back({strand.id, "", here + "/routes/" + std::string(map_id(map)), std::move(message)});
        if (strand.on && strand.join.within && within_base(recipe, static_cast<int>(s)) < 0)
            all.push_back({strand.id, "", here + "/join/within",
                           "It is kept within what shows to its left, and nothing does: keeping within has no effect."});
    }
    return all;
}

}  // namespace loom
