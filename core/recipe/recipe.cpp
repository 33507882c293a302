// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/recipe.h"

#include <algorithm>
#include <tuple>

namespace loom {

std::string_view chain_id(ChainKind chain) {
    constexpr std::string_view ids[] = {"steps", "mask", "edge"};
    return ids[static_cast<std::size_t>(chain)];
}

const Step* Strand::step(std::string_view step_id) const {
    for (ChainKind kind : all_chains)
        for (const Step& step : chain(kind))
            if (step.id == step_id) return &step;
    return nullptr;
}

const Result<Size>& Asset::picture_size(const PictureReader& reader) const {
    std::call_once(measured_, [&] { size_ = reader.size_of(bytes); });
    return *size_;
}

bool Recipe::operator==(const Recipe& other) const {
    auto rest = [](const Recipe& r) {
        return std::tie(r.name, r.seed, r.tile, r.linear_light, r.lamp, r.finish, r.shown_lit, r.dials, r.colourways, r.exports,
                        r.unknown);
    };
    const auto same_asset = [](const auto& a, const auto& b) {
        return a.first == b.first && (a.second == b.second || a.second->sha256 == b.second->sha256);
    };
    return rest(*this) == rest(other) &&
           std::equal(assets.begin(), assets.end(), other.assets.begin(), other.assets.end(), same_asset) &&
           std::equal(strands.begin(), strands.end(), other.strands.begin(), other.strands.end(),
                      [](const StrandRef& a, const StrandRef& b) { return a == b || *a == *b; });
}

int Recipe::index_of(std::string_view strand_id) const {
    for (std::size_t k = 0; k < strands.size(); ++k)
        if (strands[k]->id == strand_id) return static_cast<int>(k);
    return -1;
}

const Strand* Recipe::strand(std::string_view strand_id) const {
    const int index = index_of(strand_id);
    return index < 0 ? nullptr : strands[static_cast<std::size_t>(index)].get();
}

const Colourway* Recipe::colourway(std::string_view colourway_name) const {
    const auto found =
        std::find_if(colourways.begin(), colourways.end(), [&](const Colourway& c) { return c.name == colourway_name; });
    return found == colourways.end() ? nullptr : &*found;
}

}  // namespace loom
