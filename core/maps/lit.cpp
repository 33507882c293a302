// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/maps/lit.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/quick_math.h"
#include "core/colour/colour.h"
#include "core/maps/lit_kernel.h"

namespace loom {

namespace {

constexpr double pi = std::numbers::pi;

/// The room, made by ourselves: a large soft ceiling, a window at each side, one low behind whoever looks, a warm floor.
LitRoom room_for(const LitLight& light) {
    LitRoom room{};
    const double elevation = light.elevation * pi / 180, direction = light.direction * pi / 180;
    room.lamp_x = static_cast<float>(std::cos(elevation) * std::cos(direction));
    room.lamp_y = static_cast<float>(std::cos(elevation) * std::sin(direction));
    room.lamp_z = static_cast<float>(std::sin(elevation));
    room.lamp = 2.6f;
    // Opposite, lower and broad.
    const double second = direction + pi * 0.83, low = 0.62;
    room.second_x = static_cast<float>(std::cos(low) * std::cos(second));
    room.second_y = static_cast<float>(std::cos(low) * std::sin(second));
    room.second_z = static_cast<float>(std::sin(low));
    room.second = 0.75f;
    room.ambient = 0.10f;
    const LitLobe lobes[] = {
        {0.0f, 0.86f, 0.51f, 5.0f, 0.62f, 0.65f, 0.70f},   {-0.89f, 0.22f, 0.40f, 18.0f, 1.00f, 0.98f, 0.94f},
        {0.93f, 0.12f, 0.35f, 26.0f, 0.70f, 0.72f, 0.76f}, {0.25f, 0.32f, 0.91f, 9.0f, 0.30f, 0.30f, 0.30f},
        {0.0f, -0.90f, 0.43f, 3.0f, 0.17f, 0.15f, 0.13f},  {-0.35f, 0.60f, 0.72f, 60.0f, 0.85f, 0.85f, 0.85f},
    };
    room.lobes = static_cast<int>(std::size(lobes));
    std::copy(std::begin(lobes), std::end(lobes), room.lobe);
    room.exposure = static_cast<float>(0.95 * std::exp2(light.exposure));
    return room;
}

/// Linear light as sRGB bytes, by its place in a table that is fine where the curve is steep.
class Encoder {
public:
    Encoder() {
        for (std::size_t k = 0; k < table_.size(); ++k) {
            const double root = (static_cast<double>(k) + 0.5) / static_cast<double>(table_.size());
            table_[k] =
                static_cast<std::uint8_t>(std::clamp(to_encoded(static_cast<float>(root * root)) * 255.0f + 0.5f, 0.0f, 255.0f));
        }
    }
    std::uint32_t operator()(float value) const {
        const float root = std::sqrt(within(value, 0.0f, 1.0f));
        return table_[std::min(table_.size() - 1, static_cast<std::size_t>(root * static_cast<float>(table_.size())))];
    }

private:
    std::array<std::uint8_t, 2048> table_;
};

/// The values of one run of pixels, array by array.
struct Arrays {
    static constexpr int most = lit_most;
    float red[most], green[most], blue[most], rough[most], metal[most], open[most], bump_x[most], bump_y[most], brush_c[most],
        brush_s[most], seen[most], out_red[most], out_green[most], out_blue[most];
    LitMaterial::Texel found[most];
};

static_assert(sizeof(LitMaterial::Texel) == lit_texel * sizeof(float));

/// Share of the lamp that is seen over the heights around: 1 above their horizon, falling over a lamp's own width.
float lamp_seen(const float* horizon, float across, float up, float facing) {
    const float level = std::sqrt(across * across + up * up);
    if (level < 1e-3f) return 1;
    // Along a square instead of the circle: the same in all eight directions, and near enough between them.
    const float wide = std::abs(across), high = std::abs(up), share = high / (wide + high);
    const float quarter = across >= 0 ? (up >= 0 ? share : 4 - share) : (up >= 0 ? 2 - share : 2 + share);
    const float place = quarter * (LitMaterial::horizons / 4);
    const int first = static_cast<int>(place) % LitMaterial::horizons, next = (first + 1) % LitMaterial::horizons;
    const float between = place - std::floor(place);
    const float sky = horizon[first] + (horizon[next] - horizon[first]) * between;
    constexpr float width = 0.12f;
    const float t = std::clamp((facing / level - sky) / width + 0.5f, 0.0f, 1.0f);
    return t * t * (3 - 2 * t);
}

}  // namespace

LitMaterial::LitMaterial(const Maps& maps, const Job& job) : size_(maps.colour.size()), texels_(size_.pixels()) {
    const Plane* cover = maps.colour.coverage.get();
    const float *r = maps.colour.channel(0).data(), *g = maps.colour.channel(1).data(), *b = maps.colour.channel(2).data();
    const auto value = [](const PlaneRef& plane, std::size_t i, float otherwise) { return plane ? plane->data()[i] : otherwise; };
    for_values(job, maps.colour.channel(0), [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) {
            Texel& texel = texels_[i];
            const float covered = cover ? within(cover->data()[i], 0.0f, 1.0f) : 1.0f, scale = covered > 0 ? 1 / covered : 0.0f;
            float colour[3] = {within(r[i] * scale, 0.0f, 1.0f), within(g[i] * scale, 0.0f, 1.0f),
                               within(b[i] * scale, 0.0f, 1.0f)};
            make_linear(colour, 3);
            texel.red = colour[0], texel.green = colour[1], texel.blue = colour[2];
            texel.rough = within(value(maps.roughness, i, 0.5f), 0.03f, 1.0f);
            texel.metal = within(value(maps.metalness, i, 0.0f), 0.0f, 1.0f);
            texel.open = within(value(maps.occlusion, i, 1.0f), 0.0f, 1.0f);
            texel.normal_x = maps.normal.empty() ? 0.0f : 2 * within(maps.normal.channel(0).data()[i], 0.0f, 1.0f) - 1;
            texel.normal_y = maps.normal.empty() ? 0.0f : 2 * within(maps.normal.channel(1).data()[i], 0.0f, 1.0f) - 1;
            texel.brush_c = texel.brush_s = 0;
            if (!maps.brushing.empty()) {
                const float x = 2 * within(maps.brushing.channel(0).data()[i], 0.0f, 1.0f) - 1,
                            y = 2 * within(maps.brushing.channel(1).data()[i], 0.0f, 1.0f) - 1,
                            strength = within(maps.brushing.channel(2).data()[i], 0.0f, 1.0f);
                texel.brush_c = strength * (x * x - y * y), texel.brush_s = strength * 2 * x * y;
            }
            texel.cover = covered;
            std::fill(std::begin(texel.spare), std::end(texel.spare), 0.0f);
            texel.horizon.fill(-10);
        }
    });
    if (maps.height) find_horizons(*maps.height, static_cast<float>(maps.deep), job);
}

void LitMaterial::find_horizons(const Plane& height, float deep, const Job& job) {
    // Farther and farther apart: what is far has to be high to matter.
    constexpr int steps[] = {1, 2, 3, 5, 8, 13, 21, 34};
    for_rows(job, size_.height, [&](int first, int last) {
        std::vector<float> best(static_cast<std::size_t>(size_.width));
        for (int y = first; y < last; ++y)
            for (int k = 0; k < horizons; ++k) {
                std::fill(best.begin(), best.end(), -10.0f);
                const double angle = 2 * pi * k / horizons;
                const float* here = height.row(y);
                for (int step : steps) {
                    const int dx = static_cast<int>(std::lround(step * std::cos(angle))),
                              dy = -static_cast<int>(std::lround(step * std::sin(angle)));
                    const float* there = height.row(wrap(y + dy, size_.height));
                    const float slope = deep / static_cast<float>(std::hypot(dx, dy));
                    // In two runs, as one end wraps.
                    const int from = wrap(dx, size_.width), joint = size_.width - from;
                    for (int x = 0; x < joint; ++x)
                        best[static_cast<std::size_t>(x)] =
                            std::max(best[static_cast<std::size_t>(x)], (there[x + from] - here[x]) * slope);
                    for (int x = joint; x < size_.width; ++x)
                        best[static_cast<std::size_t>(x)] =
                            std::max(best[static_cast<std::size_t>(x)], (there[x + from - size_.width] - here[x]) * slope);
                }
                Texel* row = texels_.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(size_.width);
                for (int x = 0; x < size_.width; ++x)
                    row[x].horizon[static_cast<std::size_t>(k)] = best[static_cast<std::size_t>(x)];
            }
    });
}

std::vector<std::uint32_t> lit_picture(const LitMaterial& material, const LitGeometry& geometry, const LitLight& light,
                                       float ground, const Job& job) {
    static const Encoder encoder;
    const LitRoom room = room_for(light);
    std::vector<std::uint32_t> pixels(geometry.size.pixels());
    const int width = geometry.size.width;
    const LitTexels texels{&material.texels().front().red, material.size().width, material.size().height};
    for_rows(job, geometry.size.height, [&](int first, int last) {
        auto arrays = std::make_unique<Arrays>();
        for (int y = first; y < last; ++y)
            for (int begin = 0; begin < width; begin += Arrays::most) {
                const int count = std::min(Arrays::most, width - begin);
                const auto start =
                    static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(begin);
                float covers[Arrays::most];
                lit_read(texels, &geometry.u[start], &geometry.v[start], count, reinterpret_cast<float*>(arrays->found));
                for (int k = 0; k < count; ++k) {
                    const std::size_t i = start + static_cast<std::size_t>(k);
                    covers[k] = geometry.cover[i];
                    const LitMaterial::Texel& found = arrays->found[k];
                    arrays->red[k] = found.red, arrays->green[k] = found.green, arrays->blue[k] = found.blue;
                    arrays->rough[k] = found.rough, arrays->metal[k] = found.metal, arrays->open[k] = found.open;
                    arrays->bump_x[k] = found.normal_x, arrays->bump_y[k] = found.normal_y;
                    arrays->brush_c[k] = found.brush_c, arrays->brush_s[k] = found.brush_s;
                    covers[k] *= found.cover;
                    // The lamp as the surface sees it: along, across and above.
                    const float nx = geometry.normal_x[i], ny = geometry.normal_y[i], nz = geometry.normal_z[i];
                    const float ax = geometry.along_x[i], ay = geometry.along_y[i], az = geometry.along_z[i];
                    const float across = room.lamp_x * ax + room.lamp_y * ay + room.lamp_z * az;
                    const float facing = room.lamp_x * nx + room.lamp_y * ny + room.lamp_z * nz;
                    const float up =
                        room.lamp_x * (ny * az - nz * ay) + room.lamp_y * (nz * ax - nx * az) + room.lamp_z * (nx * ay - ny * ax);
                    arrays->seen[k] = covers[k] > 0 ? lamp_seen(found.horizon.data(), across, up, facing) : 0.0f;
                }
                const LitRun run{count,
                                 &geometry.normal_x[start],
                                 &geometry.normal_y[start],
                                 &geometry.normal_z[start],
                                 &geometry.along_x[start],
                                 &geometry.along_y[start],
                                 &geometry.along_z[start],
                                 &geometry.shade[start],
                                 arrays->red,
                                 arrays->green,
                                 arrays->blue,
                                 arrays->rough,
                                 arrays->metal,
                                 arrays->open,
                                 arrays->bump_x,
                                 arrays->bump_y,
                                 arrays->brush_c,
                                 arrays->brush_s,
                                 arrays->seen,
                                 arrays->out_red,
                                 arrays->out_green,
                                 arrays->out_blue};
                lit_shade(run, room);
                for (int k = 0; k < count; ++k) {
                    const float covered = covers[k], rest = (1 - covered) * ground;
                    const auto byte = [&](float value) { return encoder(value * covered + rest); };
                    pixels[start + static_cast<std::size_t>(k)] = 0xff000000u | byte(arrays->out_red[k]) << 16 |
                                                                  byte(arrays->out_green[k]) << 8 | byte(arrays->out_blue[k]);
                }
            }
    });
    return pixels;
}

}  // namespace loom
