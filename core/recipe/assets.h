// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Pictures and recipes that a recipe keeps inside, so that it is whole wherever it goes.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/recipe/json.h"
#include "core/recipe/recipe.h"

namespace loom {

/// Recipes may lie within recipes this deep; the outermost counts 0.
constexpr int deepest_recipe = 4;

struct ReadingBudget;

/// "assets/<sha256 of the bytes>.<extension>".
std::string asset_name(std::string_view bytes, std::string_view extension);

/// Why a name cannot be an asset's ("it leads into another folder"); "" if it can: "assets/" and a plain name (own_folder.h).
std::string asset_name_fault(std::string_view name);

/// Whether a name is one that asset_name gives, and if so whether it fits what the asset holds.
enum class NameFit { own_name, fits, wrong };
NameFit name_fit(std::string_view name, const Asset& asset);

/// An asset from its bytes; a .loom or .json file is read, and left without a recipe if it has faults or `budget` is spent.
std::shared_ptr<const Asset> make_asset(std::string_view name, std::string bytes, ReadingBudget& budget);
std::shared_ptr<const Asset> make_asset(std::string_view name, std::string bytes);

/// Reads a recipe that is to be kept inside another. Fails with the first fault of the file, or if recipes lie too deep
/// in it. `name` receives what the asset is called.
Result<std::shared_ptr<const Asset>> recipe_asset(const std::string& path, std::string& name);

/// Adds a fault for everything that steps name and that is not there, or is no recipe where one is wanted, and for what does
/// not hold what its name says.
void check_assets(const Recipe& recipe, std::vector<Finding>& findings);

/// How deep recipes lie within this one; 0: there are none.
int recipe_depth(const Recipe& recipe);

/// Without the assets that nothing in the recipe names any more.
Recipe without_unused_assets(Recipe recipe);

}  // namespace loom
