// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/filled.h"

namespace loom {

Bundle filled(const PlaneRef& fill, const Colour& colour, const PlaneRef& line, const Colour& line_colour,
              const StepContext& context) {
    Plane cover = context.plane();
    const int channels = filled_shape(colour, line_colour).channels;
    const float inner[3] = {colour.red, colour.green, colour.blue},
                outer[3] = {line_colour.red, line_colour.green, line_colour.blue};
    std::vector<Plane> planes;
    for (int c = 0; c < channels; ++c) planes.push_back(context.plane());
    for_values(*context.job, cover, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            const float over = line ? line->data()[i] : 0, under = (fill ? fill->data()[i] : 0) * (1 - over);
            cover.data()[i] = over + under;
            for (std::size_t c = 0; c < planes.size(); ++c) planes[c].data()[i] = over * outer[c] + under * inner[c];
        }
    });
    Bundle result;
    for (Plane& plane : planes) result.colour.push_back(share(std::move(plane)));
    result.coverage = share(std::move(cover));
    return result;
}

}  // namespace loom
