// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Nodes for what a recipe keeps inside: pictures, and other recipes, whose plans become part of this one.
#include <algorithm>
#include <cmath>

#include "core/recipe/assets.h"
#include "core/recipe/edits.h"
#include "core/render/planner.h"

namespace loom {

int Planner::picture_node(const std::string& name, const std::string& for_step) {
    const auto found = recipe_.assets.find(name);
    if (found == recipe_.assets.end() || !pictures_) {
        warn(for_step + " names the picture '" + name + "', which " +
             (pictures_ ? "is not in the recipe" : "cannot be read here") + "; it is left out");
        return empty_node();
    }
    const auto& size = found->second->picture_size(*pictures_);
    if (!size) {
        warn(for_step + ": " + size.error().message + "; it is left out");
        return empty_node();
    }
    Node node;
    // By what it is: another recipe may keep something else under this name.
    node.key.add("picture").add(found->second->sha256);
    node.size = *size;
    node.shape = {3, true};
    // Where rows come in passes the file's own pixels are kept besides, up to eight bytes each.
    node.scratch_planes = 2;
    node.label = name;
    node.cost = 1;
    node.footprint = Footprint::whole();
    node.run = [asset = found->second, reader = pictures_, for_step](const NodeInputs&, const Piece& piece) {
        auto picture = reader->read(asset->bytes, piece.job);
        if (picture) return std::move(*picture);
        piece.job.check();
        piece.job.warn(for_step + ": " + picture.error().message + "; it is left out");
        return Bundle::nothing({1, 1});
    };
    return add(std::move(node));
}

std::shared_ptr<const Asset> Planner::drawing(const std::string& name, const std::string& for_step) {
    const auto found = recipe_.assets.find(name);
    if (found != recipe_.assets.end() && pictures_) return found->second;
    warn(for_step + " names the drawing '" + name + "', which " + (pictures_ ? "is not in the recipe" : "cannot be read here") +
         "; it is left out");
    return nullptr;
}

int Planner::recipe_node(const std::string& name, const Inner& inner, const std::string& for_step) {
    const auto found = recipe_.assets.find(name);
    if (found == recipe_.assets.end() || !found->second->recipe || depth_ >= deepest_recipe) {
        warn(for_step + " names the recipe '" + name + "', which " +
             (depth_ >= deepest_recipe ? "lies too deep in recipes within recipes" : "is not in this recipe") +
             "; it is left out");
        return empty_node();
    }
    Key key;
    key.add("recipe").add(found->second->sha256).add(inner.colourway).add(inner.map).add(inner.scale);
    for (const Input& dial : inner.dials) key.add(dial.name).add(dial.value);
    if (const auto known = inner_.find(key); known != inner_.end()) return known->second;
    Recipe recipe = *found->second->recipe;
    if (!inner.colourway.empty()) {
        if (!recipe.colourway(inner.colourway))
            warn(for_step + ": '" + recipe.name + "' has no colourway '" + inner.colourway + "'");
        recipe = with_colourway(std::move(recipe), inner.colourway);
    }
    for (const Input& dial : inner.dials) recipe = with_dial(std::move(recipe), dial.name, dial.value);
    const Size tile = recipe_.tile.size(), own = recipe.tile.size();
    const Size size{std::max(1, (plan_.size.width + repeats(tile.width, own.width, inner.scale) / 2) /
                                    repeats(tile.width, own.width, inner.scale)),
                    std::max(1, (plan_.size.height + repeats(tile.height, own.height, inner.scale) / 2) /
                                    repeats(tile.height, own.height, inner.scale))};
    Wanted wanted;
    if (const auto map = find_map(inner.map); map && *map != Map::colour) wanted.what = Wanted::What::map, wanted.map = *map;
    Plan plan = Planner(recipe, size, {wanted}, planning_, depth_ + 1).finish();
    for (const std::string& warning : plan.warnings) warn(for_step + ": " + warning);
    return inner_[key] = take_over(std::move(plan));
}

int Planner::take_over(Plan&& inner) {
    std::vector<int> places;
    for (Node& node : inner.nodes) {
        for (int& input : node.inputs) input = places[static_cast<std::size_t>(input)];
        places.push_back(add(std::move(node)));
    }
    return places[static_cast<std::size_t>(inner.outputs.begin()->second)];
}

}  // namespace loom
