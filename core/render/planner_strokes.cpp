// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What strokes of the hand make, one after the other, as nodes: a stroke more makes one of them again.
#include "core/render/planner.h"

namespace loom {

namespace {

/// Pixels of a picture that somebody may still draw on. In larger ones, which are written rather than looked at, what stays in
/// the cache for the next stroke would be most of what they take.
constexpr std::size_t drawn_on = std::size_t{4096} * 4096;

}  // namespace

Footprint Planner::stroked_footprint(const Step& step, const StepDescription& description) const {
    const Footprint anywhere = description.footprint(step.set, scales());
    if (!description.carried_footprint || plan_.size.pixels() <= drawn_on) return anywhere;
    const auto& strokes = as<Strokes>(value_or_default(*description.parameter_of(Kind::strokes), step.set));
    // Looking takes as long as making them, which is next to nothing beside pictures of that size.
    constexpr std::size_t most = 256;
    if (strokes.empty() || strokes.size() > most) return anywhere;
    const Job job;
    StepContext context;
    context.size = plan_.size, context.tile = recipe_.tile.size(), context.seed = step_seed(step), context.job = &job;
    return description.carried_footprint(step.set, description.carry(step.set, context, 0, strokes.size()), scales());
}

int Planner::carried_node(const Step& step, const StepDescription& description, int input, const std::string& label) {
    const Parameter& p = *description.parameter_of(Kind::strokes);
    const auto& strokes = as<Strokes>(value_or_default(p, step.set));
    // A place to go on from after each so many strokes; nearer ones only since the last of those. While a stroke is drawn, all
    // before it is there.
    constexpr std::size_t far = 512, near = 64;
    const std::size_t count = strokes.size();
    if (count == 0) return nothing;
    const std::size_t last = count - 1;
    std::vector<std::size_t> marks;
    for (std::size_t at = far; at < last; at += far) marks.push_back(at);
    for (std::size_t at = last / far * far + near; at < last; at += near) marks.push_back(at);
    if (last > 0 && (marks.empty() || marks.back() != last)) marks.push_back(last);
    marks.push_back(count);
    const bool own_size = static_cast<bool>(description.carried_size);
    if (!own_size && plan_.size.pixels() > drawn_on) {
        if (description.footprint(step.set, scales()).by_bands()) return nothing;
        marks.clear();
        marks.push_back(count);
    }
    int before = nothing;
    std::size_t first = 0;
    for (std::size_t mark : marks) {
        Node node;
        node.key.add("strokes").add(description.id).add(strokes.hash_of_first(mark)).add(step_seed(step));
        node.key.add(static_cast<std::uint64_t>(recipe_.tile.width)).add(static_cast<std::uint64_t>(recipe_.tile.height));
        if (own_size) {
            node.size = description.carried_size(recipe_.tile.size());
            node.shape = description.carried_shape;
        } else {
            for (const Parameter& other : description.parameters)
                if (other.kind != Kind::strokes) hash_value(node.key.add(other.id), value_or_default(other, step.set));
            node.key.add(key_of(input));
            node.inputs.push_back(input);
            node.scratch_planes = description.scratch_planes;
            node.shape = description.shape(step.set, shape_of(input));
        }
        node.footprint = Footprint::whole();
        node.label = label;
        node.cost = 1;
        if (before != nothing) node.inputs.push_back(before);
        node.run = [&description, values = step.set, seed = step_seed(step), size = plan_.size, tile = recipe_.tile.size(),
                    own_size, goes_on = before != nothing, first, mark](const NodeInputs& inputs, const Piece& piece) {
            StepContext context;
            context.size = size, context.rows = piece.rows, context.tile = tile, context.seed = seed;
            context.job = &piece.job;
            if (!own_size) context.input = inputs.front();
            if (goes_on) context.carried = inputs.back();
            return description.carry(values, context, first, mark);
        };
        before = add(std::move(node));
        first = mark;
    }
    return before;
}

}  // namespace loom
