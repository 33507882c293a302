// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/clip.h"

#include <nettle/base64.h>

#include <algorithm>
#include <nlohmann/json.hpp>
#include <set>

#include "core/recipe/assets.h"
#include "core/recipe/json.h"
#include "core/recipe/references.h"
#include "core/catalogue/description.h"

namespace loom {

namespace {

using json = nlohmann::ordered_json;

std::string to_base64(const std::string& bytes) {
    std::string text(BASE64_ENCODE_RAW_LENGTH(bytes.size()), '\0');
    base64_encode_raw(text.data(), bytes.size(), reinterpret_cast<const std::uint8_t*>(bytes.data()));
    return text;
}

std::optional<std::string> from_base64(const std::string& text) {
    std::string bytes(BASE64_DECODE_LENGTH(text.size()), '\0');
    base64_decode_ctx context;
    base64_decode_init(&context);
    std::size_t length = bytes.size();
    auto* to = reinterpret_cast<std::uint8_t*>(bytes.data());
    if (!base64_decode_update(&context, &length, to, text.size(), text.data()) || !base64_decode_final(&context))
        return std::nullopt;
    bytes.resize(length);
    return bytes;
}

std::string clip_of(const Recipe& recipe, std::vector<StrandRef> strands, std::string_view what) {
    Recipe clip;
    clip.name = recipe.name;
    clip.tile = recipe.tile;
    clip.strands = std::move(strands);
    clip.assets = recipe.assets;
    clip = without_unused_assets(std::move(clip));
    // Strands that are named and not copied stand there empty, so that the text is sound by itself.
    json outside = json::array();
    for (const Reference& reference : references(clip))
        if (!clip.strand(reference.to)) {
            Strand named_only;
            named_only.id = named_only.name = reference.to;
            clip.strands.push_back(std::make_shared<const Strand>(std::move(named_only)));
            outside.push_back(reference.to);
        }
    json member = {{"of", what}, {"outside", std::move(outside)}};
    for (const auto& [name, asset] : clip.assets) member["assets"][name] = to_base64(asset->bytes);
    clip.unknown = json{{"clip", std::move(member)}}.dump();
    return write_recipe(clip);
}

void rename_references(Strand& strand, const std::map<std::string, std::string>& names) {
    const auto renamed = [&](const std::string& id) {
        const auto found = names.find(id);
        return found == names.end() ? id : found->second;
    };
    for (std::string& from : strand.from) from = renamed(from);
    for (ChainKind kind : all_chains)
        for (std::size_t k = 0; k < strand.chain(kind).size(); ++k) {
            const Step& step = strand.chain(kind)[k];
            if (!step.where.empty() && renamed(step.where) != step.where)
                strand.chain(kind).change(k).where = renamed(std::string(step.where));
            const StepDescription* description = find_step(step.kind);
            for (std::size_t p = 0; description && p < description->parameters.size(); ++p) {
                const Parameter& parameter = description->parameters[p];
                if (parameter.kind != Kind::strand) continue;
                const auto named = as<std::string>(value_or_default(parameter, step.set));
                if (renamed(named) != named)
                    strand.chain(kind).change(k).set.insert_or_assign(std::string(parameter.id), Value(renamed(named)));
            }
        }
}

}  // namespace

std::string clip_of_steps(const Recipe& recipe, const StepPlaces& steps) {
    std::vector<StrandRef> strands;
    std::shared_ptr<Strand> strand;
    for (const StepPlace& each : in_order(recipe, steps)) {
        if (!strand || strand->id != each.strand) {
            strand = std::make_shared<Strand>();
            strand->id = each.strand, strand->name = recipe.strand(each.strand)->name;
            strands.push_back(strand);
        }
        strand->steps.push_back(*recipe.step({each.strand, each.step, ""}));
    }
    return clip_of(recipe, std::move(strands), "steps");
}

std::string clip_of_strands(const Recipe& recipe, const std::vector<std::string>& strands) {
    std::vector<StrandRef> copied;
    for (const StrandRef& strand : recipe.strands)
        if (std::find(strands.begin(), strands.end(), strand->id) != strands.end()) copied.push_back(strand);
    return clip_of(recipe, std::move(copied), "strands");
}

Result<Clip> read_clip(std::string_view text) {
    Reading reading = read_recipe(text);
    if (const Finding* fault = reading.first_fault()) return Error{Fault::recipe, fault->text()};
    Clip clip;
    clip.of = Clip::Of::strands;
    std::set<std::string> outside;
    const json unknown = reading.recipe.unknown.empty() ? json::object() : json::parse(reading.recipe.unknown);
    if (const auto member = unknown.find("clip"); member != unknown.end() && member->is_object()) {
        if (member->value("of", json()) == "steps") clip.of = Clip::Of::steps;
        for (const json& id : member->value("outside", json::array()))
            if (id.is_string()) outside.insert(id.get<std::string>());
        const json assets = member->value("assets", json::object());
        for (const auto& [name, content] : assets.items()) {
            const auto bytes = content.is_string() ? from_base64(content.get<std::string>()) : std::nullopt;
            if (!bytes) return Error{Fault::recipe, "the picture '" + name + "' in the copied text is no base64"};
            clip.assets[name] = make_asset(name, *bytes);
            if (name_fit(name, *clip.assets[name]) == NameFit::wrong)
                return Error{Fault::recipe, "the picture '" + name + "' in the copied text is not what its name says"};
        }
    }
    for (const StrandRef& strand : reading.recipe.strands)
        if (!outside.contains(strand->id)) clip.strands.push_back(strand);
    if (clip.strands.empty()) return Error{Fault::recipe, "the copied text holds no steps and no strands"};
    return clip;
}

Recipe steps_pasted(Recipe recipe, const Clip& clip, const Slot& slot, std::vector<std::string>& ids) {
    ids.clear();
    if (!recipe.strand(slot.strand)) return recipe;
    for (const auto& [name, asset] : clip.assets) recipe.assets.insert({name, asset});
    Slot at = slot;
    for (const StrandRef& strand : clip.strands)
        for (ChainKind kind : all_chains)
            for (Step step : strand->chain(kind)) {
                if (recipe.strand(slot.strand)->step(step.id)) step.id = new_step_id(*recipe.strand(slot.strand));
                ids.push_back(step.id);
                recipe = step_added(std::move(recipe), at, std::move(step));
                ++at.index;
            }
    return without_loose_ends(std::move(recipe));
}

Recipe strands_pasted(Recipe recipe, const Clip& clip, int index, std::vector<std::string>& ids) {
    ids.clear();
    for (const auto& [name, asset] : clip.assets) recipe.assets.insert({name, asset});
    std::map<std::string, std::string> names;
    for (const StrandRef& strand : clip.strands) {
        recipe = strand_added(std::move(recipe), *strand, index);
        ids.push_back(
            recipe.strands[static_cast<std::size_t>(std::clamp(index, 0, static_cast<int>(recipe.strands.size()) - 1))]->id);
        names[strand->id] = ids.back();
        ++index;
    }
    // Copies name each other, not what they were copied from.
    for (StrandRef& strand : recipe.strands)
        if (std::find(ids.begin(), ids.end(), strand->id) != ids.end()) {
            auto own = std::make_shared<Strand>(*strand);
            rename_references(*own, names);
            strand = std::move(own);
        }
    return without_loose_ends(std::move(recipe));
}

}  // namespace loom
