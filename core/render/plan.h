// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A recipe as a graph. Every node has a key made of what it does, its inputs' keys and the size, so equal
// work is one node and a result can be found again in the cache. Nodes stand after their inputs.
#pragma once

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

#include "core/base/hash.h"
#include "core/base/job.h"
#include "core/catalogue/description.h"
#include "core/image/picture_reader.h"
#include "core/recipe/recipe.h"

namespace loom {

using NodeInputs = std::vector<const Bundle*>;

/// What a node is asked for: rows of its picture, all of them unless its footprint allows bands.
struct Piece {
    Rows rows;
    Prepared* prepared;  ///< kept from piece to piece; null where there is one
    Shared* shared;      ///< by all nodes of a rendering
    const Job& job;
};

struct Node {
    Key key;
    std::vector<int> inputs;
    /// What a piece needs of each input, which then holds those rows; all of those with another size.
    Footprint footprint = Footprint::pixel();
    Size size;
    Shape shape;
    int named_planes = 0;  ///< height and object planes that come with it
    double scratch_planes = 0;
    int shared_planes = 0;  ///< of its result that are an input's, handed on without a copy
    double cost = 1;        ///< share of the progress
    std::string label;      ///< for messages and timing: "strand/step"
    std::function<Bundle(const NodeInputs& inputs, const Piece&)> run;

    /// Of a row of its picture.
    std::size_t row_bytes() const;
    std::size_t bytes() const { return row_bytes() * static_cast<std::size_t>(size.height); }
    /// While it runs: what it makes and what it needs for that.
    std::size_t working_bytes() const;
};

/// What to render of a recipe.
struct Wanted {
    enum class What {
        cloth,   ///< the joined strands
        strand,  ///< one strand's result
        step,    ///< what one step hands on, before the chains after it
        map,     ///< a material map; that of the colour is the cloth
        picture, ///< what stands for the recipe: its cloth, or its lit map where it says so
        body,    ///< the cloth's colour as light that spreads within shows it
    };
    What what = What::cloth;
    std::string strand, step;
    Map map = Map::height;
    bool operator==(const Wanted&) const = default;
    auto operator<=>(const Wanted&) const = default;
};

struct Plan {
    Size size;
    std::vector<Node> nodes;
    std::map<Wanted, int> outputs;      ///< node of each thing wanted
    std::vector<std::string> warnings;  ///< what was passed over, one sentence each

    /// Bytes that are alive at the worst moment if every result is made whole, one after the other, and nothing is cached.
    std::size_t peak_bytes() const;
    /// For each node, the last node that reads it (or one past the end for outputs).
    std::vector<std::size_t> last_uses() const;
};

/// The recipe's references must be sound (no unknown strands, no circle): read_recipe checks that, and
/// edits in the window are checked before they are applied. Unsound ones render as nothing, with a warning.
/// `pictures` reads what steps keep as files; without it they are passed over with a warning.
/// Throws Refusal where recipes within recipes come to more than most_planned nodes, and Cancelled once `job` is cancelled:
/// what calls it is guarded, and is no interface thread, as a plan may take seconds.
Plan make_plan(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, const PictureReader* pictures = nullptr,
               const Job* job = nullptr);
constexpr int most_planned = 100000;

/// The size in pixels of a rendering whose longer side is `longest`.
Size size_for(const Tile& tile, int longest);

}  // namespace loom
