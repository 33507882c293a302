// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// What a step hands on: grey or colour, coverage where something is transparent, and further
// planes by name ("height", object planes), all of one size. See docs/conventions.md.
#pragma once

#include <map>
#include <string>
#include <string_view>
#include <vector>

#include "core/image/plane.h"

namespace loom {

/// Planes that say which object a pixel belongs to. Their values are never mixed between pixels: filters leave them
/// as they are, and what moves pixels takes the nearest one.
namespace objects {
constexpr std::string_view id = "id";                                        ///< whole numbers from 1; 0: no object
constexpr std::string_view u = "u", v = "v";                                 ///< place in the object, 0..1 from its left and top
constexpr std::string_view random[] = {"random-1", "random-2", "random-3"};  ///< one draw per object, 0..1
/// How the object's own plane rises to the right and upwards, in design pixels a design pixel; for those that lie tilted.
constexpr std::string_view tilt[] = {"tilt-x", "tilt-y"};
}  // namespace objects
constexpr std::string_view height_plane = "height";
/// Whether a named plane belongs to objects, so that its values are never mixed; the others are as continuous as pictures.
bool is_object_plane(std::string_view name);

using NamedPlanes = std::map<std::string, PlaneRef, std::less<>>;

struct Bundle {
    /// One plane (grey) or three (red, green, blue); sRGB-encoded, premultiplied by coverage.
    std::vector<PlaneRef> colour;
    /// Null where everything is opaque.
    PlaneRef coverage;
    /// Plain data, not premultiplied.
    NamedPlanes named;

    bool empty() const { return colour.empty(); }
    bool grey() const { return colour.size() == 1; }
    Size size() const { return empty() ? Size{} : colour.front()->size(); }
    /// That its planes hold; all hold the same.
    Rows rows() const { return empty() ? Rows{} : colour.front()->rows(); }
    /// Plane 0..2 of the colour; a grey bundle answers with its one plane.
    /// A named plane, or null.
    PlaneRef plane(std::string_view name) const {
        const auto found = named.find(name);
        return found == named.end() ? nullptr : found->second;
    }
    const Plane& channel(int index) const { return *colour[grey() ? 0 : static_cast<std::size_t>(index)]; }
    std::size_t bytes() const;

    static Bundle of(Plane grey);
    static Bundle of(Plane red, Plane green, Plane blue);
    /// Everything transparent.
    static Bundle nothing(Size size);
    static Bundle nothing(Size size, Rows rows);
};

/// Some of the rows that it holds, without copying.
PlaneRef part_of(const PlaneRef& plane, Rows rows);
NamedPlanes part_of(const NamedPlanes& planes, Rows rows);
Bundle part_of(const Bundle& bundle, Rows rows);

/// Luma of the encoded values (W3C compositing: 0.3, 0.59, 0.11) after dividing by coverage; transparent is 0. With a job on all
/// threads.
PlaneRef tone_of(const Bundle& bundle, const Job& job = {});

/// tone_of times coverage: what a mask or a map takes from a strand.
PlaneRef covered_tone_of(const Bundle& bundle, const Job& job = {});

/// The coverage, or a plane of ones.
PlaneRef coverage_of(const Bundle& bundle);

/// Mean of whole or part pixels (box filter) when shrinking, bilinear when growing; wraps at the edges.
Plane resized(const Plane& plane, Size size, const Job& job = {});
/// The value nearest to each pixel's centre.
Plane nearest(const Plane& plane, Size size);
Bundle resized(const Bundle& bundle, Size size, const Job& job = {});

}  // namespace loom
