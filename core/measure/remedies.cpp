// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/remedies.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/base/guard.h"
#include "core/catalogue/kinds/strokes.h"
#include "core/recipe/edits.h"
#include "core/recipe/places.h"
#include "core/recipe/references.h"
#include "core/recipe/several.h"

namespace loom {

namespace {

/// Pixels at which tiling is tried, and at which life is measured.
constexpr int tiling_size = 256, life_size = 512;

struct Candidate {
    Recipe recipe;
    double score;  ///< less is better
};

/// Tries recipes one by one and keeps the best.
class Trial {
public:
    using Score = std::function<double(const Measures&)>;
    Trial(int longest, const RenderOptions& options, const Job& job, Score score)
        : longest_(longest), options_(options), job_(job), score_(std::move(score)) {}

    double of(const Recipe& recipe) {
        job_.check();
        const auto picture = render_cloth(recipe, size_for(recipe.tile, longest_), options_, job_);
        if (!picture) {
            if (picture.error().fault == Fault::cancelled) throw Cancelled{};
            return HUGE_VAL;
        }
        return score_(measure(*picture, job_));
    }
    void add(Recipe recipe) {
        const double score = of(recipe);
        if (!best_ || score < best_->score) best_ = Candidate{std::move(recipe), score};
    }
    const std::optional<Candidate>& best() const { return best_; }
    /// The best one if it is better than what there is by a hundredth of it.
    Result<Recipe> better_than(double present, const char* why_not) const {
        if (best_ && best_->score < present - 0.01 * std::abs(present)) return best_->recipe;
        return Error{Fault::call, why_not};
    }

private:
    int longest_;
    const RenderOptions& options_;
    const Job& job_;
    Score score_;
    std::optional<Candidate> best_;
};

Step step_of(const char* kind, const char* id, Values set = {}, std::uint32_t seed = 0) {
    Step step;
    step.kind = kind, step.id = id, step.set = std::move(set), step.seed = seed;
    return step;
}

/// A strand on top that works the cloth.
Recipe with_top(Recipe recipe, const std::string& name, std::vector<Step> steps, Chain mask = {}, Join join = {}) {
    Strand strand;
    strand.id = new_strand_id(recipe, file_word(name)), strand.name = name, strand.join = join;
    for (Step& step : steps) strand.steps.push_back(std::move(step));
    strand.mask = std::move(mask);
    const int end = static_cast<int>(recipe.strands.size());
    return strand_added(std::move(recipe), std::move(strand), end);
}

Recipe with_strand(Recipe recipe, const Strand& strand) {
    recipe.strands[static_cast<std::size_t>(recipe.index_of(strand.id))] = std::make_shared<const Strand>(strand);
    return recipe;
}

Result<Recipe> closed(const Recipe& recipe, const RenderOptions& options, const Job& job) {
    // A band counts as a line that is as easily seen.
    const auto seams = [](const Measures& m) {
        return std::max({m.across.ratio, m.down.ratio, m.across.band * seam_visible / band_visible,
                         m.down.band * seam_visible / band_visible});
    };
    Trial trial(tiling_size, options, job, seams);
    const double present = trial.of(recipe);
    // What draws the seam itself is better drawn otherwise than covered, whether it is covered already or not.
    for (const StrandRef& strand : recipe.strands)
        for (const Step& step : strand->steps) {
            const StepDescription* description = strand->on && step.on ? find_step(step.kind) : nullptr;
            const Values closing = description && description->closing ? description->closing(step.set) : Values();
            if (closing.empty()) continue;
            Recipe next = recipe;
            for (const auto& [id, value] : closing) next = with_value(std::move(next), {strand->id, step.id, id}, value);
            for (const Step& cover : strand->steps)
                if (cover.kind == "closeseams" && cover.on) next = steps_removed(next, {{strand->id, cover.id}});
            if (trial.of(next) <= std::min(seam_visible, present)) return next;
        }
    // Step by step: after the one that opens it, if that is the whole story.
    for (const StrandRef& strand : recipe.strands) {
        if (!strand->on) continue;
        for (std::size_t k = 0; k < strand->steps.size(); ++k) {
            const Step& step = strand->steps[k];
            if (!step.on) continue;
            const Wanted wanted{Wanted::What::step, strand->id, step.id, Map::height};
            const auto picture = render(recipe, size_for(recipe.tile, tiling_size), {wanted}, options, job);
            if (!picture || picture->results.empty()) continue;
            const Bundle& made = picture->results.begin()->second;
            if (std::max(seam_across(made, job).ratio, seam_down(made, job).ratio) <= seam_visible) continue;
            Recipe next =
                step_added(recipe, {strand->id, ChainKind::steps, static_cast<int>(k) + 1}, step_of("closeseams", "closed"));
            const double score = trial.of(next);
            if (score <= seam_visible) return next;
            break;
        }
    }
    trial.add(with_top(recipe, "Closed seams", {step_of("beneath", "s1"), step_of("closeseams", "s2")}));
    return trial.better_than(present, "closing the seams of the whole cloth does not make them fainter");
}

Result<Recipe> evened(const Recipe& recipe, const RenderOptions& options, const Job& job) {
    Trial trial(tiling_size, options, job, [](const Measures& m) { return 1 - m.evenness; });
    const double present = trial.of(recipe);
    for (double strength : {60.0, 80.0, 95.0}) {
        trial.add(with_top(recipe, "Evened",
                           {step_of("beneath", "s1"), step_of("evenout", "s2", {{"strength", strength}, {"size", 16.0}})}));
        // As little as is enough.
        if (trial.best()->score < 0.1) break;
    }
    return trial.better_than(present, "evening out the cloth does not make it more even");
}

double standout(const Measures& m) { return m.standout.score; }

Result<Recipe> softened(const Recipe& recipe, const RenderOptions& options, const Job& job) {
    const auto picture = render_cloth(recipe, size_for(recipe.tile, tiling_size), options, job);
    if (!picture) return picture.error();
    const Standout spot = measure(*picture, job).standout;
    Trial trial(tiling_size, options, job, standout);
    const int least_side = std::min(recipe.tile.width, recipe.tile.height);
    for (double share : {0.25, 0.35, 0.5}) {
        Stroke dab;
        dab.tool = "show", dab.size = std::clamp(share * least_side, least_brush, greatest_brush), dab.strength = 100,
        dab.softness = 90;
        StrokePoint point;
        point.x = static_cast<int>(spot.x * recipe.tile.width * StrokePoint::per_px);
        point.y = static_cast<int>(spot.y * recipe.tile.height * StrokePoint::per_px);
        dab.points = {point};
        Chain mask;
        mask.push_back(step_of("paint", "s3", {{"begins", std::string("hidden")}, {"strokes", Strokes().appended(dab)}}));
        trial.add(with_top(recipe, "Calmed",
                           {step_of("beneath", "s1"), step_of("evenout", "s2", {{"strength", 90.0}, {"size", 5.0}})}, mask));
    }
    return trial.better_than(spot.score, "softening the place does not make it stand out less");
}

/// The strand without which the cloth has least that stands out; "" if none has a part in it.
std::string culprit(const Recipe& recipe, Trial& trial, double present) {
    std::string worst;
    double least = present * 0.97;
    for (const StrandRef& strand : recipe.strands) {
        if (!strand->on || strand->steps.empty()) continue;
        const double without = trial.of(strand_switched(recipe, strand->id, false));
        if (without < least) least = without, worst = strand->id;
    }
    return worst;
}

Result<Recipe> moved(const Recipe& recipe, const RenderOptions& options, const Job& job) {
    Trial trial(tiling_size, options, job, standout);
    const double present = trial.of(recipe);
    const std::string strand = culprit(recipe, trial, present);
    if (strand.empty()) return Error{Fault::call, "no single strand makes the place that stands out"};
    const int end = static_cast<int>(recipe.strand(strand)->steps.size());
    for (const auto& [across, down] : {std::pair{37.0, 23.0}, {50.0, 50.0}, {18.0, 61.0}, {71.0, 35.0}, {29.0, 84.0}})
        trial.add(
            step_added(recipe, {strand, ChainKind::steps, end}, step_of("shift", "moved", {{"across", across}, {"down", down}})));
    return trial.better_than(present, "wherever the strand is moved, something stands out as much");
}

Result<Recipe> reseeded(const Recipe& recipe, const RenderOptions& options, const Job& job) {
    Trial trial(tiling_size, options, job, standout);
    const double present = trial.of(recipe);
    const std::string strand = culprit(recipe, trial, present);
    constexpr std::uint32_t tried = 12;
    for (std::uint32_t k = 1; k <= tried; ++k) {
        if (strand.empty()) {
            trial.add(with_seed(recipe, recipe.seed + k));
            continue;
        }
        // Everything random in the strand changes together.
        Strand other = *recipe.strand(strand);
        Chain steps;
        for (Step step : other.steps) step.seed += k, steps.push_back(std::move(step));
        other.steps = std::move(steps);
        trial.add(with_strand(recipe, other));
    }
    return trial.better_than(present, "none of twelve other seeds stands out less");
}

/// How far a number is below where real surfaces begin.
double shortfall(double value, double low) { return std::max(0.0, low - value); }

/// The steps of a mask go after those that it has.
Recipe masked(const Recipe& recipe, const Strand& strand, std::vector<Step> mask) {
    Strand other = strand;
    for (Step& step : mask) {
        step.id = new_step_id(other);
        other.mask.push_back(std::move(step));
    }
    return with_strand(recipe, other);
}

double distance_from_life(const Measures& m) {
    return shortfall(m.life.spark, real_spark.low) / real_spark.low +
           shortfall(m.life.kinship, real_kinship.low) / real_kinship.low;
}

Result<Recipe> varied(const Recipe& recipe, const RenderOptions& options, const Job& job) {
    Trial trial(life_size, options, job, distance_from_life);
    const double present = trial.of(recipe);
    for (std::size_t k = 1; k < recipe.strands.size(); ++k) {
        const Strand& strand = *recipe.strands[k];
        if (!strand.on || strand.steps.empty() || !strand.mask.empty()) continue;
        const double size = std::max(recipe.tile.width, recipe.tile.height) / 5.0;
        trial.add(masked(recipe, strand,
                         {step_of("clouds", "", {{"size-x", size}, {"size-y", size}, {"octaves", 3.0}}, recipe.seed + 77),
                          step_of("levels", "", {{"in-black", 0.35}, {"in-white", 0.65}, {"out-black", 0.15}})}));
    }
    return trial.better_than(present, "whichever strand is varied, the surface does not come nearer to a real one");
}

Result<Recipe> of_one_cause(const Recipe& recipe, const RenderOptions& options, const Job& job) {
    Trial trial(life_size, options, job, distance_from_life);
    const double present = trial.of(recipe);
    for (std::size_t k = 1; k < recipe.strands.size(); ++k) {
        const Strand& strand = *recipe.strands[k];
        if (!strand.on || strand.steps.empty() || !strand.mask.empty()) continue;
        // The strands before it cannot depend on it more than they do now; those that do are left out.
        for (std::size_t cause = k >= 3 ? k - 3 : 0; cause < k; ++cause) {
            if (!recipe.strands[cause]->on || recipe.strands[cause]->steps.empty()) continue;
            Recipe next = masked(
                recipe, strand,
                {step_of("borrow", "", {{"strand", recipe.strands[cause]->id}, {"output", std::string("tone")}}),
                 step_of("autorange", ""), step_of("levels", "", {{"in-black", 0.25}, {"in-white", 0.75}, {"out-black", 0.15}})});
            if (circle(next).empty()) trial.add(std::move(next));
        }
    }
    return trial.better_than(present, "whichever strand follows another, the surface does not come nearer to a real one");
}

/// The colour turned by so many degrees, with at least some chroma.
Colour turned(Colour colour, double degrees) {
    Lch lch = to_lch(to_oklab(colour));
    lch.hue += static_cast<float>(degrees * 3.14159265 / 180), lch.chroma = std::max(lch.chroma, 0.04f);
    // As files hold it.
    return *parse_colour(write_colour(from_oklab(from_lch(lch))));
}

Result<Recipe> coloured(const Recipe& recipe, const RenderOptions& options, const Job& job) {
    const auto picture = render_cloth(recipe, size_for(recipe.tile, life_size), options, job);
    if (!picture) return picture.error();
    const Measures now = measure(*picture, job);
    Trial trial(life_size, options, job, [](const Measures& m) {
        return shortfall(m.life.play, real_play.low + 0.1) + std::max(0.0, m.life.play - real_play.high);
    });
    const double size = std::max(recipe.tile.width, recipe.tile.height) / 3.0;
    for (double amount : {15.0, 30.0, 50.0, 75.0}) {
        const Stops stops{{0.0, turned(now.mean, -38)}, {0.5, turned(now.mean, 0)}, {1.0, turned(now.mean, 38)}};
        Join join;
        join.blend = Blend::oklch_colour, join.amount = amount;
        trial.add(with_top(recipe, "Second colour",
                           {step_of("clouds", "s1", {{"size-x", size}, {"size-y", size}, {"octaves", 4.0}, {"contrast", 160.0}},
                                    recipe.seed + 91),
                            step_of("gradientmap", "s2", {{"stops", Value(stops)}})},
                           {}, join));
        if (trial.best()->score == 0) break;
    }
    return trial.better_than(shortfall(now.life.play, real_play.low + 0.1), "a second colour does not bring more play");
}

}  // namespace

Result<Recipe> remedied(const Recipe& recipe, Remedy remedy, const RenderOptions& options, const Job& job) {
    return guarded("finding a remedy", [&]() -> Result<Recipe> {
        switch (remedy) {
            case Remedy::close_seams: return closed(recipe, options, job);
            case Remedy::even_out: return evened(recipe, options, job);
            case Remedy::soften_standout: return softened(recipe, options, job);
            case Remedy::move_standout: return moved(recipe, options, job);
            case Remedy::other_seed: return reseeded(recipe, options, job);
            case Remedy::vary_strength: return varied(recipe, options, job);
            case Remedy::one_cause: return of_one_cause(recipe, options, job);
            case Remedy::second_colour: return coloured(recipe, options, job);
        }
        return recipe;
    });
}

}  // namespace loom
