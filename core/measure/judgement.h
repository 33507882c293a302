// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What the measures mean: where each is good, a sentence for what it says, and what may help. Said once for the window and the
// command line.
#pragma once

#include <array>
#include <string>
#include <string_view>
#include <vector>

#include "core/measure/measure.h"
#include "core/measure/remedies.h"

namespace loom {

enum class MeasureKind { across, down, standout, evenness, spark, kinship, play };

struct MeasureInfo {
    MeasureKind kind;
    std::string_view id, title;
    double least, most;           ///< ends of its scale; what lies beyond is shown at the end
    double low, high;             ///< between which it is good
    double bad_below, bad_above;  ///< beyond which it will be seen; between is "some"
    int digits;                   ///< after the point
};

enum class Verdict { good, some, poor };

constexpr double none_below = -1, none_above = 1e9;
constexpr MeasureInfo measure_table[] = {
    {MeasureKind::across, "seam-across", "Seam across", 0, 2, 0, seam_good, none_below, seam_visible, 2},
    {MeasureKind::down, "seam-down", "Seam down", 0, 2, 0, seam_good, none_below, seam_visible, 2},
    {MeasureKind::standout, "standout", "Standout", 0, 12, 0, standout_low, none_below, standout_high, 1},
    {MeasureKind::evenness, "evenness", "Evenness", 0, 1, 0.9, 1, 0.8, none_above, 2},
    // Never more than "some": bare metal and white paper leave the range of other surfaces.
    {MeasureKind::spark, "spark", "Spark", 2, 8, real_spark.low, real_spark.high, none_below, none_above, 1},
    {MeasureKind::kinship, "kinship", "Kinship", 0, 1, real_kinship.low, real_kinship.high, none_below, none_above, 2},
    {MeasureKind::play, "play", "Play", 0, 2, real_play.low, real_play.high, none_below, none_above, 2},
};
constexpr const MeasureInfo& measure_info(MeasureKind kind) { return measure_table[static_cast<std::size_t>(kind)]; }

double value_of(const Measures& measures, MeasureKind kind);
Verdict verdict_of(double value, const MeasureInfo& info);
/// One sentence that says what is seen.
std::string_view sentence_of(double value, MeasureKind kind);
/// What may bring it nearer to where it is good; nothing where it is.
std::vector<Remedy> remedies_of(double value, MeasureKind kind);

/// All of that, and of a seam without a line whether a band is left along it.
struct Judgement {
    double value = 0;
    Verdict verdict = Verdict::good;
    std::string_view sentence;
    std::vector<Remedy> remedies;
};
Judgement judgement_of(const Measures& measures, MeasureKind kind);

}  // namespace loom
