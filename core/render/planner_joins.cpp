// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How pictures come together: where a step acts and how much of it, masks, gates by tone, joins, and the cloth.
#include <algorithm>
#include <iterator>
#include <tuple>

#include "core/recipe/edits.h"
#include "core/recipe/references.h"
#include "core/render/pixel_run.h"
#include "core/render/planner.h"
#include "core/image/surface.h"
#include "core/structures/relief_light.h"

namespace loom {

int Planner::where_node(int strand, const Step& step, int input) {
    const std::string label = strand_at(strand).name + ", " + step_title(step);
    const int also = step.where.empty() ? nothing : other_strand(step.where, label);
    if (step.gate.of == ToneGate::Of::nothing) return also;
    const int beneath = step.gate.of == ToneGate::Of::beneath ? cloth_node(strand) : input;
    return gate_node(step.gate, beneath == nothing ? empty_node() : beneath, also, label + " gate");
}

int Planner::gate_node(const ToneGate& gate, int source, int also, const std::string& label) {
    Node node;
    node.key.add("gate").add(gate.from).add(gate.to).add(gate.softness).add(key_of(source));
    node.inputs = {source};
    node.shape = {1, false};
    node.cost = 0.5;
    node.label = label;
    if (also != nothing) {
        node.key.add("also").add(key_of(also));
        node.inputs.push_back(also);
    }
    node.run = [gate](const NodeInputs& inputs, const Piece& piece) {
        return Bundle::of(gated(*tone_of(*inputs[0], piece.job), gate,
                                inputs.size() > 1 ? covered_tone_of(*inputs[1], piece.job) : nullptr, piece.job));
    };
    return add(std::move(node));
}

int Planner::mix_node(int strand, const Step& step, int before, int after) {
    Node node;
    node.key.add("mix").add(key_of(before)).add(key_of(after)).add(step.amount);
    node.inputs = {before, after};
    node.shape = mixed_shape(shape_of(before), shape_of(after));
    node.named_planes = node.shared_planes = named_of(after);
    node.cost = 0.5;
    node.label = strand_at(strand).id + "/" + step.id + " amount";
    if (const int where = where_node(strand, step, before); where != nothing) {
        node.inputs.push_back(where);
        node.key.add("where").add(key_of(where));
    }
    node.run = [amount = static_cast<float>(step.amount / 100)](const NodeInputs& inputs, const Piece& piece) {
        return mixed(*inputs[0], *inputs[1], amount, inputs.size() > 2 ? covered_tone_of(*inputs[2], piece.job) : nullptr,
                     piece.job);
    };
    return add(std::move(node));
}

int Planner::masked_node(int strand, int picture) {
    const Strand& own = strand_at(strand);
    if (!own.masking.on) return picture;
    const Step* first = nullptr;
    for (const ChainLink& link : chain_links(recipe_, own, ChainKind::mask))
        if (!first && !link.chain->empty()) first = &link.chain->front();
    if (!first) return picture;
    // A mask begins with the strand's own picture, unless it makes something of its own: then with all shown, whether that is
    // switched on or not.
    const StepDescription* description = find_step(first->kind);
    const bool made = description && (description->family == Family::make || (description->family == Family::mask && !first->on));
    const int begins = made ? white_node() : picture;
    const int mask = chain_node(strand, ChainKind::mask, begins);
    const bool all = mask == nothing || (mask == begins && made && !own.masking.inverted);
    return all ? picture : masked(strand, picture, mask);
}

int Planner::shown_node(int mask) {
    Node node;
    node.key.add("shown").add(key_of(mask));
    node.inputs = {mask};
    node.shape = {1, false};
    node.named_planes = node.shared_planes = named_of(mask);
    node.cost = 0.5;
    node.label = "what a mask shows";
    node.run = [](const NodeInputs& inputs, const Piece& piece) {
        Bundle result;
        result.colour = {covered_tone_of(*inputs[0], piece.job)};
        result.named = inputs[0]->named;
        return result;
    };
    return add(std::move(node));
}

int Planner::masked(int strand, int picture, int mask) {
    const Masking masking = strand_at(strand).masking;
    Node node;
    node.key.add("mask").add(key_of(picture)).add(key_of(mask));
    const bool plain = masking.amount == 100 && !masking.inverted;
    if (!plain) node.key.add(masking.amount).add(static_cast<std::uint64_t>(masking.inverted));
    node.inputs = {picture, mask};
    node.shape = {shape_of(picture).channels, true};
    node.named_planes = node.shared_planes = named_of(picture);
    node.cost = 0.5;
    node.label = strand_at(strand).id + " mask";
    node.run = [plain, masking](const NodeInputs& inputs, const Piece& piece) {
        const PlaneRef shown = covered_tone_of(*inputs[1], piece.job);
        if (plain) return cut(*inputs[0], *shown, piece.job);
        Plane changed = shown->alike();
        const auto amount = static_cast<float>(masking.amount / 100);
        for_rows(piece.job, changed, [&](int first, int last) {
            for (int y = first; y < last; ++y)
                for (int x = 0; x < changed.width(); ++x) {
                    const float value = shown->row(y)[x], hides = masking.inverted ? value : 1 - value;
                    changed.row(y)[x] = 1 - amount * hides;
                }
        });
        return cut(*inputs[0], changed, piece.job);
    };
    return add(std::move(node));
}

Joining Planner::joining_of(Blend blend, double amount, double width, bool linear, const std::string& label, Node& node,
                            const StippleDots& dots) const {
    Joining joining{{blend, static_cast<float>(amount / 100), linear, static_cast<float>(width)}, recipe_.tile.size(), 0};
    if (is_smooth(blend)) node.key.add("width").add(width);
    if (blend != Blend::stipple) return joining;
    // Every strand has dots of its own, which lie by the design and not by the picture's size.
    Key own;
    own.add(label);
    joining.seed = mix64(mix64(recipe_.seed), KeyHash()(own));
    joining.dots = dots;
    node.key.add(static_cast<std::uint64_t>(dots.pattern)).add(dots.size).add(dots.density);
    node.key.add("dots")
        .add(joining.seed)
        .add(static_cast<std::uint64_t>(recipe_.tile.width))
        .add(static_cast<std::uint64_t>(recipe_.tile.height));
    return joining;
}

int Planner::joined(int under, int over, const Join& join, int within, const std::string& label) {
    Node node;
    node.key.add("join").add(blend_id(join.blend)).add(join.amount).add(static_cast<std::uint64_t>(recipe_.linear_light));
    node.key.add(key_of(under)).add(key_of(over));
    node.inputs = {under, over};
    node.shape = {std::max(shape_of(under).channels, shape_of(over).channels), shape_of(under).coverage};
    node.named_planes = std::max(named_of(under), named_of(over));
    if (!shape_of(over).coverage && !join.within && join.amount >= 50 && join_scratch(join.blend, scales()) == 0) {
        // A height that only one of both has is made anew, and so is a sum.
        const bool raised =
            reads_.contains(height_plane) && (sums_heights(join.blend) || (named_of(under) == 0 && named_of(over) > 0));
        node.shared_planes = std::max(0, node.named_planes - (raised ? 1 : 0));
    }
    node.label = label + " join";
    node.footprint = join_footprint(join.blend);
    node.scratch_planes = join_scratch(join.blend, scales(), join.dots.size);
    const Joining joining = joining_of(join.blend, join.amount, join.width, recipe_.linear_light, label, node, join.dots);
    const bool kept_within = join.within && within != nothing, has_gate = join.gate.of != ToneGate::Of::nothing;
    if (kept_within) {
        node.key.add("within").add(key_of(within));
        node.inputs.push_back(within);
    }
    if (has_gate) {
        const int gate = gate_node(join.gate, join.gate.of == ToneGate::Of::own ? over : under, nothing, label + " join gate");
        node.key.add("gate").add(key_of(gate));
        node.inputs.push_back(gate);
    }
    node.run = [joining, kept_within, has_gate](const NodeInputs& inputs, const Piece& piece) {
        PlaneRef held = kept_within ? inputs[2]->coverage : nullptr;
        if (has_gate) {
            const PlaneRef& gate = inputs.back()->colour.front();
            held = held ? share(product(*held, *gate, piece.job)) : gate;
        }
        return loom::joined(*inputs[0], *inputs[1], joining, held, piece.job);
    };
    return add(std::move(node));
}

namespace {
/// Something thin that lies on bumps shows them softer than they are.
constexpr double lifted_share = 0.35;
}  // namespace

int Planner::lifted(int strand, int over) {
    Node node;
    const int beneath = routed_node(Map::height, strand);
    const double share = strand_at(strand).join.lift_amount;
    node.key.add("lifted").add(key_of(over)).add(key_of(beneath)).add(recipe_.lamp.direction).add(recipe_.lamp.elevation);
    node.key.add(share);
    node.inputs = {over, beneath};
    node.shape = shape_of(over);
    node.named_planes = named_of(over);
    node.shared_planes = node.named_planes + (node.shape.coverage ? 1 : 0);
    node.footprint = Footprint::near(1, 1);
    node.label = strand_at(strand).id + " lifted";
    node.run = [size = plan_.size, tile = recipe_.tile.size(), lamp = recipe_.lamp, share](const NodeInputs& inputs,
                                                                                           const Piece& piece) {
        ReliefLighting light;
        light.from = ReliefLighting::From::strand;
        light.lamp = ReliefLighting::LampKind::shared;
        light.depth = lifted_share * share / 100 * height_range_px;
        StepContext context;
        context.size = size, context.rows = piece.rows, context.tile = tile, context.job = &piece.job;
        context.lamp_direction = lamp.direction, context.lamp_elevation = lamp.elevation;
        context.input = inputs[0];
        context.others["strand"] = inputs[1];
        return relief_light(light, context);
    };
    return add(std::move(node));
}

int Planner::cloth_node(int up_to) {
    if (const auto found = cloths_.find(up_to); found != cloths_.end()) return found->second;
    // On from what was joined before, or a recipe whose strands all look beneath would join each with each.
    int cloth = nothing, from = 0;
    bool whole = true;
    if (const auto before = cloths_.lower_bound(up_to); before != cloths_.begin()) std::tie(from, cloth) = *std::prev(before);
    for (int k = from; k < up_to; ++k) {
        const Strand& strand = strand_at(k);
        if (!strand.on) continue;
        if (open_strands_.contains(k)) {
            warn(strand.name + " would go round in a circle through what lies beneath; it is left out");
            whole = false;
            continue;
        }
        int over = strand_node(k);
        if (over == nothing) continue;
        if (strand.join.lift && k > 0) over = lifted(k, over);
        // The first strand lies on nothing: only its amount matters.
        const bool plain = cloth == nothing && strand.join.amount == 100 && strand.join.gate.of == ToneGate::Of::nothing;
        const int base = within_base(recipe_, k);
        if (plain) {
            cloth = over;
        } else {
            const int within = base >= 0 && !open_strands_.contains(base) ? strand_node(base) : nothing;
            cloth = joined(cloth == nothing ? empty_node() : cloth, over, strand.join, within, strand.id);
        }
    }
    if (whole) cloths_[up_to] = cloth;
    return cloth;
}

}  // namespace loom
