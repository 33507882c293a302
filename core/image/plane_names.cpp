// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/plane_names.h"

#include <algorithm>
#include <iterator>

#include "core/image/bundle.h"

namespace loom {

namespace {

constexpr bool mixed = false, whole = true;

/// A plane that is called the same everywhere, from 0 to 1.
constexpr PlaneName share_of(std::string_view id, std::string_view title, std::string_view help, bool of_objects = mixed) {
    return {id, id, title, help, of_objects, true};
}
constexpr PlaneName number_of(std::string_view id, std::string_view word, std::string_view title, std::string_view help) {
    return {id, word, title, help, whole, false};
}

constexpr PlaneName all_planes[] = {
    share_of(height_plane, "Height", "How high it lies, or its tone where it has no height."),
    number_of(objects::id, "object", "Object number", "A number for each object, from 1; 0 where there is none."),
    {objects::u, "object-u", "Place across the object", "From 0 at its left to 1 at its right.", whole, true},
    {objects::v, "object-v", "Place down the object", "From 0 at its top to 1 at its foot.", whole, true},
    {objects::random[0], "lot-1", "First lot of the object", "A number from 0 to 1 for each object, by chance.", whole, true},
    {objects::random[1], "lot-2", "Second lot of the object", "Another such number.", whole, true},
    {objects::random[2], "lot-3", "Third lot of the object", "A third one.", whole, true},
    number_of(objects::tilt[0], objects::tilt[0], "Tilt to the right", "How the object there rises to the right, in px a px."),
    number_of(objects::tilt[1], objects::tilt[1], "Tilt downwards", "How the object there rises downwards, in px a px."),
    share_of(planes::face, "Face that was left by a tear", "The face of torn paper."),
    share_of(planes::core, "Core that it laid bare", "The core of torn paper."),
    share_of(planes::edge, "Its very edge", "The outermost edge of torn paper."),
    share_of(planes::ring, "Ring figure", "The rings alone, without fibres, pores and rays."),
    share_of(planes::early, "Early wood", "What grew in spring: an abrupt start that fades."),
    share_of(planes::late, "Late wood", "What grew in summer: a slow rise to the ring's end."),
    share_of(planes::pores, "Pores", "The pores alone, 1 where one is deepest."),
    share_of(planes::rays, "Rays", "The rays alone."),
    share_of(planes::knots, "Knots", "How far a place lies within a knot, dark rim included."),
    share_of(planes::fibre_across, "Place across the fibres", "Which fibre a place lies on, 0 to 1 over the tile.", whole),
    share_of(planes::fibre_along, "Place along the fibres", "How far along its fibre it lies, 0 to 1 over the tile.", whole),
    number_of(planes::ring_number, planes::ring_number, "Ring number", "Which ring a place belongs to, from 0 on."),
    share_of(planes::grain_direction, "Grain direction", "The way of the fibres: 0 lies level, 0.5 stands upright.", whole),
    share_of(planes::warp, "Warp on top", "1 where a warp yarn shows, 0 where a weft yarn does.", whole),
    number_of(planes::yarn, planes::yarn, "Yarn number", "A number for each yarn along all of its length, from 1."),
    share_of(planes::yarn_across, "Place across the yarn", "0 at one side of the yarn that shows, 1 at the other.", whole),
    share_of(planes::yarn_along, "Place along the yarn", "How far along it a place lies, 0 to 1 over the tile.", whole),
    share_of(planes::crown, "Crown", "How high the yarn that shows rises there: 1 on top of its arch."),
    share_of(planes::twist, "Twist", "The plies of the yarn."),
    share_of(planes::fuzz, "Fuzz", "The fibres that stand off the yarn."),
    share_of(planes::vein, "Vein lines", "The veins themselves."),
    share_of(planes::smoke, "Smoke", "What lies along the veins, on one side more."),
    share_of(planes::vein_side, "Side of the vein", "Which side of the nearest vein a place lies on.", whole),
    share_of(planes::vein_strength, "Strength of the vein", "How strong the nearest vein is.", whole),
    share_of(planes::hairlines, "Hairlines", "The finest lines alone."),
    share_of(planes::ground, "Clouding of the ground", "Slow tones that follow the net of the veins."),
    share_of(planes::crease, "Creases", "How deep the crease is in which a place lies."),
    share_of(planes::pair, "Strength of the crease", "How strong the nearest crease is, by the two that meet in it.", whole),
    share_of(planes::joint, "Joints", "Where the joint lies between what is laid."),
    share_of(planes::arris, "Distance from the arris", "0 at the edge of what is laid, 1 where its middle is reached."),
    share_of(planes::layer, "Layer", "How far up in the pile what shows there lies, 0 to 1.", whole),
    share_of(planes::bend, "Bend", "How a flake bends from its middle to its rim: 0.5 is level."),
    share_of(planes::line, "Lines", "The single line there, by which it differs from its neighbours."),
    share_of(planes::dirt, "Dirt", "What has settled."),
    share_of(planes::worn, "Wear", "What has been rubbed off."),
    share_of(planes::root_to_tip, "From root to tip", "0 where a stroke begins, 1 where it ends.", whole),
};

const PlaneName* found(std::string_view PlaneName::*member, std::string_view word) {
    const auto at =
        std::find_if(std::begin(all_planes), std::end(all_planes), [&](const PlaneName& each) { return each.*member == word; });
    return at == std::end(all_planes) ? nullptr : at;
}

}  // namespace

std::span<const PlaneName> plane_names() { return all_planes; }
const PlaneName* find_plane(std::string_view id) { return found(&PlaneName::id, id); }
const PlaneName* find_plane_word(std::string_view word) { return found(&PlaneName::word, word); }

bool is_object_plane(std::string_view name) {
    const PlaneName* known = find_plane(name);
    return !known || known->of_objects;
}

}  // namespace loom
