// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The nodes of the material maps.
#include "core/image/plane_names.h"
#include "core/image/surface.h"
#include "core/render/lighting.h"
#include "core/render/planner.h"
#include "core/structures/brushing.h"

namespace loom {

namespace {

/// What a strand feeds into a grey map: its tone, or a plane that it made, multiplied by its coverage. `name` "": the tone.
Bundle grey_of(const Bundle& strand, std::string_view name, const Job& job) {
    const PlaneRef plane = name.empty() ? nullptr : strand.plane(name);
    Bundle result;
    result.coverage = strand.coverage;
    if (!plane && (name.empty() || name == height_plane)) {
        result.colour = {covered_tone_of(strand, job)};
        return result;
    }
    // Planes are plain; joins want what they join multiplied by its coverage.
    result.colour = {plane ? plane : share(Plane(strand.size(), strand.rows(), 0.0f))};
    if (!result.coverage || !plane) return result;
    Plane covered = plane->alike();
    for_values(job, covered, [&](std::size_t first, std::size_t last) {
        const float *plain = plane->data(), *cover = result.coverage->data();
        for (std::size_t i = first; i < last; ++i) covered.data()[i] = plain[i] * cover[i];
    });
    result.colour = {share(std::move(covered))};
    return result;
}

/// What the lit map reads besides the colour and the lamp's shadows, in this order.
constexpr Map lit_maps[] = {Map::roughness, Map::metalness, Map::occlusion, Map::normal, Map::brushing};

}  // namespace

int Planner::map_node(Map map) {
    const int all = static_cast<int>(recipe_.strands.size());
    if (map == Map::colour) return cloth_node(all);
    if (map == Map::lit) return lit_node();
    if (map_info(map).derived) return derived_node(map);
    const int routed = routed_node(map, all);
    if (map != Map::brushing) return routed;
    Node node;
    node.key.add("brushing map").add(key_of(routed));
    node.inputs = {routed};
    node.shape = {3, false};
    node.shared_planes = 1;
    node.label = std::string(map_id(map));
    node.run = [](const NodeInputs& inputs, const Piece& piece) { return brushing_map(*inputs[0], piece.job); };
    return add(std::move(node));
}

int Planner::derived_node(Map map) {
    const int height = map_node(Map::height);
    const bool normal = map == Map::normal;
    Node node;
    const double scale = static_cast<double>(plan_.size.width) / recipe_.tile.width;
    const double deep = scale * recipe_.tile.deep;
    node.inputs = {height};
    if (!normal)
        for (double px : occlusion_px) node.inputs.push_back(soft_height_node(height, px * scale));
    node.key.add("derived map").add(map_id(map)).add(scale).add(deep);
    for (int input : node.inputs) node.key.add(key_of(input));
    node.shape = {map_info(map).channels, false};
    node.footprint = normal ? normal_footprint : Footprint::pixel();
    node.cost = normal ? 1 : 4;
    node.label = std::string(map_id(map));
    node.run = [normal, scale, deep](const NodeInputs& inputs, const Piece& piece) {
        const Plane& from = inputs[0]->channel(0);
        if (normal) return normal_map(from, deep, piece.rows, piece.job);
        std::vector<const Plane*> soft;
        for (std::size_t k = 1; k < inputs.size(); ++k) soft.push_back(&inputs[k]->channel(0));
        return occlusion_map(from, soft, deep, scale, piece.rows, piece.job);
    };
    return add(std::move(node));
}

int Planner::body_node() {
    const int cloth = cloth_node(static_cast<int>(recipe_.strands.size()));
    const double spread = recipe_.finish.spread;
    if (spread <= 0 || cloth == nothing) return cloth;
    Node node;
    node.key.add("light within").add(spread).add(scales().x()).add(scales().y()).add(key_of(cloth));
    node.inputs = {cloth};
    node.shape = shape_of(cloth);
    node.footprint = spread_footprint(scales());
    node.scratch_planes = 3;
    node.cost = 6;
    node.label = "light within";
    node.run = [spread, scales = scales()](const NodeInputs& inputs, const Piece& piece) {
        return spread_colour(*inputs[0], spread, scales, piece.rows, piece.job);
    };
    return add(std::move(node));
}

int Planner::lit_node() {
    const int body = body_node();
    if (body == nothing) return nothing;
    const LitLight light = light_of(recipe_.lamp);
    const LitFinish finish = finish_of(recipe_.finish);
    Node seen;
    const double scale = scales().x(), deep = scale * recipe_.tile.deep;
    seen.inputs = {map_node(Map::height)};
    seen.key.add("lamp seen").add(scale).add(deep).add(light.direction).add(light.elevation).add(light.width);
    seen.key.add(key_of(seen.inputs.front()));
    seen.shape = {1, false};
    seen.footprint = Footprint::near(horizon_reach(scale), horizon_reach(scale));
    seen.cost = 4;
    seen.label = "lamp seen";
    seen.run = [scale, deep, light](const NodeInputs& inputs, const Piece& piece) {
        return Bundle::of(lamp_seen(inputs[0]->channel(0), deep, scale, light, piece.rows, piece.job));
    };
    Node node;
    node.key.add("lit").add(room_table[static_cast<std::size_t>(light.room)].id);
    for (double value : {light.direction, light.elevation, light.exposure, light.warmth, light.width, light.strength, light.turn,
                         light.fill, finish.sheen, finish.coat, finish.coat_rough, finish.spread})
        node.key.add(value);
    node.inputs = {body, add(std::move(seen))};
    for (Map map : lit_maps) node.inputs.push_back(map_node(map));
    for (int input : node.inputs) node.key.add(key_of(input));
    node.shape = {3, shape_of(body).coverage};
    node.shared_planes = node.shape.coverage ? 1 : 0;
    node.footprint = Footprint::pixel();
    node.cost = 8;
    node.label = "lit";
    node.run = [light, finish](const NodeInputs& inputs, const Piece& piece) {
        LitMaps maps;
        maps.colour = *inputs[0];
        PlaneRef* const planes[] = {&maps.roughness, &maps.metalness, &maps.occlusion};
        for (std::size_t k = 0; k < std::size(planes); ++k) *planes[k] = inputs[k + 2]->colour.front();
        maps.normal = *inputs[5], maps.brushing = *inputs[6];
        return lit_map(maps, inputs[1]->channel(0), light, finish, piece.rows, piece.job);
    };
    return add(std::move(node));
}

int Planner::soft_height_node(int height, double radius) {
    const SoftHeight soft(plan_.size, radius);
    Node node;
    node.key.add("soft height").add(radius).add(key_of(height));
    node.inputs = {height};
    node.size = soft.size;
    node.shape = {1, false};
    node.footprint = soft.footprint(plan_.size);
    // While it is made smaller it is narrow first.
    if (soft.size != plan_.size) node.scratch_planes = static_cast<double>(plan_.size.height) / soft.size.height;
    node.cost = 2;
    node.label = "soft height";
    node.run = [soft](const NodeInputs& inputs, const Piece& piece) {
        return Bundle::of(soft.of(inputs[0]->channel(0), piece.rows, piece.job));
    };
    return add(std::move(node));
}

int Planner::routed_node(Map map, int up_to) {
    const int channels = map_info(map).channels;
    Node base;
    base.key.add("map")
        .add(map_id(map))
        .add(static_cast<std::uint64_t>(plan_.size.width))
        .add(static_cast<std::uint64_t>(plan_.size.height));
    base.shape = {channels, false};
    base.label = std::string(map_id(map));
    base.run = [size = plan_.size, channels, tone = map_info(map).base](const NodeInputs&, const Piece& piece) {
        Bundle result;
        result.colour.assign(static_cast<std::size_t>(channels), share(Plane(size, piece.rows, tone)));
        return result;
    };
    int node = add(std::move(base));
    for (int k = 0; k < up_to; ++k) {
        const Strand& strand = strand_at(k);
        const auto route = strand.routes.find(map);
        if (!strand.on || route == strand.routes.end() || open_strands_.contains(k)) continue;
        const int over = strand_node(k);
        if (over == nothing) continue;
        // Maps are plain data: never blended in linear light.
        Node join;
        const int fed = fed_node(map, strand, route->second.plane, over);
        // What takes on the bumps beneath lies upon them, rather than in their place.
        const bool upon = map == Map::height && strand.join.lift && route->second.blend == Blend::normal;
        const Blend blend = upon ? Blend::plus : route->second.blend;
        join.key.add("map join").add(map_id(map)).add(blend_id(blend)).add(route->second.amount);
        join.key.add(key_of(node)).add(key_of(fed));
        join.inputs = {node, fed};
        join.shape = {channels, false};
        join.label = plan_.nodes[static_cast<std::size_t>(fed)].label + " join";
        join.footprint = join_footprint(blend);
        join.scratch_planes = join_scratch(blend, scales()) + (map == Map::brushing ? 4 : 0);
        const Joining joining = joining_of(blend, route->second.amount, route->second.width, false, join.label, join);
        join.run = [map, joining](const NodeInputs& inputs, const Piece& piece) {
            return map == Map::brushing ? brushings_joined(*inputs[0], *inputs[1], joining, piece.job)
                                        : loom::joined(*inputs[0], *inputs[1], joining, nullptr, piece.job);
        };
        node = add(std::move(join));
    }
    return node;
}

int Planner::fed_node(Map map, const Strand& strand, const std::string& word, int over) {
    const Shape shape = shape_of(over);
    const PlaneName* known = find_plane_word(word);
    const std::string_view plane = known ? known->id : map == Map::height ? height_plane : std::string_view();
    Node node;
    node.key.add("fed").add(key_of(over)).add(map_id(map)).add(plane);
    node.inputs = {over};
    node.shape = {map_info(map).channels, shape.coverage};
    node.shared_planes = shape.coverage ? 1 : 0;
    node.label = strand.id + " " + std::string(map_id(map));
    if (map != Map::brushing) {
        node.shared_planes += shape.channels == 1 ? 1 : 0;
        node.run = [plane](const NodeInputs& inputs, const Piece& piece) { return grey_of(*inputs[0], plane, piece.job); };
        return add(std::move(node));
    }
    const double soft = brushing_soft_px * (scales().x() + scales().y()) / 2;
    node.footprint = Footprint::whole();
    node.scratch_planes = brushing_scratch;
    node.cost = 10;
    node.run = [soft, plane](const NodeInputs& inputs, const Piece& piece) {
        return brushing_of(plane.empty() ? *inputs[0] : grey_of(*inputs[0], plane, piece.job), soft, piece.job);
    };
    return add(std::move(node));
}

}  // namespace loom
