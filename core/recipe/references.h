// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Which strands need which: borrowed strands, local masks, "keep within" and what lies beneath.
#pragma once

#include <string>
#include <vector>

#include "core/recipe/recipe.h"

namespace loom {

struct Reference {
    std::string from;     ///< strand that needs
    std::string to;       ///< strand that is needed
    std::string pointer;  ///< JSON pointer of the field that says so
};

/// All named references; empty names are left out, unknown ones are in.
std::vector<Reference> references(const Recipe& recipe);

/// Names of the strands and their steps that read from a strand, as people know them: "Grain (Displace)".
std::vector<std::string> readers_of(const Recipe& recipe, std::string_view strand);

/// Without what names something that is no longer there: masks and parameters that name a strand become empty, drives of dials
/// and values of colourways go. A file with such names would be refused when it is opened again.
Recipe without_loose_ends(Recipe recipe);

/// One strand's part in a chain that goes on from others'.
struct ChainLink {
    const Strand* owner;
    const Chain* chain;
};
/// The chains that run one after the other, the strand's own last.
std::vector<ChainLink> chain_links(const Recipe& recipe, const Strand& strand, ChainKind kind);

/// A ring of strands that need each other, named in order ("a needs b needs a"), or "" if there is none.
/// What lies beneath a strand counts as needing every strand left of it that is joined.
std::string circle(const Recipe& recipe, std::string* pointer = nullptr);

/// The strand whose coverage a "keep within" strand is cut by: the nearest to the left that is joined
/// and is not itself kept within; -1 if there is none.
int within_base(const Recipe& recipe, int index);

}  // namespace loom
