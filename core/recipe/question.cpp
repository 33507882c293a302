// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/recipe/question.h"

#include <algorithm>

#include "core/recipe/edits.h"

namespace loom {

namespace {

using What = Question::What;

Axis axis_at(const Recipe& recipe, const Address& at, const std::optional<Span>& span, int count) {
    if (is_number(recipe, at)) return value_axis(recipe, at, span.value_or(usual_span(recipe, at)), count, true);
    return choice_axis(recipe, at);
}

/// Whether another seed of the step makes another picture.
bool draws_lots(const Recipe& recipe, const Address& at) {
    const Step* step = recipe.step(at);
    const StepDescription* description = step ? find_step(step->kind) : nullptr;
    return description && description->seeded && description->draws(step->set);
}

bool fits(const Recipe& recipe, What what, const Address& at) {
    const auto place = place_at(recipe, at);
    switch (what) {
        case What::seed: return place && at.parameter == "seed" && (at.step.empty() || draws_lots(recipe, at));
        case What::one:
        case What::two: return place && at.parameter != "seed" && (is_number(recipe, at) || is_choice(recipe, at));
        case What::colours: return place && place->parameter.kind == Kind::stops;
        case What::blend: return recipe.index_of(at.strand) > 0;
        case What::presence: return recipe.strand(at.strand) != nullptr;
        case What::colourways:
        case What::toward: return true;
    }
    return false;
}

/// The first place that fits, of the same step if there is one, of the same strand, or anywhere.
std::optional<Address> nearest(const Recipe& recipe, What what, const Address& near, const Address& other) {
    std::optional<Address> best;
    int best_rank = 0;
    for (const Address& at : places(recipe)) {
        if (at == other || !fits(recipe, what, at)) continue;
        const bool plain = at.parameter.find('.') == std::string::npos && at.parameter != "on";
        const int rank = (at.strand == near.strand ? 4 : 0) + (at.strand == near.strand && at.step == near.step ? 8 : 0) +
                         (plain ? 2 : 0) + (is_number(recipe, at) ? 1 : 0);
        if (!best || rank > best_rank) best = at, best_rank = rank;
    }
    return best;
}

}  // namespace

Variant SheetAxes::variant(std::size_t index) const {
    if (index >= count()) return {};
    const std::size_t columns = std::max<std::size_t>(1, across.variants.size());
    Variant result = across.variants[index % columns];
    if (!down) return result;
    const Variant& second = down->variants[index / columns];
    result.label += ", " + second.label;
    for (const auto& [at, value] : second.set) result.set.insert_or_assign(at, value);
    return result;
}

int SheetAxes::present(const Recipe& recipe) const {
    const int first = present_variant(recipe, across);
    if (!down || first < 0) return first;
    const int second = present_variant(recipe, *down);
    return second < 0 ? -1 : second * static_cast<int>(across.variants.size()) + first;
}

SheetAxes axes_of(const Recipe& recipe, const Question& q) {
    const Address blend{q.across.strand, "", "blend"};
    switch (q.what) {
        case What::seed: return {seed_axis(recipe, q.across, q.columns * q.rows), {}};
        case What::one: return {axis_at(recipe, q.across, q.across_span, q.columns * q.rows), {}};
        case What::two:
            return {axis_at(recipe, q.across, q.across_span, q.columns), axis_at(recipe, q.down, q.down_span, q.rows)};
        case What::blend: return {choice_axis(recipe, blend), {}};
        case What::colours: return {ramp_axis(recipe, q.across), {}};
        case What::presence: return {presence_axis(recipe, q.across.strand), {}};
        case What::colourways: return {colourway_axis(recipe), {}};
        case What::toward: break;
    }
    return {};
}

Question suited(const Recipe& recipe, Question q, const Address& near) {
    if (!fits(recipe, q.what, q.across)) {
        const Address own{near.strand, near.step, "seed"}, all{"", "", "seed"};
        q.across =
            q.what == What::seed ? draws_lots(recipe, own) ? own : all : nearest(recipe, q.what, near, {}).value_or(q.across);
        q.across_span.reset();
    }
    if (q.what == What::two && (q.down == q.across || !fits(recipe, q.what, q.down))) {
        q.down = nearest(recipe, q.what, q.across, q.across).value_or(q.down);
        q.down_span.reset();
    }
    return q;
}

std::optional<Question> question_about(const Recipe& recipe, const Address& at) {
    Question q;
    q.across = at;
    if (at.parameter == "blend" && at.step.empty()) {
        // The first strand lies on nothing.
        if (!fits(recipe, What::blend, at)) return std::nullopt;
        q.what = What::blend;
    } else if (at.parameter == "on" && !at.step.empty()) {
        q.what = What::presence;
    } else if (fits(recipe, What::seed, at)) {
        q.what = What::seed;
    } else if (fits(recipe, What::one, at)) {
        q.what = What::one, q.columns = 3, q.rows = 3;
    } else if (fits(recipe, What::colours, at)) {
        q.what = What::colours;
    } else {
        return std::nullopt;
    }
    return q;
}

Recipe colourway_of(Recipe recipe, const std::string& name, const Variant& variant) {
    for (Colourway& each : recipe.colourways)
        for (const auto& [at, value] : variant.set)
            if (const auto present = value_at(recipe, at)) each.set.emplace(at, *present);
    std::vector<Address> also;
    for (const auto& [at, value] : variant.set) also.push_back(at);
    recipe.colourways = colourway_kept(varied(recipe, variant), name, also).colourways;
    return recipe;
}

}  // namespace loom
