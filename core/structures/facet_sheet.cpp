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
#include "core/image/plane_names.h"
#include "core/structures/density_map.h"
#include "core/structures/drift.h"
#include "core/structures/throws.h"
#include "core/structures/object_sheet.h"
#include "core/structures/supersampled.h"

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
    const auto clumps = level > 0 ? density_map(context.other("clumps")) : nullptr;
    if (clumps) {
        layout.density = [clumps](double u, double v) { return (*clumps)(u, v); };
    } else if (s.clumping > 0 && level > 0) {
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
    float bulge;           ///< height of its middle above its plane
    std::uint32_t number;  ///< from 1
};

/// Every triangle once (or with the same heights again), in pixels. `base`: what the points lie on, may be null. `shows` says how
/// far a place is among those that show: from 0 down it does not, from 1 up its points have their whole height, so that a patch
/// of them begins on what it lies on.
template <class Shows>
std::vector<Triangle> triangles_of(const FacetLevel& sheet, Size size, const Plane* base, float amplitude, double curvature,
                                   std::uint64_t seed, Shows&& shows) {
    std::vector<Triangle> triangles;
    const double sx = sheet.spacing_u * size.width, sy = sheet.spacing_v * size.height;
    const Cells& cells = *sheet.laid;
    const auto high = [&](std::size_t k, double x, double y) {
        const float own = amplitude * sheet.heights[k] * std::clamp(shows(x / size.width, y / size.height), 0.0f, 1.0f);
        return base ? own + sample_bilinear(*base, static_cast<float>(x), static_cast<float>(y)) : own;
    };
    for (std::size_t k = 0; k < cells.size(); ++k) {
        const Cell& cell = cells[k];
        // In order round the cell, as its corners are.
        const std::span<const CellNeighbour> round = cell.neighbours;
        for (std::size_t n = 0; n < round.size(); ++n) {
            const CellNeighbour &a = round[n], &b = round[(n + 1) % round.size()];
            if (static_cast<int>(k) > a.cell || static_cast<int>(k) > b.cell) continue;
            const double x = cell.x * sx - 0.5, y = cell.y * sy - 0.5, xs[] = {x, x + a.dx * sx, x + b.dx * sx},
                         ys[] = {y, y + a.dy * sy, y + b.dy * sy};
            if (shows((xs[0] + xs[1] + xs[2]) / 3 / size.width, (ys[0] + ys[1] + ys[2]) / 3 / size.height) <= 0) continue;
            const auto number = static_cast<std::uint32_t>(triangles.size()) + 1;
            const std::size_t corners[] = {k, static_cast<std::size_t>(a.cell), static_cast<std::size_t>(b.cell)};
            Triangle t{};
            for (std::size_t c = 0; c < 3; ++c) {
                t.x[c] = static_cast<float>(xs[c]), t.y[c] = static_cast<float>(ys[c]);
                t.z[c] = high(corners[c], xs[c], ys[c]);
            }
            t.bulge = amplitude * static_cast<float>(0.5 * curvature) * (unit_float(mix64(seed, number)) - 0.3f);
            t.number = number;
            triangles.push_back(t);
        }
    }
    return triangles;
}

/// What facets are drawn onto; planes that nobody reads are empty.
struct Drawing {
    Plane height, slope_x, slope_y, number, crease;
    explicit Drawing(Size size, bool slopes, bool creased) : height(size, 0.0f) {
        if (slopes) slope_x = Plane(size, 0.0f), slope_y = Plane(size, 0.0f), number = Plane(size, 0.0f);
        if (creased) crease = Plane(size, 0.0f);
    }
    std::vector<Plane*> planes() {
        std::vector<Plane*> all;
        for (Plane* each : {&height, &slope_x, &slope_y, &number, &crease})
            if (each->width() > 0) all.push_back(each);
        return all;
    }
};

/// Draws over what is there. `crease_px`: pixels over which creases fade; `creased`: how strong they are.
void draw(const std::vector<Triangle>& triangles, const StepContext& context, float crease_px, float creased, Drawing& out) {
    const Size size = context.size;
    std::vector<ObjectBox> boxes;
    for (const Triangle& t : triangles)
        boxes.push_back({std::min({t.x[0], t.x[1], t.x[2]}), std::min({t.y[0], t.y[1], t.y[2]}),
                         std::max({t.x[0], t.x[1], t.x[2]}), std::max({t.y[0], t.y[1], t.y[2]})});
    const bool marks = out.crease.width() > 0, numbers = out.number.width() > 0;
    for_object_bands(*context.job, size, boxes, 32, [&](int first, int last, const std::vector<ObjectCopy>& copies) {
        for (const ObjectCopy& copy : copies) {
            const Triangle& t = triangles[copy.object];
            const float ax = t.x[1] - t.x[0], ay = t.y[1] - t.y[0], bx = t.x[2] - t.x[0], by = t.y[2] - t.y[0];
            const float area = ax * by - ay * bx;
            if (std::abs(area) < 1e-9f) continue;
            const float az = t.z[1] - t.z[0], bz = t.z[2] - t.z[0];
            const float slope_x = (az * by - bz * ay) / area, slope_y = (bz * ax - az * bx) / area;
            // Shares of the second and the third corner rise evenly; the heights over the sides tell distances from shares.
            const float second_x = by / area, second_y = -bx / area, third_x = -ay / area, third_y = ax / area;
            const float tall = std::abs(area),
                        far[] = {tall / std::hypot(bx - ax, by - ay), tall / std::hypot(bx, by), tall / std::hypot(ax, ay)};
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
                float* to_row = out.height.row(y);
                for (int x = x0; x <= x1; ++x) to_row[x] = start + slope_x * static_cast<float>(x);
                if (t.bulge == 0 && !marks && !numbers) continue;
                for (int x = x0; x <= x1; ++x) {
                    const float px = static_cast<float>(x) - t.x[0] - copy.dx, py = row - t.y[0];
                    const float b = second_x * px + second_y * py, c = third_x * px + third_y * py, a = 1 - b - c;
                    // 27 abc is 0 at all sides and 1 in the middle.
                    to_row[x] += t.bulge * 27 * a * b * c;
                    if (numbers) {
                        const float bent = 27 * t.bulge, da = -(second_x + third_x), da_y = -(second_y + third_y);
                        out.slope_x.row(y)[x] = slope_x + bent * (da * b * c + a * second_x * c + a * b * third_x);
                        out.slope_y.row(y)[x] = slope_y + bent * (da_y * b * c + a * second_y * c + a * b * third_y);
                        out.number.row(y)[x] = static_cast<float>(t.number);
                    }
                    if (marks) {
                        const float near = std::max(0.0f, std::min({a * far[0], b * far[1], c * far[2]}));
                        out.crease.row(y)[x] = creased * std::exp(-near / crease_px);
                    }
                }
            }
        }
    });
}

/// Planes of the drawing at places that are bent; numbers are never mixed.
void bend(Drawing& drawing, const Drift& drift, const StepContext& context) {
    const Size size = context.size;
    std::vector<Plane*> planes = drawing.planes();
    std::vector<Plane> bent;
    for (std::size_t k = 0; k < planes.size(); ++k) bent.emplace_back(size);
    for_rows(*context.job, size.height, [&](int first, int last) {
        const auto padded = static_cast<std::size_t>(drift.padded_width());
        std::vector<float> du(padded), dv(padded), x(padded), y(padded);
        for (int row = first; row < last; ++row) {
            drift.row(row, du.data(), dv.data());
            for (int k = 0; k < size.width; ++k) {
                const auto at = static_cast<std::size_t>(k);
                x[at] = static_cast<float>(k) + du[at] * static_cast<float>(size.width);
                y[at] = static_cast<float>(row) + dv[at] * static_cast<float>(size.height);
            }
            for (std::size_t p = 0; p < planes.size(); ++p) {
                float* to = bent[p].row(row);
                const float* from = planes[p]->data();
                // Slopes too belong to one facet each.
                const bool whole = planes[p] == &drawing.number || planes[p] == &drawing.slope_x || planes[p] == &drawing.slope_y;
                if (!whole) {
                    read_bilinear(&from, 1, size, x.data(), y.data(), size.width, &to);
                    continue;
                }
                for (std::size_t k = 0; k < static_cast<std::size_t>(size.width); ++k)
                    to[k] = planes[p]->row(nearest_pixel(y[k], size.height))[nearest_pixel(x[k], size.width)];
            }
        }
    });
    for (std::size_t k = 0; k < planes.size(); ++k) *planes[k] = std::move(bent[k]);
}

}  // namespace

FacetSheet plain_facets() {
    FacetSheet plain;
    plain.amplitude = 52, plain.curvature = 0, plain.leans = plain.opaque = false;
    return plain;
}

namespace {
Bundle sheet_made(const FacetSheet& s, const StepContext& context) {
    const Size size = context.size;
    const bool slopes =
        s.leans && (context.wants(objects::id) || context.wants(objects::tilt[0]) || context.wants(objects::tilt[1]));
    Drawing sum(size, slopes, context.wants(planes::crease));
    double variance = 0;
    const auto crease_px = static_cast<float>(2.5 * std::sqrt(context.scale_x() * context.scale_y()));
    for (int level = 0; level < s.levels; ++level) {
        const int count = static_cast<int>(std::min<double>(most_points, s.count * std::pow(4.0, level)));
        // Finer sheets are as steep as coarse ones where they show, and show in some areas only.
        const auto amplitude = static_cast<float>(std::pow(s.amplitude / 100, level));
        variance += static_cast<double>(amplitude * amplitude) * (level == 0 ? 0.36 : 0.16);
        // Facets not much larger than a pixel would be dust.
        if (level > 0 && static_cast<double>(size.pixels()) < finest_facet_px * finest_facet_px * count) continue;
        const FacetLevel sheet = sheet_of(s, context, count, level);
        const double spacing_px = sheet.spacing_u * context.tile.width;
        DriftSettings bent;
        bent.distance_px = s.bend * std::pow(0.55, level);
        bent.size_x_px = bent.size_y_px = std::max(8.0, 1.6 * spacing_px);
        bent.octaves = 2, bent.seed = mix64(context.seed, 0x62656e64 + static_cast<std::uint64_t>(level));
        const Drift drift(bent, context);
        CloudSettings areas;
        areas.across = areas.down = 4 + 3 * level, areas.octaves = 2,
        areas.seed = mix64(context.seed, 0x61726561 + static_cast<std::uint64_t>(level));
        const std::uint64_t lots = mix64(context.seed, 0x62756c67 + static_cast<std::uint64_t>(level));
        const auto everywhere = [](double, double) { return 1.0f; };
        if (level == 0 || s.opaque) {
            // On a grid of its own, so that the same facets show at every size.
            constexpr int side = 128;
            const CloudField mask(areas, {side, side});
            std::vector<float> where(static_cast<std::size_t>(side) * side), row(static_cast<std::size_t>(mask.padded_width()));
            for (int y = 0; y < side && level > 0; ++y) {
                mask.row(y, row.data());
                std::copy_n(row.data(), side, where.data() + static_cast<std::size_t>(y) * side);
            }
            const auto shown = [&](double u, double v) {
                if (level == 0) return 1.0f;
                const int x = wrap(static_cast<int>(std::floor(u * side)), side),
                          y = wrap(static_cast<int>(std::floor(v * side)), side);
                return 1.6f * (where[static_cast<std::size_t>(y) * side + static_cast<std::size_t>(x)] -
                               (0.5f * static_cast<float>(level) - 0.9f));
            };
            const Plane before = level > 0 ? sum.height.clone() : Plane();
            draw(triangles_of(sheet, size, level > 0 ? &before : nullptr, amplitude, s.curvature / 100, lots, shown), context,
                 crease_px, amplitude, sum);
            bend(sum, drift, context);
            continue;
        }
        Drawing own(size, slopes, sum.crease.width() > 0);
        draw(triangles_of(sheet, size, nullptr, 1, s.curvature / 100, lots, everywhere), context, crease_px, 1, own);
        bend(own, drift, context);
        const CloudField mask(areas, size, context.job);
        for_rows(*context.job, size.height, [&](int first, int last) {
            std::vector<float> share(static_cast<std::size_t>(mask.padded_width()));
            for (int row = first; row < last; ++row) {
                mask.row(row, share.data());
                for (int k = 0; k < size.width; ++k) {
                    const float part = amplitude * std::clamp(0.5f + 0.55f * share[static_cast<std::size_t>(k)], 0.12f, 1.0f);
                    sum.height.row(row)[k] += part * own.height.row(row)[k];
                    if (slopes) {
                        sum.slope_x.row(row)[k] += part * own.slope_x.row(row)[k];
                        sum.slope_y.row(row)[k] += part * own.slope_y.row(row)[k];
                    }
                    if (sum.crease.width() > 0)
                        sum.crease.row(row)[k] = std::max(sum.crease.row(row)[k], part * own.crease.row(row)[k]);
                }
            }
        });
    }
    // Creases are sharp here and worn there.
    const double scale = std::sqrt(context.scale_x() * context.scale_y()), soft_px = 0.3 + 3.2 * (1 - s.sharpness / 100);
    const Plane soft = gaussian_blur(sum.height, soft_px * scale, soft_px * scale, *context.job);
    CloudSettings worn;
    worn.across = worn.down = 5, worn.octaves = 3, worn.seed = mix64(context.seed, 0x776f726e);
    const CloudField where(worn, size, context.job);
    const auto spread = static_cast<float>(s.sharpness_spread / 100), gain = static_cast<float>(0.17 / std::sqrt(variance));
    Plane out(size);
    for_rows(*context.job, size.height, [&](int first, int last) {
        std::vector<float> mask(static_cast<std::size_t>(where.padded_width()));
        for (int y = first; y < last; ++y) {
            where.row(y, mask.data());
            const float *sharp = sum.height.row(y), *blurred = soft.row(y);
            float* to = out.row(y);
            for (int x = 0; x < size.width; ++x) {
                const float t = std::clamp(0.5f + spread * mask[static_cast<std::size_t>(x)], 0.0f, 1.0f);
                to[x] = 0.5f + gain * (sharp[x] + t * (blurred[x] - sharp[x]));
            }
        }
    });
    if (slopes) {
        const auto per_x = gain * static_cast<float>(context.scale_x()), per_y = gain * static_cast<float>(context.scale_y());
        for_values(*context.job, sum.slope_x, [&](std::size_t first, std::size_t last) {
            for (std::size_t k = first; k < last; ++k) sum.slope_x.data()[k] *= per_x, sum.slope_y.data()[k] *= per_y;
        });
    }
    Bundle result = Bundle::of(std::move(out));
    if (context.wants(height_plane)) result.named[std::string(height_plane)] = result.colour[0];
    const auto name = [&](std::string_view word, Plane& plane) {
        if (plane.width() > 0 && context.wants(word)) result.named[std::string(word)] = share(std::move(plane));
    };
    name(objects::tilt[0], sum.slope_x), name(objects::tilt[1], sum.slope_y), name(objects::id, sum.number);
    name(planes::crease, sum.crease);
    return result;
}

}  // namespace

bool facets_finer(const FacetSheet& s, double scale_x, double scale_y, Size tile) {
    const double points = std::min<double>(most_points, s.count * std::pow(4.0, s.levels - 1)),
                 spacing = std::sqrt(static_cast<double>(tile.width) * tile.height / points) * std::min(scale_x, scale_y);
    return s.opaque && spacing < 5 && supersamples(scale_x, scale_y);
}

Bundle facet_sheet(const FacetSheet& s, const StepContext& context) {
    if (!facets_finer(s, context.scale_x(), context.scale_y(), context.tile)) return sheet_made(s, context);
    return supersampled(context, [&](const StepContext& c) { return sheet_made(s, c); });
}

}  // namespace loom
