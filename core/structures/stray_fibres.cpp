// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/stray_fibres.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/structures/stroke.h"
#include "core/structures/throws.h"

namespace loom {

namespace {

constexpr double half_turn = 3.14159265358979323846;
constexpr double width_px = 0.9;

LaidStrokes fibres_of(const Woven& s, const StepContext& context) {
    LaidStrokes strokes;
    std::vector<LaidStrokes::Point> points;
    const double scale = std::sqrt(context.scale_x() * context.scale_y()),
                 longest = std::min(context.tile.width, context.tile.height);
    for (int k = 0; k < s.stray; ++k) {
        const std::uint64_t lots = mix64(context.seed, 0x73747261 + static_cast<std::uint64_t>(k));
        const auto lot = [&](std::uint64_t which) { return static_cast<double>(unit_float(mix64(lots, which))); };
        const auto bell = [&](std::uint64_t which) {
            return std::clamp(static_cast<double>(normal_draw(lots, which)), -2.2, 2.2);
        };
        const double kind = lot(0), length = std::min(longest, s.stray_length * std::exp(0.5 * bell(1)));
        double way = kind < 1.0 / 3 ? half_turn / 2 + 0.45 * bell(2) : kind < 2.0 / 3 ? 0.45 * bell(2) : half_turn * lot(2);
        const int steps = std::clamp(static_cast<int>(length / 5), 2, 40);
        const double bend = 0.5 * bell(3) / steps, wiggle = 0.35 * bell(4) / std::sqrt(steps);
        double x = lot(5) * context.tile.width, y = lot(6) * context.tile.height;
        points.clear();
        for (int n = 0; n <= steps; ++n) {
            points.push_back({static_cast<float>(x * context.scale_x() - 0.5), static_cast<float>(y * context.scale_y() - 0.5)});
            x += length / steps * std::cos(way), y += length / steps * std::sin(way);
            way += bend + wiggle * std::cos(1.7 * n + 6 * lot(7));
        }
        LaidStroke stroke;
        stroke.half_width = static_cast<float>(0.5 * width_px * scale * (0.7 + 0.6 * lot(8)));
        stroke.taper = 0.6f;
        stroke.tone = static_cast<float>(0.35 + 0.55 * lot(9));  // how much of the cloth below it hides
        strokes.add(stroke, points);
        if (k % 1024 == 0) context.job->check();
    }
    // More of them would only lie on each other.
    strokes.keep_last(24 * static_cast<double>(context.size.pixels()));
    return strokes;
}

}  // namespace

void lay_stray_fibres(const Woven& s, const StepContext& context, Bundle& cloth) {
    const LaidStrokes strokes = fibres_of(s, context);
    const auto scale = static_cast<float>(std::sqrt(context.scale_x() * context.scale_y()));
    Plane cover(context.size, 0.0f), shadow(context.size, 0.0f);
    const std::vector<ObjectBox> boxes = strokes.boxes(3 * scale + 2);
    for_object_bands(*context.job, context.size, boxes, 32, [&](int first, int last, const std::vector<ObjectCopy>& copies) {
        for (const ObjectCopy& copy : copies) {
            context.job->check();
            const LaidStroke& stroke = strokes[copy.object];
            const int from = std::max(first, static_cast<int>(boxes[copy.object].top + copy.dy)),
                      to = std::min(last, static_cast<int>(boxes[copy.object].bottom + copy.dy) + 2);
            const auto paint = [&](const StrokePen& pen, Plane& onto, float strength) {
                paint_stroke(pen, strokes.parts_of(stroke), static_cast<int>(stroke.count), {StrokeMix::lighter, strength, 0},
                             {onto.row(from), nullptr, nullptr, to - from, onto.width()}, nullptr);
            };
            paint(pen_of(stroke, copy.dx, copy.dy, from), cover, stroke.tone);
            paint(pen_of(stroke, copy.dx + 0.9f * scale, copy.dy + 1.1f * scale, from, 1.2f * scale), shadow, 0.3f * stroke.tone);
        }
    });
    const float fibre[3] = {s.stray_colour.red, s.stray_colour.green, s.stray_colour.blue};
    std::vector<Plane> painted;
    for (int c = 0; c < 3; ++c) painted.push_back(cloth.channel(c).clone());
    const PlaneRef below = cloth.plane(height_plane);
    Plane height = below ? below->clone() : Plane();
    for_rows(*context.job, context.size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const float own = cover.row(y)[x], shade = 1 - shadow.row(y)[x] * (1 - own);
                for (int c = 0; c < 3; ++c) {
                    float& to = painted[static_cast<std::size_t>(c)].row(y)[x];
                    to = to * shade + own * (fibre[c] - to * shade);
                }
                if (below) height.row(y)[x] = std::min(1.0f, height.row(y)[x] + 0.12f * own);
            }
    });
    for (std::size_t c = 0; c < 3; ++c) cloth.colour[c] = share(std::move(painted[c]));
    if (below) cloth.named[std::string(height_plane)] = share(std::move(height));
}

}  // namespace loom
