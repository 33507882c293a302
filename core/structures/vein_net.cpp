// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/vein_net.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/noise/cell_points.h"
#include "core/structures/vein_kernel.h"
#include "core/structures/object_sheet.h"

namespace loom {

namespace {

struct Segment {
    float x, y, wx, wy;  ///< start and way, pixels
    float strength, sign;
};

/// Strengths of the pairs of classes, the strongest once; which pair has which is drawn.
float pair_strength(int a, int b, int classes, std::uint64_t seed) {
    constexpr float steps[] = {1, 0.62f, 0.5f, 0.34f, 0.28f, 0.2f};
    if (a > b) std::swap(a, b);
    const int pairs = classes * (classes - 1) / 2;
    int index = 0;
    for (int i = 0; i < a; ++i) index += classes - 1 - i;
    index += b - a - 1;
    // A turn of the table by a drawn step keeps each strength as often as it stands there.
    const int turned =
        (index + static_cast<int>(mix64(seed, 0x70616972) % static_cast<std::uint64_t>(std::max(1, pairs)))) % std::max(1, pairs);
    return steps[std::min<std::size_t>(
        static_cast<std::size_t>(turned) * std::size(steps) / static_cast<std::size_t>(std::max(1, pairs)), 5)];
}

std::vector<Segment> segments_of(const NetSettings& s, const StepContext& context) {
    CellLayout layout;
    // Cells are laid in a tile that the ways span, where the direction of the veins runs down; whole tiles of shear close again.
    const double across = s.size_px / std::sqrt(s.stretch), down = s.size_px * std::sqrt(s.stretch);
    layout.width = std::max(1.5, context.tile.width / across), layout.height = std::max(1.5, context.tile.height / down);
    if (s.way.down > 1 || s.way.other_down != 0) {
        // A way through several tiles is long, and its neighbour near.
        const double wide = context.tile.width, tall = context.tile.height,
                     length = std::hypot(s.way.across * wide, s.way.down * tall);
        layout.width = std::max(1.5, wide * tall / length / across), layout.height = std::max(1.5, length / down);
    }
    layout.relaxation = 2, layout.seed = s.seed;
    const auto laid = kept_cells(layout, *context.job);
    const Cells& cells = *laid;
    auto class_of = [&](int cell) {
        return static_cast<int>(mix64(s.seed, 0x636c6173 + static_cast<std::uint64_t>(cell)) %
                                static_cast<std::uint64_t>(s.classes));
    };
    std::vector<Segment> segments;
    for (std::size_t k = 0; k < cells.size(); ++k) {
        const Cell& cell = cells[k];
        for (std::size_t n = 0; n < cell.corner_x.size(); ++n) {
            const std::size_t next = (n + 1) % cell.corner_x.size();
            const double mx = (cell.corner_x[n] + cell.corner_x[next]) / 2, my = (cell.corner_y[n] + cell.corner_y[next]) / 2;
            // The neighbour on the other side of this edge is as far from its middle as the cell's own point.
            double least = 1e9;
            int other = -1;
            for (const CellNeighbour& neighbour : cell.neighbours) {
                const double off = std::abs(std::hypot(mx - neighbour.dx, my - neighbour.dy) - std::hypot(mx, my));
                if (off < least) least = off, other = neighbour.cell;
            }
            if (other < 0 || static_cast<int>(k) > other) continue;
            const int mine = class_of(static_cast<int>(k)), theirs = class_of(other);
            if (mine == theirs) continue;
            auto place = [&](std::size_t corner, double& x, double& y) {
                const double a = (cell.x + cell.corner_x[corner]) / layout.width,
                             b = (cell.y + cell.corner_y[corner]) / layout.height;
                x = (s.way.other_across * a + s.way.across * b) * context.size.width - 0.5;
                y = (s.way.other_down * a + s.way.down * b) * context.size.height - 0.5;
            };
            double x0, y0, x1, y1;
            place(n, x0, y0), place(next, x1, y1);
            // Corners run round the cell; the sign says on which side its class, or the other, lies.
            segments.push_back({static_cast<float>(x0), static_cast<float>(y0), static_cast<float>(x1 - x0),
                                static_cast<float>(y1 - y0), pair_strength(mine, theirs, s.classes, s.seed),
                                mine < theirs ? 1.0f : -1.0f});
        }
    }
    return segments;
}

}  // namespace

VeinNet lay_net(const NetSettings& s, const StepContext& given) {
    StepContext context = given;
    if (context.scale_x() > 1 || context.scale_y() > 1) context.size = context.tile;
    const Size size = context.size;
    const double scale = std::sqrt(context.scale_x() * context.scale_y());
    const auto reach = static_cast<float>(s.reach_px * scale), smoke = static_cast<float>(s.smoke_px * scale);
    Plane distance(size, reach), strength(size, 0.0f), smoky(size, 0.0f), sided(size, reach);
    const std::vector<Segment> segments = segments_of(s, context);
    std::vector<ObjectBox> boxes;
    for (const Segment& g : segments)
        boxes.push_back({std::min(g.x, g.x + g.wx) - reach, std::min(g.y, g.y + g.wy) - reach, std::max(g.x, g.x + g.wx) + reach,
                         std::max(g.y, g.y + g.wy) + reach});
    for_object_bands(*context.job, size, boxes, 16, [&](int first, int last, const std::vector<ObjectCopy>& copies) {
        for (const ObjectCopy& copy : copies) {
            const Segment& g = segments[copy.object];
            const ObjectBox& box = boxes[copy.object];
            const int from = std::max(first, static_cast<int>(std::ceil(box.top + copy.dy))),
                      to = std::min(last - 1, static_cast<int>(std::floor(box.bottom + copy.dy)));
            for (int y = from; y <= to; ++y) {
                const float py = static_cast<float>(y) - copy.dy - g.y;
                // The part of the segment that is near this row bounds the columns.
                float low = 0, high = 1;
                if (std::abs(g.wy) > 1e-6f) {
                    const float t0 = (py - reach) / g.wy, t1 = (py + reach) / g.wy;
                    low = std::clamp(std::min(t0, t1), 0.0f, 1.0f), high = std::clamp(std::max(t0, t1), 0.0f, 1.0f);
                }
                const float left = g.x + std::min(low * g.wx, high * g.wx) - reach + copy.dx,
                            right = g.x + std::max(low * g.wx, high * g.wx) + reach + copy.dx;
                const int x0 = std::max(0, static_cast<int>(std::ceil(left))),
                          x1 = std::min(size.width - 1, static_cast<int>(std::floor(right)));
                vein_piece_row({-copy.dx - g.x, py, g.wx, g.wy, g.strength, g.sign, smoke}, x0, x1, distance.row(y), sided.row(y),
                               strength.row(y), smoky.row(y));
            }
        }
    });
    // Where veins of unlike strength meet they go over into each other.
    const double soft = 5 * scale;
    strength = gaussian_blur(strength, soft, soft, *context.job);
    VeinNet net{size, Plane({4 * size.width, size.height})};
    for_rows(*context.job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            float* four = net.values.row(y);
            for (int x = 0; x < size.width; ++x, four += 4)
                four[0] = distance.row(y)[x], four[1] = strength.row(y)[x], four[2] = smoky.row(y)[x], four[3] = sided.row(y)[x];
        }
    });
    return net;
}

}  // namespace loom
