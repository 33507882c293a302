// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/hand_planes.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/sample.h"

namespace loom {

void brush_pixels(const std::vector<StrokePath>& paths, const StepContext& context,
                  const std::function<void(std::size_t, int, int, int, const float*)>& apply) {
    const Size size = context.size, tile = context.tile;
    std::vector<std::vector<Touched>> touched;
    for (const StrokePath& path : paths) touched.push_back(touched_by(path.extent(), size, tile));
    // Few rows at a time, so that what is brushed stays in the cache and strokes far away cost nothing.
    constexpr int rows_at_once = 32;
    const Rows rows = context.wanted_rows();
    const auto brush_rows = [&](int first, int last) {
        std::vector<float> mask;
        for (std::size_t k = 0; k < paths.size(); ++k) {
            const auto meets = [&](const Touched& t) { return t.y < last && t.y + t.height > first; };
            if (!std::any_of(touched[k].begin(), touched[k].end(), meets)) continue;
            mask.assign(static_cast<std::size_t>(size.width) * static_cast<std::size_t>(last - first), 0.0f);
            paths[k].brush(size, tile, first, last - first, mask.data());
            for (const Touched& t : touched[k])
                for (int y = std::max(first, t.y); y < std::min(last, t.y + t.height); ++y)
                    apply(k, y, t.x, t.width, mask.data() + static_cast<std::ptrdiff_t>(y - first) * size.width + t.x);
        }
    };
    // Wanted rows may run over the tile's edge.
    const int above = std::min(rows.end(), size.height) - rows.first;
    for (const Rows part : {Rows{rows.first, above}, Rows{0, rows.count - above}})
        for_ranges(*context.job, part.count, rows_at_once,
                   [&](int first, int last) { brush_rows(part.first + first, part.first + last); });
}

namespace {

/// A rectangle of a plane that may lie across the tile's edges, as a plane of its own.
Plane cut_out(const Plane& plane, int x, int y, Size size) {
    Plane out(size);
    for (int row = 0; row < size.height; ++row) {
        const float* from = plane.row(wrap(y + row, plane.height()));
        for (int column = 0; column < size.width;) {
            const int at = wrap(x + column, plane.width()), count = std::min(size.width - column, plane.width() - at);
            std::copy_n(from + at, count, out.row(row) + column);
            column += count;
        }
    }
    return out;
}

}  // namespace

void brush_blur(HandPlanes& planes, const Stroke& stroke, const StepContext& context) {
    context.job->check();
    const StrokePath path(stroke);
    const double sigma = stroke.size / 8;
    const double sx = sigma * context.scale_x(), sy = sigma * context.scale_y();
    const int around_x = static_cast<int>(std::ceil(4 * sx)) + 1, around_y = static_cast<int>(std::ceil(4 * sy)) + 1;
    const Extent& e = path.extent();
    const int x = static_cast<int>(std::floor(e.left * context.scale_x())),
              y = static_cast<int>(std::floor(e.top * context.scale_y()));
    const int width = static_cast<int>(std::ceil(e.right * context.scale_x())) - x,
              height = static_cast<int>(std::ceil(e.bottom * context.scale_y())) - y;
    const Size size = context.size;
    const bool all = width + 2 * around_x >= size.width || height + 2 * around_y >= size.height;
    const int left = all ? 0 : x - around_x, top = all ? 0 : y - around_y;
    std::vector<Plane> soft;
    for (const Plane& plane : planes)
        soft.push_back(
            gaussian_blur(all ? plane.clone() : cut_out(plane, left, top, {width + 2 * around_x, height + 2 * around_y}), sx, sy,
                          *context.job));
    std::vector<StrokePath> one;
    one.push_back(path);
    brush_pixels(one, context, [&](std::size_t, int row, int from, int count, const float* how_much) {
        for (std::size_t c = 0; c < planes.size(); ++c) {
            float* to = planes[c].row(row);
            const float* blurred = soft[c].row(all ? row : wrap(row - top, size.height));
            for (int k = 0; k < count; ++k) {
                const int column = all ? from + k : wrap(from + k - left, size.width);
                if (how_much[k] > 0) to[from + k] += how_much[k] * (blurred[column] - to[from + k]);
            }
        }
    });
}

void brush_smudge(HandPlanes& planes, const Stroke& stroke, const StepContext& context) {
    const Size size = context.size;
    const double sx = context.scale_x(), sy = context.scale_y();
    // Short steps, each of which takes what it finds one step behind.
    const std::vector<BrushPlace> places = dabs_along(stroke, std::max(0.5, stroke.size / 12));
    Stroke dab = stroke;
    for (std::size_t n = 1; n < places.size(); ++n) {
        context.job->check();
        const double way_x = (places[n].x - places[n - 1].x) * sx, way_y = (places[n].y - places[n - 1].y) * sy;
        if (way_x == 0 && way_y == 0) continue;
        dab.points = {{static_cast<int>(std::lround(places[n].x * StrokePoint::per_px)),
                       static_cast<int>(std::lround(places[n].y * StrokePoint::per_px)),
                       static_cast<int>(std::lround(places[n].pressure * 255)), 0, 0}};
        const StrokePath path(dab);
        const Extent& e = path.extent();
        const int x0 = static_cast<int>(std::floor(e.left * sx)), y0 = static_cast<int>(std::floor(e.top * sy));
        const int width = std::min(static_cast<int>(std::ceil(e.right * sx)) - x0, size.width),
                  height = std::min(static_cast<int>(std::ceil(e.bottom * sy)) - y0, size.height);
        const int margin_x = static_cast<int>(std::ceil(std::abs(way_x))) + 2,
                  margin_y = static_cast<int>(std::ceil(std::abs(way_y))) + 2;
        for (Plane& plane : planes) {
            const Plane before = cut_out(plane, x0 - margin_x, y0 - margin_y, {width + 2 * margin_x, height + 2 * margin_y});
            for_rows(*context.job, height, [&](int first, int last) {
                std::vector<float> mask(static_cast<std::size_t>(size.width));
                for (int y = first; y < last; ++y) {
                    const int to_y = wrap(y0 + y, size.height);
                    std::fill(mask.begin(), mask.end(), 0.0f);
                    path.brush(size, context.tile, to_y, 1, mask.data());
                    float* to = plane.row(to_y);
                    for (int x = 0; x < width; ++x) {
                        const int to_x = wrap(x0 + x, size.width);
                        const float how_much = mask[static_cast<std::size_t>(to_x)];
                        if (how_much <= 0) continue;
                        const float there = sample_bilinear(before, static_cast<float>(x + margin_x - way_x),
                                                            static_cast<float>(y + margin_y - way_y));
                        to[to_x] += how_much * (there - to[to_x]);
                    }
                }
            });
        }
    }
}

}  // namespace loom
