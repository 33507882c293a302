// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Builds a Plan. Private to core/render.
#pragma once

#include <algorithm>
#include <set>

#include "core/render/plan.h"
#include "core/structures/join.h"

namespace loom {

/// What is shared by all plans that become one.
struct Planning {
    const PictureReader* pictures;
    const Job* job;
    const std::string& name;  ///< of the outermost recipe
    int nodes = 0;            ///< planned so far, over all of them

    void spend(int more);
};

class Planner {
public:
    /// `depth` counts the recipes around this one, `enlarged` the plans that this one makes a larger picture for.
    Planner(const Recipe& recipe, Size size, const std::vector<Wanted>& wanted, Planning& planning, int depth = 0,
            int enlarged = 0);
    Plan finish() &&;

private:
    /// -1 stands for "nothing here", which is fully transparent.
    static constexpr int nothing = -1;

    /// A step, the strand it is made for, and whose chain it stands in.
    struct StepPlace {
        int strand;
        const Strand* owner;
        ChainKind kind;
        const Step& step;
    };

    int add(Node node);
    int empty_node();
    int strand_node(int strand);
    int cloth_node(int up_to);  ///< strands [0, up_to) joined
    int map_node(Map map);
    int routed_node(Map map, int up_to);  ///< what strands [0, up_to) feed into a map
    int fed_node(Map map, const Strand& strand, const std::string& word, int over);
    /// A strand lit by the bumps of what lies beneath it.
    int lifted(int strand, int over);
    int derived_node(Map map);  ///< from the height
    int body_node();            ///< the cloth as light that spreads within shows it
    int lit_node();
    /// `radius` in pixels; may have a smaller size.
    int soft_height_node(int height, double radius);
    int chain_node(int strand, ChainKind kind, int input);
    /// A strand's picture cut by its mask.
    int masked_node(int strand, int picture);
    /// What a mask shows, as grey.
    int shown_node(int mask);
    /// White everywhere: a mask that hides nothing.
    int white_node();
    /// `form`: what the edge steps before it began with, or `nothing`.
    int step_node(const StepPlace& at, const StepDescription& description, int input, int form);
    /// What stands before a step, made `times` as large by a plan of its own; `nothing` if it has no name to be asked by.
    int enlarged_input(const StepPlace& at, int times);
    /// What stands before a step, made on a tile so much smaller that all of it is `scale` % as large; `nothing` as above.
    int remade_input(const StepPlace& at, double scale);
    /// The step that stands before another, by whose name it can be asked for; nothing if there is none.
    std::optional<Wanted> before(const StepPlace& at) const;
    /// Where a step works, as grey: another strand's, held within its tone gate; `nothing` if it works everywhere.
    int where_node(int strand, const Step& step, int input);
    int gate_node(const ToneGate& gate, int source, int also, const std::string& label);
    int mix_node(int strand, const Step& step, int before, int after);
    int pixel_run(int strand, const std::vector<const Step*>& steps, int input);
    int masked(int strand, int picture, int mask);
    /// How a blend is made at this size; what it depends on besides goes into the key.
    Joining joining_of(Blend blend, double amount, double width, bool linear, const std::string& label, Node& node,
                       const StippleDots& dots = {}) const;
    Scales scales() const { return {plan_.size, recipe_.tile.size()}; }
    int joined(int under, int over, const Join& join, int within, const std::string& label);
    /// What strokes make one after the other, in nodes that stay in the cache while more strokes come; `nothing` if there are
    /// none.
    int carried_node(const Step& step, const StepDescription& description, int input, const std::string& label);
    /// How far a step looks that has strokes, or may have.
    Footprint stroked_footprint(const Step& step, const StepDescription& description) const;
    int picture_node(const std::string& name, const std::string& for_step);
    /// Null, with a warning, if it is not there.
    std::shared_ptr<const Asset> drawing(const std::string& name, const std::string& for_step);
    int recipe_node(const std::string& name, const Inner& inner, const std::string& for_step);
    /// Puts the nodes of another plan into this one; the place of its one output.
    int take_over(Plan&& inner);
    void collect_reads();
    int other_strand(const std::string& id, const std::string& for_step);
    bool wants_step(int strand, const Step& step) const;
    void remember(int strand, const Step& step, int node);
    void warn(std::string text);
    Key step_key(const Step& step, const StepDescription& description) const;
    std::uint64_t step_seed(const Step& step) const;
    const Strand& strand_at(int index) const { return *recipe_.strands[static_cast<std::size_t>(index)]; }
    Shape shape_of(int node) const {
        return node == nothing ? Shape{0, false} : plan_.nodes[static_cast<std::size_t>(node)].shape;
    }
    int named_of(int node) const { return node == nothing ? 0 : plan_.nodes[static_cast<std::size_t>(node)].named_planes; }
    /// Of a picture in which either may be seen.
    static Shape mixed_shape(Shape a, Shape b) { return {std::max(a.channels, b.channels), a.coverage || b.coverage}; }
    const Key& key_of(int node) const { return plan_.nodes[static_cast<std::size_t>(node)].key; }

    const Recipe& recipe_;
    Plan plan_;
    std::set<Wanted> wanted_;
    std::unordered_map<Key, int, KeyHash> known_;
    Planning& planning_;
    const PictureReader* pictures_;
    /// Recipes within this one, by their contents, size, colourway, dials and map: each is planned once.
    std::unordered_map<Key, int, KeyHash> inner_;
    int depth_;
    int enlarged_;
    /// Named planes that some step, route or wanted map of this recipe reads; others are not made.
    std::set<std::string, std::less<>> reads_;
    std::map<int, int> strands_, cloths_;
    std::set<int> open_strands_;  ///< being built: meeting one again is a circle
};

}  // namespace loom
