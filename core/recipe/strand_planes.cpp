// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/strand_planes.h"

#include "core/catalogue/description.h"
#include "core/image/plane_names.h"
#include "core/recipe/references.h"
#include "core/base/unused_name.h"

namespace loom {

namespace {

void collect(const Recipe& recipe, std::string_view id, std::set<std::string_view>& seen, std::set<std::string_view>& planes) {
    const int index = recipe.index_of(std::string(id));
    if (index < 0 || !seen.insert(id).second) return;
    for (ChainKind kind : {ChainKind::steps, ChainKind::edge})
        for (const auto& [owner, chain] : chain_links(recipe, *recipe.strands[static_cast<std::size_t>(index)], kind))
            for (const Step& step : *chain) {
                const StepDescription* description = step.on ? find_step(step.kind) : nullptr;
                if (!description) continue;
                // What makes something of its own leaves nothing of what was there.
                if (!uses_input(*description, step.set)) planes.clear();
                if (!description->makes_planes || description->makes_planes(step.set))
                    planes.insert(description->planes.begin(), description->planes.end());
                for (const Parameter& p : description->parameters) {
                    // The picture of a strand brings its planes along, as do objects that come from one.
                    const bool brings =
                        p.id == description->objects_of ||
                        (!p.planes_of.empty() && as<std::string>(value_or_default(p, step.set)) == p.choices.front().id);
                    const Parameter* names = brings && !p.planes_of.empty() ? description->parameter(p.planes_of) : &p;
                    if (brings) collect(recipe, as<std::string>(value_or_default(*names, step.set)), seen, planes);
                }
            }
}

}  // namespace

std::set<std::string_view> planes_of_strand(const Recipe& recipe, std::string_view strand) {
    std::set<std::string_view> seen, planes;
    collect(recipe, strand, seen, planes);
    return planes;
}

Recipe taken_recipe(const Recipe& recipe, std::string_view strand, std::string_view output) {
    Recipe shown = recipe;
    for (StrandRef& each : shown.strands) {
        auto off = std::make_shared<Strand>(*each);
        off->on = false;
        each = std::move(off);
    }
    Strand only;
    only.id = unused_name("taken", "-", [&](const std::string& name) { return shown.index_of(name) >= 0; });
    Step taken;
    taken.id = "s1", taken.kind = "borrow";
    taken.set["strand"] = std::string(strand), taken.set["output"] = std::string(output);
    only.steps.push_back(std::move(taken));
    if (const PlaneName* plane = find_plane_word(output); plane && !plane->in_range) {
        Step spread;
        spread.id = "s2", spread.kind = "autorange";
        only.steps.push_back(std::move(spread));
    }
    shown.strands.push_back(std::make_shared<const Strand>(std::move(only)));
    return shown;
}

}  // namespace loom
