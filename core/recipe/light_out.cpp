// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/light_out.h"

#include <algorithm>
#include <cmath>

#include "core/catalogue/description.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

constexpr std::string_view relief = "relief", baked = "baked", share_of_height = "height-share", depth = "depth",
                           strength = "strength";
/// Strands that are lit lie over each other: none hides what another one's light has shown.
constexpr Blend laid_by = Blend::add_relief;

template <class T>
T value_of(const Step& step, std::string_view id) {
    const Parameter* parameter = find_step(relief)->parameter(id);
    return as<T>(value_or_default(*parameter, step.set));
}

/// In the order they run; masks are no pictures.
constexpr ChainKind lit_chains[] = {ChainKind::steps, ChainKind::edge};

bool lights(const Step& step) { return step.kind == relief && step.on; }

template <class Test>
bool any_relief(const Recipe& recipe, Test&& test) {
    for (const StrandRef& strand : recipe.strands)
        for (const ChainKind chain : lit_chains)
            for (const Step& step : strand->chain(chain))
                if (lights(step) && test(step)) return true;
    return false;
}

/// Calls with each relief of a strand that bakes its light in, or that does not, to be changed.
template <class Change>
void change_reliefs(Strand& strand, bool bakes, Change&& change) {
    for (const ChainKind kind : lit_chains) {
        Chain& chain = strand.chain(kind);
        for (std::size_t k = 0; k < chain.size(); ++k)
            if (lights(chain[k]) && value_of<bool>(chain[k], baked) == bakes) change(chain.change(k));
    }
}

/// As deep as it looks: light of which little is used is that of a shallow relief.
double depth_of(const Step& step) {
    return std::abs(value_of<double>(step, depth)) * step.amount / 100 * value_of<double>(step, strength) / 100;
}
/// Light by itself is laid on by its strand's join.
double laid_on(const Strand& strand, const Step& step) {
    return value_of<std::string>(step, "result") == "times" ? 1 : strand.join.amount / 100;
}

}  // namespace

bool has_light_in(const Recipe& recipe) {
    return any_relief(recipe, [](const Step& step) { return value_of<bool>(step, baked); });
}
bool has_light_out(const Recipe& recipe) {
    return any_relief(recipe, [](const Step& step) { return !value_of<bool>(step, baked); });
}

Recipe light_taken_out(Recipe recipe) {
    double deepest = recipe.tile.deep;
    std::vector<std::pair<std::string, double>> deep;  // of strands that feed the height map from now on
    for (StrandRef& ref : recipe.strands) {
        Strand strand = *ref;
        double all = 0;
        bool any = false;
        change_reliefs(strand, true, [&](Step& step) {
            const double own = depth_of(step) * laid_on(strand, step);
            all += own, any = true;
            step.set[std::string(baked)] = false;
            // The last one's share is of the sum of all.
            if (all > 0 && own < all) step.set[std::string(share_of_height)] = 100 * own / all;
        });
        if (!any) continue;
        if (strand.on && !strand.routes.contains(Map::height)) deep.emplace_back(strand.id, all);
        deepest = std::max(deepest, strand.on ? all : 0);
        ref = std::make_shared<const Strand>(std::move(strand));
    }
    const double shrink = recipe.tile.deep / deepest;
    recipe.tile.deep = deepest;
    for (StrandRef& ref : recipe.strands) {
        const auto fed = std::find_if(deep.begin(), deep.end(), [&](const auto& each) { return each.first == ref->id; });
        const bool feeds = ref->routes.contains(Map::height);
        if (fed == deep.end() && (!feeds || shrink == 1)) continue;
        Strand strand = *ref;
        if (feeds)
            strand.routes[Map::height].amount *= shrink;
        else
            strand.routes[Map::height] = {laid_by, 100 * fed->second / deepest};
        ref = std::make_shared<const Strand>(std::move(strand));
    }
    return recipe;
}

Recipe light_put_back(Recipe recipe) {
    for (StrandRef& ref : recipe.strands) {
        Strand strand = *ref;
        double all = 0;
        change_reliefs(strand, false, [&](Step& step) {
            all += depth_of(step) * laid_on(strand, step);
            step.set.erase(std::string(baked)), step.set.erase(std::string(share_of_height));
        });
        if (strand == *ref) continue;
        // A route that taking out has laid, and nobody has changed.
        const auto route = strand.routes.find(Map::height);
        if (route != strand.routes.end() && route->second.plane.empty() && route->second.blend == laid_by &&
            std::abs(route->second.amount - 100 * all / recipe.tile.deep) < 0.01)
            strand.routes.erase(route);
        ref = std::make_shared<const Strand>(std::move(strand));
    }
    return recipe;
}

}  // namespace loom
