// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/maps/lit.h"

#include <algorithm>

#include "core/base/quick_math.h"
#include "core/colour/colour.h"

namespace loom {

LitMaterial::LitMaterial(const LitMaps& maps, const Job& job) : size_(maps.colour.size()), texels_(size_.pixels()) {
    for_rows(job, size_.height, [&](int first, int last) {
        find_texels(maps, first, last, texels_.data() + static_cast<std::size_t>(first) * static_cast<std::size_t>(size_.width));
    });
}

std::vector<std::uint32_t> lit_picture(const LitMaterial& material, const LitGeometry& geometry, const LitLight& light,
                                       float ground, const Job& job, const LitFinish& finish) {
    const LitRoom room = room_for(light, finish);
    const float beside = to_encoded(ground);
    std::vector<std::uint32_t> pixels(geometry.size.pixels());
    const int width = geometry.size.width;
    const LitTexels texels{&material.texels().front().red, material.size().width, material.size().height};
    for_rows(job, geometry.size.height, [&](int first, int last) {
        LitShader shader;
        std::vector<LitTexel> found(lit_most);
        for (int y = first; y < last; ++y)
            for (int begin = 0; begin < width; begin += lit_most) {
                const int count = std::min(lit_most, width - begin);
                const auto start =
                    static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(begin);
                lit_read(texels, &geometry.u[start], &geometry.v[start], count, &found.front().red);
                const LitPlaces places{&geometry.normal_x[start], &geometry.normal_y[start], &geometry.normal_z[start],
                                       &geometry.along_x[start],  &geometry.along_y[start],  &geometry.along_z[start],
                                       &geometry.shade[start]};
                shader.shade(found.data(), places, count, room);
                for (int k = 0; k < count; ++k) {
                    const float covered = geometry.cover[start + static_cast<std::size_t>(k)] *
                                          found[static_cast<std::size_t>(k)].cover,
                                rest = (1 - covered) * beside;
                    const auto byte = [&](float value) {
                        return static_cast<std::uint32_t>((value * covered + rest) * 255 + 0.5f);
                    };
                    pixels[start + static_cast<std::size_t>(k)] =
                        0xff000000u | byte(shader.red()[k]) << 16 | byte(shader.green()[k]) << 8 | byte(shader.blue()[k]);
                }
            }
    });
    return pixels;
}

}  // namespace loom
