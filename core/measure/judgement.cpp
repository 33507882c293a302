// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/judgement.h"

namespace loom {

double value_of(const Measures& measures, MeasureKind kind) {
    switch (kind) {
        case MeasureKind::across: return measures.across.ratio;
        case MeasureKind::down: return measures.down.ratio;
        case MeasureKind::standout: return measures.standout.score;
        case MeasureKind::evenness: return measures.evenness;
        case MeasureKind::spark: return measures.life.spark;
        case MeasureKind::kinship: return measures.life.kinship;
        case MeasureKind::play: return measures.life.play;
    }
    return 0;
}

Verdict verdict_of(double value, const MeasureInfo& info) {
    if (value >= info.low && value <= info.high) return Verdict::good;
    return value < info.bad_below || value > info.bad_above ? Verdict::poor : Verdict::some;
}

std::string_view sentence_of(double value, MeasureKind kind) {
    const MeasureInfo& info = measure_info(kind);
    const Verdict verdict = verdict_of(value, info);
    const bool good = verdict == Verdict::good, low = value < info.low;
    switch (kind) {
        case MeasureKind::across:
        case MeasureKind::down:
            return good                       ? "No line shows."
                   : verdict == Verdict::some ? "A line may show to somebody who looks for it."
                                              : "A line shows where the tiles meet.";
        case MeasureKind::standout:
            return good                       ? "No place is found again in every repeat."
                   : verdict == Verdict::some ? "One place is found again in each repeat."
                                              : "One place stands out and makes a pattern.";
        case MeasureKind::evenness:
            return good                       ? "No large light or dark shows as a grid."
                   : verdict == Verdict::some ? "Light and dark parts begin to show as a grid."
                                              : "Light and dark parts show as a grid.";
        case MeasureKind::spark:
            return good  ? "Few strong details among many faint ones: as real."
                   : low ? "Details are all of a strength, as in static."
                         : "A few details shout; most real surfaces are calmer.";
        case MeasureKind::kinship:
            return good  ? "Fine detail sits where coarse detail is: as real."
                   : low ? "Fine detail does not follow coarse: layers of unrelated noise."
                         : "Fine and coarse detail are nearly one.";
        case MeasureKind::play:
            return good  ? "Colour that is more than tone: as real."
                   : low ? "Colour is nearly all tone."
                         : "Colours wander more than on most real surfaces.";
    }
    return {};
}

std::vector<Remedy> remedies_of(double value, MeasureKind kind) {
    const MeasureInfo& info = measure_info(kind);
    if (verdict_of(value, info) == Verdict::good) return {};
    switch (kind) {
        case MeasureKind::across:
        case MeasureKind::down: return {Remedy::close_seams};
        case MeasureKind::standout: return {Remedy::soften_standout, Remedy::move_standout, Remedy::other_seed};
        case MeasureKind::evenness: return {Remedy::even_out};
        case MeasureKind::spark: return value < info.low ? std::vector{Remedy::vary_strength} : std::vector<Remedy>{};
        case MeasureKind::kinship:
            return value < info.low ? std::vector{Remedy::vary_strength, Remedy::one_cause} : std::vector<Remedy>{};
        case MeasureKind::play: return value < info.low ? std::vector{Remedy::second_colour} : std::vector<Remedy>{};
    }
    return {};
}

Judgement judgement_of(const Measures& measures, MeasureKind kind) {
    const double value = value_of(measures, kind);
    Judgement all{value, verdict_of(value, measure_info(kind)), sentence_of(value, kind), remedies_of(value, kind)};
    const bool seam = kind == MeasureKind::across || kind == MeasureKind::down;
    if (!seam || all.verdict != Verdict::good ||
        (kind == MeasureKind::across ? measures.across : measures.down).band <= band_visible)
        return all;
    all.verdict = Verdict::some;
    all.sentence = "No line shows, but a band does: along the edge the tone comes back in a short way.";
    all.remedies = {Remedy::close_seams};
    return all;
}

}  // namespace loom
