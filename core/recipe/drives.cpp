// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/drives.h"

#include <algorithm>

#include "core/base/unused_name.h"
#include "core/recipe/edits.h"

namespace loom {

namespace {

bool drives(const Dial& dial, const Address& at) {
    return std::any_of(dial.drives.begin(), dial.drives.end(), [&](const Drive& drive) { return drive.at == at; });
}

}  // namespace

bool can_be_driven(const Recipe& recipe, const Address& at) {
    const auto place = place_at(recipe, at);
    return place && (place->parameter.kind == Kind::number || place->parameter.kind == Kind::count);
}

std::vector<std::string> dials_of(const Recipe& recipe, const Address& at) {
    std::vector<std::string> names;
    for (const Dial& dial : recipe.dials)
        if (drives(dial, at)) names.push_back(dial.name);
    return names;
}

Recipe drive_ended(Recipe recipe, std::string_view name, const Address& at, bool to, double value) {
    const auto place = place_at(recipe, at);
    if (!place || !can_be_driven(recipe, at)) return recipe;
    double stands = 0;
    bool known = false;
    for (Dial& dial : recipe.dials)
        for (Drive& drive : dial.drives) {
            if (dial.name != name || drive.at != at) continue;
            (to ? drive.to : drive.from) = std::clamp(value, place->parameter.min, place->parameter.max);
            known = true, stands = dial.value;
        }
    return known ? with_dial(std::move(recipe), name, stands) : recipe;
}

Recipe freed_from(Recipe recipe, std::string_view name, const Address& at) {
    for (Dial& dial : recipe.dials)
        if (dial.name == name) std::erase_if(dial.drives, [&](const Drive& drive) { return drive.at == at; });
    std::erase_if(recipe.dials, [](const Dial& dial) { return dial.drives.empty(); });
    return recipe;
}

Recipe dial_renamed(Recipe recipe, std::string_view name, const std::string& wish) {
    const auto found =
        std::find_if(recipe.dials.begin(), recipe.dials.end(), [&](const Dial& each) { return each.name == name; });
    if (found == recipe.dials.end() || wish.empty() || wish == name) return recipe;
    found->name = unused_name(wish, " ", [&](const std::string& taken) {
        return std::any_of(recipe.dials.begin(), recipe.dials.end(),
                           [&](const Dial& each) { return &each != &*found && each.name == taken; });
    });
    return recipe;
}

Recipe dial_removed(Recipe recipe, std::string_view name) {
    std::erase_if(recipe.dials, [&](const Dial& dial) { return dial.name == name; });
    return recipe;
}

Recipe dial_made(Recipe recipe, const Address& at, const std::string& wish) {
    if (!can_be_driven(recipe, at)) return recipe;
    const Place place = *place_at(recipe, at);
    const double value = as<double>(place.value);
    const double from = std::min(place.parameter.slider_min, value), to = std::max(place.parameter.slider_max, value);
    Dial dial;
    dial.name = unused_name(wish, " ", [&](const std::string& name) {
        return std::any_of(recipe.dials.begin(), recipe.dials.end(), [&](const Dial& each) { return each.name == name; });
    });
    dial.value = to > from ? 100 * (value - from) / (to - from) : 50;
    dial.drives = {{at, from, to}};
    recipe.dials.push_back(std::move(dial));
    return recipe;
}

Recipe driven_by(Recipe recipe, const Address& at, std::string_view name) {
    if (!can_be_driven(recipe, at)) return recipe;
    const Place place = *place_at(recipe, at);
    const double value = as<double>(place.value), low = place.parameter.slider_min, high = place.parameter.slider_max;
    for (Dial& dial : recipe.dials) {
        if (dial.name != name || drives(dial, at)) continue;
        // A line through the present value that stays on the slider at both ends of the dial.
        const double share = dial.value / 100;
        double slope = high - low;
        if (share > 0) slope = std::min(slope, (value - low) / share);
        if (share < 1) slope = std::min(slope, (high - value) / (1 - share));
        slope = std::max(0.0, slope);
        dial.drives.push_back({at, value - slope * share, value + slope * (1 - share)});
    }
    return recipe;
}

Recipe undriven(Recipe recipe, const Address& at) {
    for (Dial& dial : recipe.dials) std::erase_if(dial.drives, [&](const Drive& drive) { return drive.at == at; });
    std::erase_if(recipe.dials, [](const Dial& dial) { return dial.drives.empty(); });
    return recipe;
}

Recipe set_by_colourway(Recipe recipe, std::string_view name, const Address& at, bool on) {
    const auto value = value_at(recipe, at);
    for (Colourway& colourway : recipe.colourways) {
        if (colourway.name != name) continue;
        if (!on)
            colourway.set.erase(at);
        else if (value)
            colourway.set.insert_or_assign(at, *value);
    }
    return recipe;
}

}  // namespace loom
