// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/stippled.h"

#include <algorithm>
#include <cmath>
#include <vector>

#include "core/image/bundle.h"
#include "core/image/gaussian.h"
#include "core/image/sample.h"
#include "core/structures/object_sheet.h"

namespace loom {

namespace {

/// Draws the marks, each grown to what lies under its middle; where several lie they cover more.
Plane drawn(const Stippling& s, const Plane& wanted, Size size, Size tile, std::uint64_t seed, const Job& job) {
    const StippleLayout layout = stipple_layout(s.pattern, s.dot, s.direction, tile, seed, &job);
    const double scale_x = static_cast<double>(size.width) / tile.width, scale_y = static_cast<double>(size.height) / tile.height;
    const auto radius = layout.radius * static_cast<float>(std::sqrt(scale_x * scale_y));
    const float reach_x = layout.reach_x * static_cast<float>(scale_x), reach_y = layout.reach_y * static_cast<float>(scale_y);
    // What one mark covers decides it as a whole, so that marks stay round at edges of tone.
    const double soft_x = layout.radius * wanted.width() / tile.width, soft_y = layout.radius * wanted.height() / tile.height;
    const Plane under = gaussian_blur(wanted, 0.5 * soft_x, 0.5 * soft_y, job);
    struct Drawn {
        float x, y, radius, strength;
    };
    std::vector<Drawn> all(layout.marks.size());
    for_ranges(job, static_cast<int>(all.size()), 4096, [&](int begin, int end) {
        for (auto k = static_cast<std::size_t>(begin); k < static_cast<std::size_t>(end); ++k) {
            const StippleMark& mark = layout.marks[k];
            const float cover = sample_bilinear(under, mark.u * static_cast<float>(wanted.width()) - 0.5f,
                                                mark.v * static_cast<float>(wanted.height()) - 0.5f);
            const float grown = radius * stipple_growth(s.pattern, cover, mark.rank);
            // What is thinner than a pixel fades.
            all[k] = {mark.u * static_cast<float>(size.width) - 0.5f, mark.v * static_cast<float>(size.height) - 0.5f,
                      std::max(grown, 0.5f), grown <= 0.01f ? 0.0f : std::min(1.0f, 4 * grown * grown)};
        }
    });
    std::vector<Drawn> marks;
    std::vector<ObjectBox> boxes;
    marks.reserve(all.size()), boxes.reserve(all.size());
    for (const Drawn& one : all) {
        if (one.strength == 0) continue;
        const float far_x = one.radius + std::abs(reach_x) + 1, far_y = one.radius + std::abs(reach_y) + 1;
        marks.push_back(one), boxes.push_back({one.x - far_x, one.y - far_y, one.x + far_x, one.y + far_y});
    }
    const float length2 = reach_x * reach_x + reach_y * reach_y, per_length2 = length2 > 0 ? 1 / length2 : 0;
    Plane lit(size, 0.0f);
    for_object_bands(job, size, boxes, 32, [&](int first, int last, const std::vector<ObjectCopy>& copies) {
        for (const ObjectCopy& copy : copies) {
            const Drawn& mark = marks[copy.object];
            const ObjectBox& box = boxes[copy.object];
            const int left = std::max(0, static_cast<int>(box.left + copy.dx)),
                      right = std::min(size.width - 1, static_cast<int>(box.right + copy.dx) + 1);
            for (int y = std::max(first, static_cast<int>(box.top + copy.dy));
                 y < std::min(last, static_cast<int>(box.bottom + copy.dy) + 2); ++y) {
                const float dy = static_cast<float>(y) - mark.y - copy.dy;
                float* row = lit.row(y);
                for (int x = left; x <= right; ++x) {
                    const float dx = static_cast<float>(x) - mark.x - copy.dx;
                    // Distance to the stroke's middle line, or to the dot's middle.
                    const float t = std::clamp((dx * reach_x + dy * reach_y) * per_length2, -1.0f, 1.0f);
                    const float ox = dx - t * reach_x, oy = dy - t * reach_y;
                    const float inside = mark.radius + 0.5f - std::sqrt(ox * ox + oy * oy);
                    // Edges that meet in a pixel cover different parts of it, by chance.
                    row[x] += (1 - row[x]) * mark.strength * std::clamp(inside, 0.0f, 1.0f);
                }
            }
        }
    });
    return lit;
}

double dot_pixels(double dot_px, const Scales& at) { return dot_px * std::sqrt(at.x() * at.y()); }

/// Marks of few pixels are drawn larger and averaged; what is finer than a pixel by far is its own mean.
int times_of(double dot) {
    constexpr double fine = 6, finest = 0.6;
    return dot < finest ? 0 : std::clamp(static_cast<int>(std::ceil(fine / dot)), 1, 4);
}

}  // namespace

Plane stippled(const Stippling& s, const Plane& wanted, Size tile, std::uint64_t seed, const Job& job) {
    const Size size = wanted.size();
    const int times = times_of(dot_pixels(s.dot, {size, tile}));
    if (times == 0) return wanted.clone();
    Plane lit = drawn(s, wanted, {size.width * times, size.height * times}, tile, seed, job);
    return times > 1 ? resized(lit, size, job) : std::move(lit);
}

double stippled_scratch(double dot_px, const Scales& at) {
    const double times = times_of(dot_pixels(dot_px, at));
    return times > 1 ? 2 + times * times + times : 1.0;
}

}  // namespace loom
