// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/toward.h"

#include <nlopt.h>

#include <algorithm>
#include <cmath>
#include <memory>

#include "core/recipe/edits.h"

namespace loom {

namespace {

constexpr std::size_t most_knobs = 8;
constexpr int shares = 32;  ///< at which lightness is compared

double spread_distance(const ColourSpread& a, const ColourSpread& b) {
    double lightness = 0;
    for (int k = 0; k < shares; ++k) {
        const double share = (k + 0.5) / shares;
        lightness += std::abs(a.lightness.tone_above(share) - b.lightness.tone_above(share)) / shares;
    }
    const double mean = std::hypot(a.mean_a - b.mean_a, a.mean_b - b.mean_b);
    const double spread = std::hypot(std::sqrt(a.aa) - std::sqrt(b.aa), std::sqrt(a.bb) - std::sqrt(b.bb));
    return lightness + 2 * mean + 2 * spread;
}

double band_distance(const Bands& a, const Bands& b) {
    // What lies below a hundredth of a tone is not seen.
    constexpr double least = 4e-4;
    double octaves = 0;
    for (std::size_t k = 0; k < band_count; ++k)
        octaves += std::abs(std::log2((a.deviation[k] + least) / (b.deviation[k] + least))) / band_count;
    return 0.1 * octaves;
}

Size brought_to(Size own, int longest) {
    const double shrink = std::min(1.0, static_cast<double>(longest) / std::max({own.width, own.height, 1}));
    return {std::max(1, static_cast<int>(std::lround(own.width * shrink))),
            std::max(1, static_cast<int>(std::lround(own.height * shrink)))};
}

/// The best so far, none close to another.
class Board {
public:
    Board(const std::vector<Knob>& knobs, int most) : knobs_(knobs), most_(static_cast<std::size_t>(most)) {}
    /// Whether it came onto the board.
    bool note(const Found& found) {
        for (Found& each : all_) {
            if (!alike(each, found)) continue;
            if (found.away >= each.away) return false;
            each = found;
            sort();
            return true;
        }
        if (all_.size() == most_ && found.away >= all_.back().away) return false;
        all_.push_back(found);
        sort();
        if (all_.size() > most_) all_.pop_back();
        return true;
    }
    const std::vector<Found>& all() const { return all_; }

private:
    bool alike(const Found& a, const Found& b) const {
        double most = 0;
        for (std::size_t k = 0; k < knobs_.size(); ++k)
            most = std::max(most, std::abs(a.values[k] - b.values[k]) / std::max(1e-9, knobs_[k].high - knobs_[k].low));
        return most < 0.06;
    }
    void sort() {
        std::stable_sort(all_.begin(), all_.end(), [](const Found& a, const Found& b) { return a.away < b.away; });
    }
    const std::vector<Knob>& knobs_;
    std::size_t most_;
    std::vector<Found> all_;
};

struct Search {
    const Recipe& recipe;
    const SearchPlan& plan;
    const Goal& goal;
    const RenderOptions& options;
    const Job& job;
    const std::function<void(const std::vector<Found>&, int)>& better;
    Board board;
    nlopt_opt optimiser = nullptr;
    int tried = 0;
    std::optional<Error> failed = {};
};

/// Through C code no exception may pass.
double tried_at(unsigned count, const double* x, double*, void* data) {
    Search& search = *static_cast<Search*>(data);
    constexpr double worst = 1e6;
    try {
        const std::vector<double> values(x, x + count);
        const Recipe recipe = turned(search.recipe, search.plan.knobs, values);
        const int longest = std::max(search.goal.size.width, search.goal.size.height);
        const auto picture = render_picture(recipe, size_for(recipe.tile, longest), search.options, search.job);
        if (!picture) {
            search.failed = picture.error();
            nlopt_force_stop(search.optimiser);
            return worst;
        }
        const double away = unlikeness(*picture, search.goal, search.job);
        ++search.tried;
        if (search.board.note({values, away}) || search.tried % 10 == 0) search.better(search.board.all(), search.tried);
        return away;
    } catch (const Cancelled&) {
        search.failed = Error{Fault::cancelled, "cancelled"};
    } catch (const std::exception& error) {
        search.failed = Error{Fault::memory, std::string("searching: ") + error.what()};
    }
    nlopt_force_stop(search.optimiser);
    return worst;
}

}  // namespace

Goal goal_of(const Bundle& picture, int longest, const Job& job) {
    Goal goal;
    goal.size = brought_to(picture.size(), longest);
    const Bundle small = goal.size == picture.size() ? picture : resized(picture, goal.size, job);
    goal.spread = spread_of(small, job);
    goal.bands = bands_of(small, job);
    return goal;
}

double unlikeness(const Bundle& picture, const Goal& goal, const Job& job) {
    const ColourSpread spread = spread_of(picture, job);
    if (spread.nothing || goal.spread.nothing) return spread.nothing == goal.spread.nothing ? 0 : 1;
    return spread_distance(spread, goal.spread) + band_distance(bands_of(picture, job), goal.bands);
}

Recipe turned(Recipe recipe, const std::vector<Knob>& knobs, const std::vector<double>& values) {
    for (std::size_t k = 0; k < knobs.size(); ++k) {
        const double value = std::clamp(values[k], knobs[k].low, knobs[k].high);
        if (!knobs[k].dial.empty()) {
            recipe = with_dial(std::move(recipe), knobs[k].dial, std::round(value * 10) / 10);
            continue;
        }
        const auto place = place_at(recipe, knobs[k].at);
        if (!place) continue;
        const Value wanted(place->parameter.kind == Kind::count ? std::round(value) : value);
        if (!refuses(recipe, knobs[k].at, wanted)) recipe = with_value(std::move(recipe), knobs[k].at, wanted);
    }
    return recipe;
}

std::vector<double> present_values(const Recipe& recipe, const std::vector<Knob>& knobs) {
    std::vector<double> values;
    for (const Knob& knob : knobs) {
        double value = knob.low;
        for (const Dial& dial : recipe.dials)
            if (dial.name == knob.dial) value = dial.value;
        if (knob.dial.empty())
            if (const auto at = value_at(recipe, knob.at); at && as_if<double>(*at)) value = as<double>(*at);
        values.push_back(std::clamp(value, knob.low, knob.high));
    }
    return values;
}

Result<std::vector<Found>> search_toward(const Recipe& recipe, const SearchPlan& plan, const Goal& goal,
                                         const RenderOptions& options, const Job& job,
                                         const std::function<void(const std::vector<Found>&, int tried)>& better) {
    if (plan.knobs.empty() || plan.knobs.size() > most_knobs)
        return Error{Fault::call, "choose one to eight dials or values that may be changed"};
    for (const Knob& knob : plan.knobs)
        if (!(knob.low < knob.high)) return Error{Fault::call, "a dial or value that may be changed has no range"};
    const auto count = static_cast<unsigned>(plan.knobs.size());
    Search search{recipe, plan, goal, options, job, better, Board(plan.knobs, plan.best)};
    const std::unique_ptr<nlopt_opt_s, void (*)(nlopt_opt)> optimiser(nlopt_create(NLOPT_GN_CRS2_LM, count), nlopt_destroy);
    search.optimiser = optimiser.get();
    nlopt_srand(plan.seed);
    std::vector<double> low, high, at = present_values(recipe, plan.knobs);
    for (const Knob& knob : plan.knobs) low.push_back(knob.low), high.push_back(knob.high);
    nlopt_set_lower_bounds(optimiser.get(), low.data());
    nlopt_set_upper_bounds(optimiser.get(), high.data());
    nlopt_set_min_objective(optimiser.get(), tried_at, &search);
    nlopt_set_maxeval(optimiser.get(), plan.tries);
    double away = 0;
    nlopt_optimize(optimiser.get(), at.data(), &away);
    if (search.failed) return *search.failed;
    better(search.board.all(), search.tried);
    return search.board.all();
}

}  // namespace loom
