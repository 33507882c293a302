// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/lit_material.h"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/base/quick_math.h"
#include "core/colour/colour.h"
#include "core/image/gaussian.h"

namespace loom {

namespace {

constexpr int horizons = LitTexel::horizons;

/// How far horizons look, pixel by pixel at first and then farther and farther apart: what is far has to be high to matter.
std::vector<int> horizon_steps(double scale) {
    constexpr double farthest_px = 34, ratio = 1.6;
    std::vector<int> steps;
    for (double step = 1; step < farthest_px * scale * ratio; step = std::max(step + 1, std::round(step * ratio)))
        steps.push_back(static_cast<int>(std::min(step, std::max(1.0, farthest_px * scale))));
    if (steps.empty()) steps.push_back(1);
    return steps;
}

/// Between which two of the directions of horizons a way lies.
struct Between {
    int first, next;
    float share;
};
Between between(float across, float up) {
    // Along a square instead of the circle: the same in all eight directions, and near enough between them.
    const float wide = std::abs(across), high = std::abs(up), share = high / (wide + high);
    const float quarter = across >= 0 ? (up >= 0 ? share : 4 - share) : (up >= 0 ? 2 - share : 2 + share);
    const float place = quarter * (horizons / 4), whole = std::floor(place);
    const int first = static_cast<int>(place) % horizons;
    return {first, (first + 1) % horizons, place - whole};
}

/// Share of the lamp that is seen over a horizon: falls over the lamp's own width; as that is an angle, shadows are the softer
/// the farther they fall.
float seen_over(float sky, float level, float facing, float width) {
    const float t = std::clamp((facing / level - sky) / width + 0.5f, 0.0f, 1.0f);
    return t * t * (3 - 2 * t);
}
constexpr float least_level = 1e-3f;  ///< of a lamp that does not stand straight above

float lamp_seen(const float* horizon, float across, float up, float facing, float width) {
    const float level = std::sqrt(across * across + up * up);
    if (level < least_level) return 1;
    const Between at = between(across, up);
    return seen_over(horizon[at.first] + (horizon[at.next] - horizon[at.first]) * at.share, level, facing, width);
}

/// The horizons of a row in one of the directions.
void find_horizon(const Plane& height, double deep, const std::vector<int>& steps, int direction, int y, float* best) {
    const Size size = height.size();
    std::fill_n(best, size.width, -10.0f);
    const double angle = 2 * std::numbers::pi * direction / horizons;
    const float* here = height.row(wrap(y, size.height));
    for (int step : steps) {
        const int dx = static_cast<int>(std::lround(step * std::cos(angle))),
                  dy = -static_cast<int>(std::lround(step * std::sin(angle)));
        const float* there = height.row(wrap(y + dy, size.height));
        const auto slope = static_cast<float>(deep / std::hypot(dx, dy));
        // In two runs, as one end wraps.
        const int from = wrap(dx, size.width), joint = size.width - from;
        for (int x = 0; x < joint; ++x) best[x] = std::max(best[x], (there[x + from] - here[x]) * slope);
        for (int x = joint; x < size.width; ++x) best[x] = std::max(best[x], (there[x + from - size.width] - here[x]) * slope);
    }
}

void find_horizons(const Plane& height, double deep, double scale, int first, int last, LitTexel* texels) {
    const std::vector<int> steps = horizon_steps(scale);
    const int width = height.width();
    std::vector<float> best(static_cast<std::size_t>(width));
    for (int y = first; y < last; ++y)
        for (int k = 0; k < horizons; ++k) {
            find_horizon(height, deep, steps, k, y, best.data());
            LitTexel* row = texels + static_cast<std::size_t>(y - first) * static_cast<std::size_t>(width);
            for (int x = 0; x < width; ++x) row[x].horizon[static_cast<std::size_t>(k)] = best[static_cast<std::size_t>(x)];
        }
}

/// Two blurs of a plane, half and half.
Plane softened(const Plane& plane, const Scales& scales, Rows rows, const Job& job) {
    Plane sum = gaussian_blur(plane, spread_px[0] * scales.x(), spread_px[0] * scales.y(), rows, job);
    const Plane wide = gaussian_blur(plane, spread_px[1] * scales.x(), spread_px[1] * scales.y(), rows, job);
    for_values(job, sum, [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) sum.data()[i] = 0.5f * (sum.data()[i] + wide.data()[i]);
    });
    return sum;
}

}  // namespace

int horizon_reach(double scale) { return horizon_steps(scale).back(); }

void find_texels(const LitMaps& maps, int first, int last, LitTexel* texels) {
    const int width = maps.colour.size().width, height = maps.colour.size().height;
    const auto value = [](const float* row, int x, float otherwise) { return row ? row[x] : otherwise; };
    for (int y = first; y < last; ++y) {
        const int at = wrap(y, height);
        const auto row = [&](const PlaneRef& plane) { return plane ? plane->row(at) : nullptr; };
        const auto channel = [&](const Bundle& map, int c) { return map.empty() ? nullptr : map.channel(c).row(at); };
        const float *r = channel(maps.colour, 0), *g = channel(maps.colour, 1), *b = channel(maps.colour, 2);
        const float *cover = row(maps.colour.coverage), *rough = row(maps.roughness), *metal = row(maps.metalness),
                    *open = row(maps.occlusion), *nx = channel(maps.normal, 0), *ny = channel(maps.normal, 1),
                    *bx = channel(maps.brushing, 0), *by = channel(maps.brushing, 1), *strength = channel(maps.brushing, 2);
        LitTexel* texel = texels + static_cast<std::size_t>(y - first) * static_cast<std::size_t>(width);
        for (int x = 0; x < width; ++x, ++texel) {
            const float covered = within(value(cover, x, 1.0f), 0.0f, 1.0f), scale = covered > 0 ? 1 / covered : 0.0f;
            float colour[3] = {within(r[x] * scale, 0.0f, 1.0f), within(g[x] * scale, 0.0f, 1.0f),
                               within(b[x] * scale, 0.0f, 1.0f)};
            make_linear(colour, 3);
            texel->red = colour[0], texel->green = colour[1], texel->blue = colour[2];
            texel->rough = within(value(rough, x, 0.5f), 0.03f, 1.0f), texel->metal = within(value(metal, x, 0.0f), 0.0f, 1.0f);
            texel->open = within(value(open, x, 1.0f), 0.0f, 1.0f);
            texel->normal_x = 2 * within(value(nx, x, 0.5f), 0.0f, 1.0f) - 1;
            texel->normal_y = 2 * within(value(ny, x, 0.5f), 0.0f, 1.0f) - 1;
            const float along = 2 * within(value(bx, x, 0.5f), 0.0f, 1.0f) - 1,
                        up = 2 * within(value(by, x, 0.5f), 0.0f, 1.0f) - 1,
                        brushed = within(value(strength, x, 0.0f), 0.0f, 1.0f);
            texel->brush_c = brushed * (along * along - up * up), texel->brush_s = brushed * 2 * along * up;
            texel->cover = covered;
            std::fill(std::begin(texel->spare), std::end(texel->spare), 0.0f);
            texel->horizon.fill(-10);
        }
    }
    if (maps.height) find_horizons(*maps.height, maps.deep, maps.scale, first, last, texels);
}

/// The values of one run of pixels, array by array.
struct LitShader::Arrays {
    float red[lit_most], green[lit_most], blue[lit_most], rough[lit_most], metal[lit_most], open[lit_most], bump_x[lit_most],
        bump_y[lit_most], brush_c[lit_most], brush_s[lit_most], seen[lit_most], out_red[lit_most], out_green[lit_most],
        out_blue[lit_most];
};

LitShader::LitShader() : arrays_(std::make_unique<Arrays>()) {}
LitShader::LitShader(LitShader&&) noexcept = default;
LitShader::~LitShader() = default;
const float* LitShader::red() const { return arrays_->out_red; }
const float* LitShader::green() const { return arrays_->out_green; }
const float* LitShader::blue() const { return arrays_->out_blue; }

void LitShader::shade(const LitTexel* texels, const LitPlaces& places, int count, const LitRoom& room, const float* seen) {
    Arrays& a = *arrays_;
    const LitLamp& lamp = room.key;
    for (int k = 0; k < count; ++k) {
        const LitTexel& found = texels[k];
        a.red[k] = found.red, a.green[k] = found.green, a.blue[k] = found.blue;
        a.rough[k] = found.rough, a.metal[k] = found.metal, a.open[k] = found.open;
        a.bump_x[k] = found.normal_x, a.bump_y[k] = found.normal_y;
        a.brush_c[k] = found.brush_c, a.brush_s[k] = found.brush_s;
        if (seen) {
            a.seen[k] = seen[k];
            continue;
        }
        // The lamp as the surface sees it: along, across and above.
        const float nx = places.normal_x[k], ny = places.normal_y[k], nz = places.normal_z[k];
        const float ax = places.along_x[k], ay = places.along_y[k], az = places.along_z[k];
        const float across = lamp.x * ax + lamp.y * ay + lamp.z * az;
        const float facing = lamp.x * nx + lamp.y * ny + lamp.z * nz;
        const float up = lamp.x * (ny * az - nz * ay) + lamp.y * (nz * ax - nx * az) + lamp.z * (nx * ay - ny * ax);
        a.seen[k] = found.cover > 0 ? lamp_seen(found.horizon.data(), across, up, facing, room.penumbra) : 0.0f;
        if (places.lamp) a.seen[k] *= places.lamp[k];
    }
    const LitRun run{count,          places.normal_x, places.normal_y, places.normal_z, places.along_x, places.along_y,
                     places.along_z, places.shade,    a.red,           a.green,         a.blue,         a.rough,
                     a.metal,        a.open,          a.bump_x,        a.bump_y,        a.brush_c,      a.brush_s,
                     a.seen,         a.out_red,       a.out_green,     a.out_blue};
    lit_shade(run, room);
    for (float* values : {a.out_red, a.out_green, a.out_blue}) make_encoded(values, static_cast<std::size_t>(count));
}

Plane lamp_seen(const Plane& height, double deep, double scale, const LitLight& light, Rows rows, const Job& job) {
    const LitRoom room = room_for(light, {});
    const LitLamp& lamp = room.key;
    const float level = std::sqrt(lamp.x * lamp.x + lamp.y * lamp.y);
    Plane seen(height.size(), rows, 1.0f);
    if (level < least_level) return seen;
    const Between at = between(lamp.x, lamp.y);
    const std::vector<int> steps = horizon_steps(scale);
    for_rows(job, rows.count, [&](int first, int last) {
        std::vector<float> one(static_cast<std::size_t>(height.width())), other(one.size());
        for (int k = first; k < last; ++k) {
            const int y = wrap(rows.first + k, height.height());
            find_horizon(height, deep, steps, at.first, y, one.data());
            find_horizon(height, deep, steps, at.next, y, other.data());
            float* out = seen.row(y);
            for (std::size_t x = 0; x < one.size(); ++x)
                out[x] = seen_over(one[x] + (other[x] - one[x]) * at.share, level, lamp.z, room.penumbra);
        }
    });
    return seen;
}

Bundle lit_map(const LitMaps& maps, const Plane& seen, const LitLight& light, const LitFinish& finish, Rows rows,
               const Job& job) {
    const Size size = maps.colour.size();
    const LitRoom room = room_for(light, finish);
    std::vector<Plane> out;
    for (int c = 0; c < 3; ++c) out.emplace_back(size, rows);
    const std::vector<float> one(lit_most, 1.0f), none(lit_most, 0.0f);
    const LitPlaces flat{none.data(), none.data(), one.data(), one.data(), none.data(), none.data(), one.data()};
    // Some rows at a time: texels are large.
    constexpr int slice = 8;
    for_ranges(job, (rows.count + slice - 1) / slice, 1, [&](int from, int to) {
        LitShader shader;
        std::vector<LitTexel> texels(static_cast<std::size_t>(slice) * static_cast<std::size_t>(size.width));
        for (int part = from; part < to; ++part) {
            const int first = rows.first + part * slice, last = std::min(rows.end(), first + slice);
            find_texels(maps, first, last, texels.data());
            for (int y = first; y < last; ++y)
                for (int x = 0; x < size.width; x += lit_most) {
                    const int count = std::min(lit_most, size.width - x);
                    const LitTexel* run =
                        texels.data() + static_cast<std::size_t>(y - first) * static_cast<std::size_t>(size.width) + x;
                    shader.shade(run, flat, count, room, seen.row(wrap(y, size.height)) + x);
                    const float* const from_light[3] = {shader.red(), shader.green(), shader.blue()};
                    for (std::size_t c = 0; c < 3; ++c) {
                        float* to_row = out[c].row(wrap(y, size.height)) + x;
                        for (int k = 0; k < count; ++k) to_row[k] = from_light[c][k] * run[k].cover;
                    }
                }
        }
    });
    Bundle result = Bundle::of(std::move(out[0]), std::move(out[1]), std::move(out[2]));
    if (maps.colour.coverage) result.coverage = maps.colour.coverage->part(rows);
    return result;
}

Footprint spread_footprint(const Scales& scales) {
    return gaussian_footprint(spread_px[1] * scales.x(), spread_px[1] * scales.y());
}

Bundle spread_colour(const Bundle& colour, double spread, const Scales& scales, Rows rows, const Job& job) {
    // Never all of it: what is seen is seen at the surface first.
    const auto share_of = static_cast<float>(0.7 * spread / 100);
    std::optional<Plane> cover;
    const PlaneRef whole = colour.coverage;
    if (whole) cover = softened(*whole, scales, rows, job);
    Bundle result;
    for (const PlaneRef& channel : colour.colour) {
        Plane soft = softened(*channel, scales, rows, job);
        const PlaneRef sharp = channel->part(rows), covered = whole ? whole->part(rows) : nullptr;
        for_values(job, soft, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) {
                // What is beside the cloth sends no light into it.
                float& value = soft.data()[i];
                if (cover) value = value / std::max(cover->data()[i], 1e-4f) * covered->data()[i];
                value = sharp->data()[i] + share_of * (value - sharp->data()[i]);
            }
        });
        result.colour.push_back(share(std::move(soft)));
    }
    if (whole) result.coverage = whole->part(rows);
    return result;
}

}  // namespace loom
