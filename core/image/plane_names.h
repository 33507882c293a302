// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The named planes that steps hand on beside their picture: what each is called in files, in formulas and on the screen, said
// once. Steps that make them list them (StepDescription::planes); those that take one out offer all of these.
#pragma once

#include <span>
#include <string_view>

namespace loom {

struct PlaneName {
    std::string_view id;    ///< in bundles
    std::string_view word;  ///< in files
    std::string_view title;
    std::string_view help;
    bool of_objects;  ///< its values are never mixed between pixels: numbers, lots, and places that jump
    bool in_range;    ///< from 0 to 1; others are whole numbers, or slopes
};

std::span<const PlaneName> plane_names();
/// Null if there is none of this id.
const PlaneName* find_plane(std::string_view id);
/// By its word in files.
const PlaneName* find_plane_word(std::string_view word);

/// Planes of the makers, beside the height and those of objects (core/image/bundle.h).
namespace planes {
constexpr std::string_view face = "face", core = "core", edge = "edge";
constexpr std::string_view ring = "ring", early = "early-wood", late = "late-wood", pores = "pores", rays = "rays",
                           knots = "knots", ring_number = "ring-number", fibre_across = "fibre-across",
                           fibre_along = "fibre-along", grain_direction = "grain-direction";
constexpr std::string_view warp = "warp", yarn = "yarn", yarn_across = "yarn-across", yarn_along = "yarn-along", crown = "crown",
                           twist = "twist", fuzz = "fuzz";
constexpr std::string_view vein = "vein", smoke = "smoke", vein_side = "vein-side", vein_strength = "vein-strength",
                           hairlines = "hairlines", ground = "ground";
constexpr std::string_view crease = "crease", pair = "pair";
constexpr std::string_view joint = "joint", arris = "arris";
constexpr std::string_view layer = "layer", bend = "bend";
constexpr std::string_view line = "line";
constexpr std::string_view root_to_tip = "root-to-tip";
constexpr std::string_view dirt = "dirt", worn = "worn";
}  // namespace planes

}  // namespace loom
