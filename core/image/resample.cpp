// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/resample.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/image/sample.h"
#include "core/image/sample_kernel.h"

namespace loom {

Bundle resampled(const Bundle& in, Rows rows, const PlacesOfRow& places, const Job& job, PixelReading reading) {
    const Size size = in.size();
    std::vector<const Plane*> sources, objects;  // what belongs to objects is not mixed: its nearest value is taken
    for (const PlaneRef& plane : in.colour) sources.push_back(plane.get());
    if (in.coverage) sources.push_back(in.coverage.get());
    for (const auto& [name, plane] : in.named) (is_object_plane(name) ? objects : sources).push_back(plane.get());
    std::vector<Plane> targets;
    for (std::size_t k = 0; k < sources.size() + objects.size(); ++k) targets.emplace_back(size, rows);
    std::vector<const float*> from;
    for (const Plane* plane : sources) from.push_back(plane->data());

    const PlaneRows sheet(*sources.front());
    for_rows(job, rows.count, [&](int first, int last) {
        first += rows.first, last += rows.first;
        std::vector<float> px(static_cast<std::size_t>(size.width)), py(px.size());
        std::vector<float*> to(sources.size());
        for (int y = first; y < last; ++y) {
            places(y, px.data(), py.data());
            for (std::size_t k = 0; k < to.size(); ++k) to[k] = targets[k].row(y);
            (reading == PixelReading::cubic ? read_cubic : read_bilinear)(from.data(), static_cast<int>(from.size()), sheet,
                                                                          px.data(), py.data(), size.width, to.data());
            for (std::size_t k = 0; k < objects.size(); ++k)
                for (int x = 0; x < size.width; ++x)
                    targets[sources.size() + k].row(y)[x] =
                        objects[k]->row(nearest_pixel(py[static_cast<std::size_t>(x)],
                                                      size.height))[nearest_pixel(px[static_cast<std::size_t>(x)], size.width)];
            // The cubic may overshoot, and coverage has to stay what it is.
            if (in.coverage && reading == PixelReading::cubic) {
                float* cover = targets[in.colour.size()].row(y);
                for (int x = 0; x < size.width; ++x) cover[x] = std::clamp(cover[x], 0.0f, 1.0f);
            }
        }
    });

    Bundle out;
    std::size_t next = 0;
    for (std::size_t k = 0; k < in.colour.size(); ++k) out.colour.push_back(share(std::move(targets[next++])));
    if (in.coverage) out.coverage = share(std::move(targets[next++]));
    for (bool whole : {false, true})
        for (const auto& [name, plane] : in.named)
            if (is_object_plane(name) == whole) out.named[name] = share(std::move(targets[next++]));
    return out;
}

}  // namespace loom
