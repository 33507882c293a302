// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/assets.h"

#include <nettle/sha2.h>

#include <algorithm>

#include "core/base/answering.h"
#include "core/base/own_folder.h"
#include "core/catalogue/description.h"
#include "core/recipe/container.h"

namespace loom {

namespace {

bool has_fault(const LoomFile& file) {
    return std::any_of(file.findings.begin(), file.findings.end(),
                       [](const Finding& f) { return f.weight == Finding::Weight::fault; });
}

}  // namespace

namespace {

std::string sha256_of(std::string_view bytes) {
    takes_its_time("hashing");
    sha256_ctx context;
    sha256_init(&context);
    sha256_update(&context, bytes.size(), reinterpret_cast<const std::uint8_t*>(bytes.data()));
    std::uint8_t digest[SHA256_DIGEST_SIZE];
    sha256_digest(&context, sizeof digest, digest);
    std::string text;
    for (std::uint8_t byte : digest) {
        constexpr char digits[] = "0123456789abcdef";
        text += digits[byte >> 4];
        text += digits[byte & 15];
    }
    return text;
}

constexpr std::string_view asset_folder = "assets/";

}  // namespace

std::string asset_name(std::string_view bytes, std::string_view extension) {
    return std::string(asset_folder) + sha256_of(bytes) + "." + std::string(extension);
}

std::string asset_name_fault(std::string_view name) {
    return name.starts_with(asset_folder) ? plain_name_fault(name.substr(asset_folder.size())) : "it is not in 'assets/'";
}

NameFit name_fit(std::string_view name, const Asset& asset) {
    const std::string_view stem = name.substr(asset_folder.size(), name.rfind('.') - asset_folder.size());
    if (stem.size() != 2 * SHA256_DIGEST_SIZE || stem.find_first_not_of("0123456789abcdef") != std::string_view::npos)
        return NameFit::own_name;
    return stem == asset.sha256 ? NameFit::fits : NameFit::wrong;
}

std::shared_ptr<const Asset> make_asset(std::string_view name, std::string bytes, ReadingBudget& budget) {
    auto asset = std::make_shared<Asset>();
    asset->bytes = std::move(bytes);
    asset->sha256 = sha256_of(asset->bytes);
    if (!name.ends_with(".loom") && !name.ends_with(".json")) return asset;
    if (budget.depth == 0) {
        asset->too_deep = true;
        return asset;
    }
    --budget.depth;
    if (const auto file = inspect_loom_bytes(asset->bytes, std::string(name), budget); file && !has_fault(*file))
        asset->recipe = std::make_shared<const Recipe>(file->recipe);
    ++budget.depth;
    return asset;
}

std::shared_ptr<const Asset> make_asset(std::string_view name, std::string bytes) {
    ReadingBudget budget;
    return make_asset(name, std::move(bytes), budget);
}

Result<std::shared_ptr<const Asset>> recipe_asset(const std::string& path, std::string& name) {
    auto file = read_loom(path);
    if (!file) return file.error();
    if (recipe_depth(file->recipe) + 1 > deepest_recipe)
        return Error{Fault::recipe, "'" + path + "' holds recipes within recipes " + std::to_string(deepest_recipe) +
                                        " deep already; export its cloth as a picture and use that"};
    // Packed anew, so that a folder becomes one file too.
    file->preview_png.clear();
    file->recipe = without_unused_assets(std::move(file->recipe));
    auto bytes = loom_bytes(*file);
    if (!bytes) return bytes.error();
    name = asset_name(*bytes, "loom");
    return make_asset(name, std::move(*bytes));
}

void check_assets(const Recipe& recipe, std::vector<Finding>& findings) {
    for (const auto& [name, asset] : recipe.assets)
        if (name_fit(name, *asset) == NameFit::wrong)
            findings.push_back(
                {Finding::Weight::fault, "",
                 "'" + name + "' does not hold what its name says, it has been changed or damaged; put it in again"});
    for (std::size_t s = 0; s < recipe.strands.size(); ++s)
        for (ChainKind kind : all_chains) {
            const Chain& chain = recipe.strands[s]->chain(kind);
            for (std::size_t k = 0; k < chain.size(); ++k) {
                const StepDescription* description = find_step(chain[k].kind);
                if (!description) continue;
                for (const Parameter& p : description->parameters) {
                    if (!names_kept(p.kind)) continue;
                    const auto& name = as<std::string>(value_or_default(p, chain[k].set));
                    if (name.empty()) continue;
                    const std::string pointer = "/strands/" + std::to_string(s) + "/" + std::string(chain_id(kind)) + "/" +
                                                std::to_string(k) + "/set/" + std::string(p.id);
                    const auto found = recipe.assets.find(name);
                    if (found == recipe.assets.end())
                        findings.push_back({Finding::Weight::fault, pointer, "there is no '" + name + "' in the file"});
                    else if (p.kind == Kind::recipe && !found->second->recipe && !found->second->too_deep)
                        findings.push_back(
                            {Finding::Weight::fault, pointer, "'" + name + "' is no sound recipe; put the recipe in again"});
                }
            }
        }
    if (recipe_depth(recipe) > deepest_recipe)
        findings.push_back(
            {Finding::Weight::fault, "", "recipes lie within recipes more than " + std::to_string(deepest_recipe) + " deep"});
}

int recipe_depth(const Recipe& recipe) {
    int depth = 0;
    for (const auto& [name, asset] : recipe.assets)
        if (asset->recipe || asset->too_deep) depth = std::max(depth, 1 + (asset->recipe ? recipe_depth(*asset->recipe) : 0));
    return depth;
}

Recipe without_unused_assets(Recipe recipe) {
    // By the text, so that what steps of later versions name is kept as well.
    const std::string text = write_recipe(recipe);
    std::erase_if(recipe.assets, [&](const auto& entry) { return text.find(entry.first) == std::string::npos; });
    return recipe;
}

}  // namespace loom
