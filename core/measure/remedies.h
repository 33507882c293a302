// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What helps against a seam, a blob, a grid, or a surface that looks computed: ordinary steps, chosen by trying several on small
// pictures and measuring.
#pragma once

#include <optional>
#include <string_view>

#include "core/measure/measure.h"
#include "core/render/render.h"

namespace loom {

enum class Remedy {
    close_seams,      ///< after the step that opens the seam, or over the whole cloth
    even_out,         ///< large light and dark is taken out of the cloth
    soften_standout,  ///< the same, only around the place that stands out
    move_standout,    ///< the strand that makes the place is shifted, so that it no longer meets what makes it strong
    other_seed,       ///< that strand is made from another seed
    vary_strength,    ///< slow clouds decide where a strand is strong
    one_cause,        ///< a strand is strong where another one is
    second_colour,    ///< a cloud of its own turns hues and leaves tone alone
};

struct RemedyInfo {
    Remedy remedy;
    std::string_view id, title, help;
};
constexpr RemedyInfo remedy_table[] = {
    {Remedy::close_seams, "close-seams", "Close seams", "Puts the step Close seams after the one that opens the seam."},
    {Remedy::even_out, "even-out", "Even out", "Takes large light and dark out of the cloth, in a strand on top."},
    {Remedy::soften_standout, "soften", "Soften it", "Evens out the place that stands out, under a soft mask made by hand."},
    {Remedy::move_standout, "move", "Move it", "Shifts the strand that makes it, so that it meets other things."},
    {Remedy::other_seed, "other-seed", "Other seed", "Makes the strand that causes it from another seed."},
    {Remedy::vary_strength, "vary-strength", "Vary strength by clouds", "Slow clouds decide where one strand is strong."},
    {Remedy::one_cause, "one-cause", "One cause for both", "Lets one strand be strong where another one is."},
    {Remedy::second_colour, "second-colour", "Lay a second colour cause over it",
     "A cloud of its own turns hues and leaves tone alone."},
};
constexpr const RemedyInfo& remedy_info(Remedy remedy) { return remedy_table[static_cast<std::size_t>(remedy)]; }
constexpr std::optional<Remedy> find_remedy(std::string_view id) {
    for (const RemedyInfo& info : remedy_table)
        if (info.id == id) return info.remedy;
    return std::nullopt;
}

/// The recipe with the remedy that measured best of those tried, or a sentence why none of them helps. Fails with
/// Fault::cancelled once the job is.
Result<Recipe> remedied(const Recipe& recipe, Remedy remedy, const RenderOptions& options, const Job& job);

}  // namespace loom
