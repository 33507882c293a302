// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// "Height from": the three parameters' worth that steps have in common which ask how high a surface is.
#pragma once

#include "core/catalogue/describe.h"

namespace loom {

enum class HeightFrom { tone, height, strand };

/// The parameters "height" and "strand"; the settings have `from` and `strand`.
template <class Settings>
Describe<Settings>& describe_height_source(Describe<Settings>& describe) {
    return describe
        .choice("height", "Height from", &Settings::from, {{"tone", "Tone"}, {"height", "Height"}, {"strand", "Strand"}},
                "What is high: light tones, the height that came in, or another strand.")
        .strand("strand", "Strand", &Settings::strand, "The strand whose height or tone is read.", {"height", {"strand"}});
}
inline std::vector<std::string> height_source_reads(HeightFrom from) {
    return from == HeightFrom::tone ? std::vector<std::string>{} : std::vector<std::string>{std::string(height_plane)};
}
/// Null where there is nothing to read.
inline PlaneRef height_source(HeightFrom from, const StepContext& context) {
    const Bundle* source = from == HeightFrom::strand ? context.other("strand") : context.input;
    if (!source || source->empty()) return nullptr;
    const PlaneRef named = from == HeightFrom::tone ? nullptr : source->plane(height_plane);
    return named ? named : tone_of(*source, *context.job);
}

}  // namespace loom
