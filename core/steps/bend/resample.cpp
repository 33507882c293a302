// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/steps/bend/resample.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/image/sample.h"

namespace loom {

Bundle resampled(const Bundle& in, const PlacesOfRow& places, const Job& job) {
    const Size size = in.size();
    struct Source {
        const Plane* plane;
        bool whole;  ///< belongs to objects: the nearest value, not a mixture
    };
    std::vector<Source> sources;
    std::vector<Plane> targets;
    auto add = [&](const PlaneRef& plane, bool whole = false) {
        sources.push_back({plane.get(), whole});
        targets.emplace_back(size);
    };
    for (const PlaneRef& plane : in.colour) add(plane);
    if (in.coverage) add(in.coverage);
    for (const auto& [name, plane] : in.named) add(plane, is_object_plane(name));

    for_rows(job, size.height, [&](int first, int last) {
        std::vector<float> px(static_cast<std::size_t>(size.width)), py(px.size());
        for (int y = first; y < last; ++y) {
            places(y, px.data(), py.data());
            for (int x = 0; x < size.width; ++x) {
                const float at_x = px[static_cast<std::size_t>(x)], at_y = py[static_cast<std::size_t>(x)];
                const CubicPlace place(size, at_x, at_y);
                for (std::size_t k = 0; k < sources.size(); ++k)
                    targets[k].row(y)[x] = sources[k].whole ? sources[k].plane->wrapped(static_cast<int>(std::lround(at_x)),
                                                                                        static_cast<int>(std::lround(at_y)))
                                                            : place.read(*sources[k].plane);
            }
            // The cubic may overshoot, and coverage has to stay what it is.
            if (in.coverage) {
                float* cover = targets[in.colour.size()].row(y);
                for (int x = 0; x < size.width; ++x) cover[x] = std::clamp(cover[x], 0.0f, 1.0f);
            }
        }
    });

    Bundle out;
    std::size_t next = 0;
    for (std::size_t k = 0; k < in.colour.size(); ++k) out.colour.push_back(share(std::move(targets[next++])));
    if (in.coverage) out.coverage = share(std::move(targets[next++]));
    for (const auto& [name, plane] : in.named) out.named[name] = share(std::move(targets[next++]));
    return out;
}

}  // namespace loom
