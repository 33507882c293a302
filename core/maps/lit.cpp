// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/maps/lit.h"

#include <algorithm>

#include "core/base/quick_math.h"
#include "core/colour/colour.h"
#include "core/maps/lit_scene.h"

namespace loom {

LitMaterial::LitMaterial(const LitMaps& maps, const Job& job) : size_(maps.colour.size()), texels_(size_.pixels()) {
    for_rows(job, size_.height, [&](int first, int last) {
        find_texels(maps, first, last, texels_.data() + static_cast<std::size_t>(first) * static_cast<std::size_t>(size_.width));
    });
}

namespace {

/// How many pixels from `begin` on have one material, at most `most`.
int alike(const std::vector<std::uint8_t>& material, std::size_t begin, int most) {
    if (material.empty()) return most;
    int count = 1;
    while (count < most && material[begin + static_cast<std::size_t>(count)] == material[begin]) ++count;
    return count;
}

std::uint32_t mean_of(const std::vector<std::uint32_t>& pixels, const std::array<std::size_t, 4>& of) {
    std::uint32_t mean = 0xff000000u;
    for (int shift : {0, 8, 16}) {
        std::uint32_t sum = 2;
        for (const std::size_t one : of) sum += pixels[one] >> shift & 255;
        mean |= sum / 4 << shift;
    }
    return mean;
}

}  // namespace

std::vector<std::uint32_t> lit_picture(std::span<const LitSurface> surfaces, const LitGeometry& geometry,
                                       const std::vector<float>& lamp, const LitLight& light, float ground, const Job& job) {
    std::vector<LitRoom> rooms;
    for (const LitSurface& surface : surfaces) rooms.push_back(room_for(light, surface.finish));
    const float beside = to_encoded(ground);
    std::vector<std::uint32_t> pixels(geometry.size.pixels());
    const int width = geometry.size.width;
    for_rows(job, geometry.size.height, [&](int first, int last) {
        LitShader shader;
        std::vector<LitTexel> found(lit_most);
        std::vector<float> u(lit_most), v(lit_most);
        for (int y = first; y < last; ++y)
            for (int begin = 0, count = 0; begin < width; begin += count) {
                const auto start =
                    static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(begin);
                count = alike(geometry.material, start, std::min(lit_most, width - begin));
                const std::size_t which = geometry.material.empty() ? 0 : geometry.material[start];
                const LitSurface& surface = surfaces[which];
                const auto across = static_cast<float>(surface.across), down = static_cast<float>(surface.down);
                for (std::size_t k = 0; k < static_cast<std::size_t>(count); ++k)
                    u[k] = geometry.u[start + k] * across, v[k] = geometry.v[start + k] * down;
                const Size size = surface.material->size();
                const LitTexels texels{&surface.material->texels().front().red, size.width, size.height};
                lit_read(texels, u.data(), v.data(), count, &found.front().red);
                const LitPlaces places{&geometry.normal_x[start], &geometry.normal_y[start],
                                       &geometry.normal_z[start], &geometry.along_x[start],
                                       &geometry.along_y[start],  &geometry.along_z[start],
                                       &geometry.shade[start],    lamp.empty() ? nullptr : &lamp[start]};
                shader.shade(found.data(), places, count, rooms[which]);
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
    std::vector<std::uint32_t> smoothed;
    for (const LitGeometry::Edge& edge : geometry.edges) smoothed.push_back(mean_of(pixels, edge.of));
    for (std::size_t k = 0; k < smoothed.size(); ++k) pixels[geometry.edges[k].pixel] = smoothed[k];
    return pixels;
}

std::vector<std::uint32_t> lit_picture(const LitMaterial& material, const LitGeometry& geometry, const LitLight& light,
                                       float ground, const Job& job, const LitFinish& finish) {
    const std::vector<LitSurface> all(geometry.material.empty() ? 1 : std::size(scene_place_table), {&material, finish});
    return lit_picture(all, geometry, {}, light, ground, job);
}

}  // namespace loom
