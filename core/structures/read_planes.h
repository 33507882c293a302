// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// For bends that average what they read: the planes of a picture, each with the one that is made of it. Those of objects are read
// at the nearest pixel.
#pragma once

#include <utility>
#include <vector>

#include "core/image/bundle.h"

namespace loom {

class ReadPlanes {
public:
    struct Source {
        PlaneRef plane;
        bool whole;  ///< of objects, never mixed
        Plane out;
    };

    /// `fresh` gives a plane to be filled.
    template <class Fresh>
    ReadPlanes(const Bundle& in, Fresh&& fresh) : in_(in) {
        const auto add = [&](const PlaneRef& plane, bool whole) { all.push_back({plane, whole, fresh()}); };
        for (const PlaneRef& plane : in.colour) add(plane, false);
        if (in.coverage) add(in.coverage, false);
        for (const auto& [name, plane] : in.named) add(plane, is_object_plane(name));
    }
    Bundle finish() {
        Bundle out;
        std::size_t next = 0;
        for (std::size_t k = 0; k < in_.colour.size(); ++k) out.colour.push_back(share(std::move(all[next++].out)));
        if (in_.coverage) out.coverage = share(std::move(all[next++].out));
        for (const auto& [name, plane] : in_.named) out.named[name] = share(std::move(all[next++].out));
        return out;
    }

    std::vector<Source> all;

private:
    const Bundle& in_;
};

}  // namespace loom
