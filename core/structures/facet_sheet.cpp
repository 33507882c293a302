// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Crumpled sheets: heights at scattered points, joined by the Delaunay triangles (the dual of the points' Voronoi cells, so that
// they close over the tile edge) and read at bent places; several sizes are summed, the finer ones in some areas only.
#include "core/structures/facet_sheet.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/sample_kernel.h"
#include "core/noise/cell_points.h"
#include "core/noise/clouds.h"
#include "core/structures/drift.h"
#include "core/structures/throws.h"
#include "core/structures/object_sheet.h"

namespace loom {

namespace {

using Settings = FacetSheet;

constexpr int most_points = 1 << 16;
constexpr double finest_facet_px = 1.2;  ///< pixels of the picture a spacing

/// Points of one level with heights of deviation about 1.
struct FacetLevel {
    std::shared_ptr<const Cells> laid;
    std::vector<float> heights;
    double spacing_u, spacing_v;  // tiles a spacing
};

FacetLevel sheet_of(const Settings& s, const StepContext& context, int count, int level) {
    FacetLevel sheet;
    CellLayout layout;
    const double shape = std::sqrt(static_cast<double>(context.tile.width) / context.tile.height);
    layout.width = std::sqrt(static_cast<double>(count)) * shape, layout.height = std::sqrt(static_cast<double>(count)) / shape;
    layout.seed = mix64(context.seed, 0x666163 + static_cast<std::uint64_t>(level));
    layout.relaxation = level == 0 ? 1 : 0;
    if (s.clumping > 0 && level > 0) {
        // Denser and thinner areas, a few over the tile.
        const double strength = s.clumping / 100 * 1.8,
                     a = 6.283185307179586 * static_cast<double>(unit_float(mix64(layout.seed, 1))),
                     b = 6.283185307179586 * static_cast<double>(unit_float(mix64(layout.seed, 2)));
        layout.density_key = Key{}.add(strength).add(a).add(b).low;
        layout.density = [=](double u, double v) {
            return std::exp(strength *
                            (std::sin(6.283185307179586 * (2 * u + v) + a) + std::sin(6.283185307179586 * (3 * v - u) + b)) / 2);
        };
    }
    sheet.laid = kept_cells(layout, *context.job);
    const Cells& cells = *sheet.laid;
    sheet.spacing_u = 1 / layout.width, sheet.spacing_v = 1 / layout.height;
    std::vector<float> raw;
    for (std::size_t k = 0; k < cells.size(); ++k) raw.push_back(std::clamp(normal_draw(mix64(layout.seed, 3), k), -2.5f, 2.5f));
    // Neighbours are evened out, or single points would be spikes; then slopes beyond the limit give way.
    for (std::size_t k = 0; k < raw.size(); ++k) {
        float sum = 0, weight = 0;
        for (const CellNeighbour& n : cells[k].neighbours) {
            const auto w = static_cast<float>(std::exp(-(n.dx * n.dx + n.dy * n.dy) / 0.6));
            sum += w * raw[static_cast<std::size_t>(n.cell)], weight += w;
        }
        sheet.heights.push_back(1.25f * (raw[k] + sum) / (1 + weight));
    }
    const auto limit = static_cast<float>(0.4 + 3.2 * s.slope_limit / 100);
    for (int pass = 0; pass < 6; ++pass) {
        const std::vector<float> before = sheet.heights;
        for (std::size_t k = 0; k < before.size(); ++k) {
            float pull = 0;
            for (const CellNeighbour& n : cells[k].neighbours) {
                const float most = limit * static_cast<float>(std::max(0.25, std::sqrt(n.dx * n.dx + n.dy * n.dy)));
                const float rise = before[static_cast<std::size_t>(n.cell)] - before[k];
                if (std::abs(rise) > most) pull += 0.5f * (rise - std::copysign(most, rise));
            }
            sheet.heights[k] += pull / 2;
        }
    }
    return sheet;
}

struct Triangle {
    float x[3], y[3], z[3];
};

/// Every triangle once (or with the same heights again), in pixels.
std::vector<Triangle> triangles_of(const FacetLevel& sheet, Size size) {
    std::vector<Triangle> triangles;
    const double sx = sheet.spacing_u * size.width, sy = sheet.spacing_v * size.height;
    const Cells& cells = *sheet.laid;
    for (std::size_t k = 0; k < cells.size(); ++k) {
        const Cell& cell = cells[k];
        // In order round the cell, as its corners are.
        const std::span<const CellNeighbour> round = cell.neighbours;
        for (std::size_t n = 0; n < round.size(); ++n) {
            const CellNeighbour &a = round[n], &b = round[(n + 1) % round.size()];
            if (static_cast<int>(k) > a.cell || static_cast<int>(k) > b.cell) continue;
            const double x = cell.x * sx - 0.5, y = cell.y * sy - 0.5;
            triangles.push_back({{static_cast<float>(x), static_cast<float>(x + a.dx * sx), static_cast<float>(x + b.dx * sx)},
                                 {static_cast<float>(y), static_cast<float>(y + a.dy * sy), static_cast<float>(y + b.dy * sy)},
                                 {sheet.heights[k], sheet.heights[static_cast<std::size_t>(a.cell)],
                                  sheet.heights[static_cast<std::size_t>(b.cell)]}});
        }
    }
    return triangles;
}

Plane drawn(const FacetLevel& sheet, const StepContext& context) {
    const Size size = context.size;
    Plane out(size, 0.0f);
    const std::vector<Triangle> triangles = triangles_of(sheet, size);
    std::vector<ObjectBox> boxes;
    for (const Triangle& t : triangles)
        boxes.push_back({std::min({t.x[0], t.x[1], t.x[2]}), std::min({t.y[0], t.y[1], t.y[2]}),
                         std::max({t.x[0], t.x[1], t.x[2]}), std::max({t.y[0], t.y[1], t.y[2]})});
    for_object_bands(*context.job, size, boxes, 32, [&](int first, int last, const std::vector<ObjectCopy>& copies) {
        for (const ObjectCopy& copy : copies) {
            const Triangle& t = triangles[copy.object];
            const float ax = t.x[1] - t.x[0], ay = t.y[1] - t.y[0], bx = t.x[2] - t.x[0], by = t.y[2] - t.y[0];
            const float area = ax * by - ay * bx;
            if (std::abs(area) < 1e-9f) continue;
            const float az = t.z[1] - t.z[0], bz = t.z[2] - t.z[0];
            const float slope_x = (az * by - bz * ay) / area, slope_y = (bz * ax - az * bx) / area;
            const int from = std::max(first, static_cast<int>(std::ceil(boxes[copy.object].top + copy.dy - 0.01f))),
                      to = std::min(last - 1, static_cast<int>(std::floor(boxes[copy.object].bottom + copy.dy + 0.01f)));
            for (int y = from; y <= to; ++y) {
                const float row = static_cast<float>(y) - copy.dy;
                float left = 1e9f, right = -1e9f;
                for (int k = 0; k < 3; ++k) {
                    const int n = (k + 1) % 3;
                    const float low = std::min(t.y[k], t.y[n]), high = std::max(t.y[k], t.y[n]);
                    // A hair more than the triangle: neighbours agree there, and no pixel falls between them.
                    if (row < low - 0.01f || row > high + 0.01f) continue;
                    const float way = high > low ? std::clamp((row - t.y[k]) / (t.y[n] - t.y[k]), 0.0f, 1.0f) : 0.0f;
                    const float x = t.x[k] + way * (t.x[n] - t.x[k]);
                    left = std::min(left, x), right = std::max(right, x);
                    if (high - low < 0.02f) left = std::min({left, t.x[k], t.x[n]}), right = std::max({right, t.x[k], t.x[n]});
                }
                const int x0 = std::max(0, static_cast<int>(std::ceil(left + copy.dx - 0.02f))),
                          x1 = std::min(size.width - 1, static_cast<int>(std::floor(right + copy.dx + 0.02f)));
                const float start = t.z[0] + slope_y * (row - t.y[0]) - slope_x * (t.x[0] + copy.dx);
                float* to_row = out.row(y);
                for (int x = x0; x <= x1; ++x) to_row[x] = start + slope_x * static_cast<float>(x);
            }
        }
    });
    return out;
}

}  // namespace

Bundle facet_sheet(const FacetSheet& s, const StepContext& context) {
    const Size size = context.size;
    Plane sum(size, 0.0f);
    double variance = 0;
    for (int level = 0; level < s.levels; ++level) {
        const int count = static_cast<int>(std::min<double>(most_points, s.count * std::pow(4.0, level)));
        // Finer sheets are as steep as coarse ones where they show, and show in some areas only.
        const auto amplitude = static_cast<float>(std::pow(0.52, level));
        variance += static_cast<double>(amplitude * amplitude) * (level == 0 ? 0.36 : 0.16);
        // Facets not much larger than a pixel would be dust.
        if (level > 0 && static_cast<double>(size.pixels()) < finest_facet_px * finest_facet_px * count) continue;
        const FacetLevel sheet = sheet_of(s, context, count, level);
        const Plane plane = drawn(sheet, context);
        const double spacing_px = sheet.spacing_u * context.tile.width;
        DriftSettings bend;
        bend.distance_px = s.bend * std::pow(0.55, level);
        bend.size_x_px = bend.size_y_px = std::max(8.0, 1.6 * spacing_px);
        bend.octaves = 2, bend.seed = mix64(context.seed, 0x62656e64 + static_cast<std::uint64_t>(level));
        const Drift drift(bend, context);
        CloudSettings areas;
        areas.across = areas.down = 4 + 3 * level, areas.octaves = 2,
        areas.seed = mix64(context.seed, 0x61726561 + static_cast<std::uint64_t>(level));
        const CloudField mask(areas, size, context.job);
        for_rows(*context.job, size.height, [&](int first, int last) {
            const auto padded = static_cast<std::size_t>(std::max(drift.padded_width(), mask.padded_width()));
            std::vector<float> du(padded), dv(padded), share(padded), x(padded), y(padded), read(padded);
            const float* source = plane.data();
            float* result = read.data();
            for (int row = first; row < last; ++row) {
                drift.row(row, du.data(), dv.data());
                for (int k = 0; k < size.width; ++k) {
                    const auto at = static_cast<std::size_t>(k);
                    x[at] = static_cast<float>(k) + du[at] * static_cast<float>(size.width);
                    y[at] = static_cast<float>(row) + dv[at] * static_cast<float>(size.height);
                }
                read_bilinear(&source, 1, size, x.data(), y.data(), size.width, &result);
                if (level > 0) mask.row(row, share.data());
                float* to = sum.row(row);
                for (int k = 0; k < size.width; ++k) {
                    const auto at = static_cast<std::size_t>(k);
                    const float part = level > 0 ? std::clamp(0.5f + 0.55f * share[at], 0.12f, 1.0f) : 1.0f;
                    to[k] += amplitude * part * read[at];
                }
            }
        });
    }
    // Creases are sharp here and worn there.
    const double scale = std::sqrt(context.scale_x() * context.scale_y()), soft_px = 0.3 + 3.2 * (1 - s.sharpness / 100);
    const Plane soft = gaussian_blur(sum, soft_px * scale, soft_px * scale, *context.job);
    CloudSettings worn;
    worn.across = worn.down = 5, worn.octaves = 3, worn.seed = mix64(context.seed, 0x776f726e);
    const CloudField where(worn, size, context.job);
    const auto spread = static_cast<float>(s.sharpness_spread / 100), gain = static_cast<float>(0.17 / std::sqrt(variance));
    Plane out(size);
    for_rows(*context.job, size.height, [&](int first, int last) {
        std::vector<float> mask(static_cast<std::size_t>(where.padded_width()));
        for (int y = first; y < last; ++y) {
            where.row(y, mask.data());
            const float *sharp = sum.row(y), *blurred = soft.row(y);
            float* to = out.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float t = std::clamp(0.5f + spread * mask[static_cast<std::size_t>(x)], 0.0f, 1.0f);
                to[x] = 0.5f + gain * (sharp[x] + t * (blurred[x] - sharp[x]));
            }
        }
    });
    Bundle result = Bundle::of(std::move(out));
    if (context.wants(height_plane)) result.named[std::string(height_plane)] = result.colour[0];
    return result;
}

}  // namespace loom
