// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// For filters that treat every plane of a bundle alike. Object planes stay as they are.
#pragma once

#include <algorithm>
#include <map>
#include <utility>
#include <vector>

#include "core/catalogue/context.h"

namespace loom {

/// The same coverage and named planes under other colours.
inline Bundle recoloured(const Bundle& in, std::vector<Plane> colours) {
    Bundle out;
    for (Plane& plane : colours) out.colour.push_back(share(std::move(plane)));
    out.coverage = in.coverage, out.named = in.named;
    return out;
}

/// `filter` turns one plane into the wanted rows of another; planes that are shared are filtered once.
template <class Filter>
Bundle each_plane(const StepContext& context, Filter&& filter) {
    const Bundle& in = *context.input;
    const Rows rows = context.wanted_rows();
    std::map<const Plane*, PlaneRef> done;
    auto apply = [&](const PlaneRef& plane) -> PlaneRef {
        if (!plane) return nullptr;
        PlaneRef& result = done[plane.get()];
        if (!result) result = share(filter(*plane));
        return result;
    };
    Bundle out;
    for (const PlaneRef& plane : in.colour) out.colour.push_back(apply(plane));
    out.coverage = apply(in.coverage);
    for (const auto& [name, plane] : in.named) out.named[name] = is_object_plane(name) ? part_of(plane, rows) : apply(plane);
    return out;
}

/// each_plane for filters that only move whole pixels: object planes move too.
template <class Filter>
Bundle each_plane_and_object(const StepContext& context, Filter&& filter) {
    Bundle out = each_plane(context, filter);
    for (auto& [name, plane] : out.named)
        if (is_object_plane(name)) plane = share(filter(*context.input->named.at(name)));
    return out;
}

/// `filter` turns all different planes (std::vector<const Plane*>) into as many others (std::vector<Plane>) at once, for
/// filters that share work between planes.
template <class Filter>
Bundle all_planes(const StepContext& context, Filter&& filter) {
    const Bundle& in = *context.input;
    const Rows rows = context.wanted_rows();
    std::vector<const Plane*> planes;
    auto note = [&](const PlaneRef& plane) {
        if (plane && std::find(planes.begin(), planes.end(), plane.get()) == planes.end()) planes.push_back(plane.get());
    };
    for (const PlaneRef& plane : in.colour) note(plane);
    note(in.coverage);
    for (const auto& [name, plane] : in.named)
        if (!is_object_plane(name)) note(plane);
    std::vector<PlaneRef> done;
    for (Plane& plane : filter(planes)) done.push_back(share(std::move(plane)));
    auto result = [&](const PlaneRef& plane) -> PlaneRef {
        if (!plane) return nullptr;
        return done[static_cast<std::size_t>(std::find(planes.begin(), planes.end(), plane.get()) - planes.begin())];
    };
    Bundle out;
    for (const PlaneRef& plane : in.colour) out.colour.push_back(result(plane));
    out.coverage = result(in.coverage);
    for (const auto& [name, plane] : in.named) out.named[name] = is_object_plane(name) ? part_of(plane, rows) : result(plane);
    return out;
}

}  // namespace loom
