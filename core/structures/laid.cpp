// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/laid.h"

#include <cmath>
#include <vector>

#include "core/image/sample.h"

namespace loom {

Bundle laid(const Bundle& in, Size size, const std::function<void(double u, double v, double& x, double& y)>& place,
            const std::function<bool(double u, double v)>& inside, const Job& job) {
    struct Source {
        PlaneRef plane;
        bool whole;
        Plane out;
    };
    std::vector<Source> sources;
    for (const PlaneRef& plane : in.colour) sources.push_back({plane, false, Plane(size)});
    const bool covered = in.coverage || inside;
    if (covered) sources.push_back({coverage_of(in), false, Plane(size)});
    for (const auto& [name, plane] : in.named) sources.push_back({plane, is_object_plane(name), Plane(size)});
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const double u = (x + 0.5) / size.width, v = (y + 0.5) / size.height;
                const bool shows = !inside || inside(u, v);
                double px = 0, py = 0;
                place(u, v, px, py);
                for (Source& source : sources) {
                    float& to = source.out.row(y)[x];
                    if (!shows)
                        to = 0;
                    else if (source.whole)
                        to = source.plane->row(nearest_pixel(
                            static_cast<float>(py), in.size().height))[nearest_pixel(static_cast<float>(px), in.size().width)];
                    else
                        to = sample_bilinear(*source.plane, static_cast<float>(px), static_cast<float>(py));
                }
            }
    });
    Bundle out;
    std::size_t next = 0;
    for (std::size_t k = 0; k < in.colour.size(); ++k) out.colour.push_back(share(std::move(sources[next++].out)));
    if (covered) out.coverage = share(std::move(sources[next++].out));
    for (const auto& [name, plane] : in.named) out.named[name] = share(std::move(sources[next++].out));
    return out;
}

}  // namespace loom
