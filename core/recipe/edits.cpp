// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/edits.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <set>

#include "core/base/unused_name.h"
#include "core/catalogue/description.h"

namespace loom {

namespace {

template <class Change>
Recipe strand_changed(Recipe recipe, std::string_view id, Change&& change) {
    const int index = recipe.index_of(id);
    if (index < 0) return recipe;
    auto copy = std::make_shared<Strand>(*recipe.strands[static_cast<std::size_t>(index)]);
    change(*copy);
    recipe.strands[static_cast<std::size_t>(index)] = std::move(copy);
    return recipe;
}

template <class Change>
Recipe step_changed(Recipe recipe, std::string_view strand, std::string_view step, Change&& change) {
    const auto slot = slot_of(recipe, strand, step);
    if (!slot) return recipe;
    return strand_changed(std::move(recipe), slot->strand,
                          [&](Strand& s) { change(s.chain(slot->chain).change(static_cast<std::size_t>(slot->index))); });
}

int clamped(int index, std::size_t count) { return std::clamp(index, 0, static_cast<int>(count)); }

}  // namespace

std::optional<Slot> slot_of(const Recipe& recipe, std::string_view strand, std::string_view step) {
    const Strand* found = recipe.strand(strand);
    if (!found) return std::nullopt;
    for (ChainKind kind : all_chains) {
        const Chain& chain = found->chain(kind);
        for (std::size_t k = 0; k < chain.size(); ++k)
            if (chain[k].id == step) return Slot{std::string(strand), kind, static_cast<int>(k)};
    }
    return std::nullopt;
}

std::string new_strand_id(const Recipe& recipe, std::string_view wish) {
    std::string base;
    for (char c : wish) {
        const auto byte = static_cast<unsigned char>(c);
        if (byte < 128 && std::isalnum(byte))
            base += static_cast<char>(std::tolower(byte));
        else if (!base.empty() && base.back() != '-')
            base += '-';
    }
    while (!base.empty() && base.back() == '-') base.pop_back();
    if (base.empty()) base = "strand";
    return unused_name(base, "-", [&](const std::string& id) { return recipe.strand(id) != nullptr; });
}

std::string new_step_id(const Strand& strand) {
    for (int n = 1;; ++n) {
        std::string id("s");
        id += std::to_string(n);
        if (!strand.step(id)) return id;
    }
}

Recipe renamed(Recipe recipe, std::string name) {
    recipe.name = std::move(name);
    return recipe;
}
Recipe with_tile(Recipe recipe, Tile tile) {
    recipe.tile = tile;
    return recipe;
}
Recipe with_seed(Recipe recipe, std::uint32_t seed) {
    recipe.seed = seed;
    return recipe;
}
Recipe with_lamp(Recipe recipe, Lamp lamp) {
    recipe.lamp = lamp;
    return recipe;
}

Recipe with_asset(Recipe recipe, std::string name, std::shared_ptr<const Asset> asset) {
    recipe.assets[std::move(name)] = std::move(asset);
    return recipe;
}

Recipe with_linear_light(Recipe recipe, bool linear) {
    recipe.linear_light = linear;
    return recipe;
}

Recipe strand_added(Recipe recipe, Strand strand, int index) {
    strand.id = new_strand_id(recipe, strand.id.empty() ? strand.name : strand.id);
    recipe.strands.insert(recipe.strands.begin() + clamped(index, recipe.strands.size()),
                          std::make_shared<const Strand>(std::move(strand)));
    return recipe;
}

Recipe strand_removed(Recipe recipe, std::string_view strand) {
    const int index = recipe.index_of(strand);
    if (index < 0) return recipe;
    const StrandRef gone = recipe.strands[static_cast<std::size_t>(index)];
    recipe.strands.erase(recipe.strands.begin() + index);
    // What went on from its chains keeps them as its own.
    for (const StrandRef& user : std::vector<StrandRef>(recipe.strands))
        for (ChainKind kind : all_chains) {
            if (user->from_of(kind) != gone->id) continue;
            int at = 0;
            for (const Step& step : gone->chain(kind)) recipe = step_added(std::move(recipe), {user->id, kind, at++}, step);
            recipe = strand_changed(std::move(recipe), user->id, [&](Strand& s) { s.from_of(kind) = gone->from_of(kind); });
        }
    return recipe;
}

Recipe strand_duplicated(Recipe recipe, std::string_view strand) {
    const int index = recipe.index_of(strand);
    if (index < 0) return recipe;
    Strand copy = *recipe.strands[static_cast<std::size_t>(index)];
    copy.name += " copy";
    return strand_added(std::move(recipe), std::move(copy), index + 1);
}

Recipe strand_renamed(Recipe recipe, std::string_view strand, std::string name) {
    return strand_changed(std::move(recipe), strand, [&](Strand& s) { s.name = std::move(name); });
}

Recipe strand_switched(Recipe recipe, std::string_view strand, bool on) {
    return strand_changed(std::move(recipe), strand, [&](Strand& s) { s.on = on; });
}

Recipe strand_folded(Recipe recipe, std::string_view strand, bool folded) {
    return strand_changed(std::move(recipe), strand, [&](Strand& s) { s.folded = folded; });
}

Recipe with_join(Recipe recipe, std::string_view strand, Join join) {
    return strand_changed(std::move(recipe), strand, [&](Strand& s) { s.join = join; });
}

Recipe with_route(Recipe recipe, std::string_view strand, Map map, std::optional<Route> route) {
    return strand_changed(std::move(recipe), strand, [&](Strand& s) {
        if (route)
            s.routes[map] = *route;
        else
            s.routes.erase(map);
    });
}

Recipe step_added(Recipe recipe, const Slot& slot, Step step) {
    return strand_changed(std::move(recipe), slot.strand, [&](Strand& s) {
        if (step.id.empty() || s.step(step.id)) step.id = new_step_id(s);
        Chain& chain = s.chain(slot.chain);
        chain.insert(clamped(slot.index, chain.size()), std::move(step));
    });
}

Recipe step_removed(Recipe recipe, std::string_view strand, std::string_view step) {
    return strand_changed(std::move(recipe), strand, [&](Strand& s) {
        for (ChainKind kind : all_chains) s.chain(kind).erase(step);
    });
}

Recipe step_moved(Recipe recipe, std::string_view strand_id, std::string_view step_id, const Slot& to) {
    // Names may lie in the recipe that is taken apart.
    const std::string strand(strand_id), step(step_id);
    const auto from = slot_of(recipe, strand, step);
    if (!from || !recipe.strand(to.strand)) return recipe;
    Step moved = *recipe.strand(strand)->step(step);
    Slot target = to;
    if (from->strand == to.strand && from->chain == to.chain && from->index < to.index) --target.index;
    if (to.strand != strand && recipe.strand(to.strand)->step(moved.id)) moved.id = new_step_id(*recipe.strand(to.strand));
    const std::string new_id = moved.id;
    recipe = step_added(step_removed(std::move(recipe), strand, step), target, std::move(moved));
    // Dials and colourways go with it.
    auto follow = [&](Address& at) {
        if (at.strand == strand && at.step == step) at.strand = to.strand, at.step = new_id;
    };
    for (Dial& dial : recipe.dials)
        for (Drive& drive : dial.drives) follow(drive.at);
    for (Colourway& colourway : recipe.colourways) {
        std::map<Address, Value> set;
        for (const auto& [named, value] : colourway.set) {
            Address at = named;
            follow(at), set.insert_or_assign(std::move(at), value);
        }
        colourway.set = std::move(set);
    }
    return recipe;
}

Recipe step_duplicated(Recipe recipe, std::string_view strand, std::string_view step) {
    const auto from = slot_of(recipe, strand, step);
    if (!from) return recipe;
    Step copy = *recipe.strand(strand)->step(step);
    Slot below = *from;
    ++below.index;
    return step_added(std::move(recipe), below, std::move(copy));
}

Recipe step_exchanged(Recipe recipe, std::string_view strand, std::string_view step, const StepDescription& to) {
    return step_changed(std::move(recipe), strand, step, [&](Step& s) {
        const StepDescription* from = find_step(s.kind);
        Values kept;
        for (const Parameter& p : to.parameters) {
            const auto set = s.set.find(p.id);
            const Parameter* before = from ? from->parameter(p.id) : nullptr;
            if (set == s.set.end() && !before) continue;
            Value value = before ? value_or_default(*before, s.set) : set->second;
            if (const double* number = as_if<double>(value)) value = std::clamp(*number, p.min, p.max);
            if (!refuses(p, value) && value != p.fallback) kept.insert_or_assign(std::string(p.id), value);
        }
        s.kind = to.id;
        s.set = std::move(kept);
    });
}

Recipe step_renamed(Recipe recipe, std::string_view strand, std::string_view step, std::string name) {
    return step_changed(std::move(recipe), strand, step, [&](Step& s) { s.name = std::move(name); });
}

Recipe step_reset(Recipe recipe, std::string_view strand, std::string_view step) {
    return step_changed(std::move(recipe), strand, step, [](Step& s) { s.set.clear(); });
}

Recipe with_dial(Recipe recipe, std::string_view dial, double value) {
    for (std::size_t k = 0; k < recipe.dials.size(); ++k) {
        if (recipe.dials[k].name != dial) continue;
        recipe.dials[k].value = value;
        const Dial moved = recipe.dials[k];
        for (const Drive& drive : moved.drives) {
            Value driven = drive.from + (drive.to - drive.from) * value / 100;
            const auto place = place_at(recipe, drive.at);
            if (place && place->parameter.kind == Kind::count) driven = std::round(as<double>(driven));
            if (!refuses(recipe, drive.at, driven)) recipe = with_value(std::move(recipe), drive.at, driven);
        }
    }
    return recipe;
}

Recipe with_colourway(Recipe recipe, std::string_view colourway) {
    const Colourway* found = recipe.colourway(colourway);
    if (!found) return recipe;
    for (const auto& [at, value] : Colourway(*found).set)
        if (!refuses(recipe, at, value)) recipe = with_value(std::move(recipe), at, value);
    return recipe;
}

Recipe colourway_kept(Recipe recipe, std::string name, const std::vector<Address>& also) {
    std::set<Address> addresses(also.begin(), also.end());
    for (const Colourway& each : recipe.colourways)
        for (const auto& [at, value] : each.set) addresses.insert(at);
    Colourway kept;
    kept.name = std::move(name);
    for (const Address& at : addresses)
        if (const auto value = value_at(recipe, at)) kept.set[at] = *value;
    const auto same =
        std::find_if(recipe.colourways.begin(), recipe.colourways.end(), [&](const Colourway& c) { return c.name == kept.name; });
    if (same != recipe.colourways.end())
        *same = std::move(kept);
    else
        recipe.colourways.push_back(std::move(kept));
    return recipe;
}

Recipe export_kept(Recipe recipe, ExportPreset preset) {
    for (ExportPreset& each : recipe.exports)
        if (each.name == preset.name) {
            // What another version keeps with it stays.
            preset.unknown = each.unknown;
            each = std::move(preset);
            return recipe;
        }
    recipe.exports.push_back(std::move(preset));
    return recipe;
}

Recipe export_removed(Recipe recipe, std::string_view name) {
    std::erase_if(recipe.exports, [&](const ExportPreset& each) { return each.name == name; });
    return recipe;
}

std::string present_colourway(const Recipe& recipe) {
    for (const Colourway& each : recipe.colourways)
        if (std::all_of(each.set.begin(), each.set.end(),
                        [&](const auto& entry) { return value_at(recipe, entry.first) == entry.second; }))
            return each.name;
    return {};
}

std::string step_title(const Step& step) {
    if (!step.name.empty()) return step.name;
    const StepDescription* description = find_step(step.kind);
    return description ? std::string(description->title) : step.kind;
}

}  // namespace loom
