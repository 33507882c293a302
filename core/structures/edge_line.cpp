// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/edge_line.h"

#include <algorithm>
#include <cmath>

#include "core/image/contours.h"
#include "core/image/resample.h"
#include "core/image/sample.h"

namespace loom {

namespace {

double scale_of(const StepContext& context) { return std::sqrt(context.scale_x() * context.scale_y()); }

/// Where along its line a place lies.
class Following {
public:
    Following(const EdgeLine& line, const Plane& distance, const StepContext& context)
        : line_(line),
          distance_(distance),
          scale_(scale_of(context)),
          contours_(distance, static_cast<float>(line.at), *context.job) {
        // Whole dashes on every line.
        for (double length : contours_.lengths()) {
            const double wanted = (line.dash + line.gap) * scale_;
            periods_.push_back(length / std::max(1.0, std::round(length / std::max(wanted, 1e-6))));
        }
    }

    struct Place {
        float along, period;  ///< pixels, from the beginning of the dash that is there
    };
    /// `away`: pixels from the line, inside positive.
    std::optional<Place> at(int x, int y, float away) const {
        const int width = distance_.width(), height = distance_.height();
        const auto value = [&](int across, int down) { return distance_.row(wrap(down, height))[wrap(across, width)]; };
        float rise_x = value(x + 1, y) - value(x - 1, y), rise_y = value(x, y + 1) - value(x, y - 1);
        const float steep = std::hypot(rise_x, rise_y);
        if (!(steep > 0)) return std::nullopt;
        rise_x /= steep, rise_y /= steep;
        const auto found = contours_.at(static_cast<float>(x) - away * rise_x, static_cast<float>(y) - away * rise_y);
        if (!found) return std::nullopt;
        const double period = periods_[static_cast<std::size_t>(found->line)];
        const double at = found->along / period - line_.start;
        return Place{static_cast<float>((at - std::floor(at)) * period), static_cast<float>(period)};
    }
    float scale() const { return static_cast<float>(scale_); }

private:
    const EdgeLine& line_;
    const Plane& distance_;
    double scale_;
    Contours contours_;
    std::vector<double> periods_;
};

Plane moved(Plane plane, const EdgeLine& line, const StepContext& context) {
    if (line.move_x == 0 && line.move_y == 0) return plane;
    const auto dx = static_cast<float>(line.move_x * context.scale_x()), dy = static_cast<float>(line.move_y * context.scale_y());
    Plane out = plane.alike();
    for_rows(*context.job, out, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < out.width(); ++x)
                out.row(y)[x] = sample_bilinear(plane, static_cast<float>(x) - dx, static_cast<float>(y) - dy);
    });
    return out;
}

/// How far a place lies outside of a span from `begin` to `end`; the span repeats after `period`.
float beyond(float at, float begin, float end, float period) {
    // One follows the other without a gap.
    if (end - begin >= period) return -period;
    if (at >= begin && at <= end) return -std::min(at - begin, end - at);
    const float before = at < begin ? begin - at : begin + period - at, behind = at > end ? at - end : at + period - end;
    return std::min(before, behind);
}

}  // namespace

Plane edge_line(const EdgeLine& line, const Plane& distance, const StepContext& context) {
    const bool dashed = line.gap > 0 && line.dash > 0;
    std::optional<Following> following;
    if (dashed) following.emplace(line, distance, context);
    const auto scale = static_cast<float>(scale_of(context)), half = static_cast<float>(line.width / 2) * scale,
               at = static_cast<float>(line.at);
    const auto dash_share = static_cast<float>(line.dash / std::max(1e-6, line.dash + line.gap));
    Plane cover = context.plane();
    for_rows(*context.job, cover, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const float away = (distance.row(y)[x] - at) * scale;
                float outside = std::abs(away) - half;  // pixels beyond the line's side
                // Thinner than a pixel it fades.
                const float most = std::min(1.0f, 2 * half);
                if (dashed && outside < 1) {
                    const auto place = following->at(x, y, away);
                    const float dash = place ? dash_share * place->period : 0;
                    if (!place) {
                        outside = 1;
                    } else if (line.round_ends) {
                        const float core = std::max(0.0f, dash / 2 - half), middle = dash / 2;
                        const float past = std::max(0.0f, beyond(place->along, middle - core, middle + core, place->period));
                        outside = std::hypot(past, away) - half;
                    } else {
                        outside = std::max(outside, beyond(place->along, 0, dash, place->period));
                    }
                }
                cover.row(y)[x] = std::clamp(0.5f - outside, 0.0f, 1.0f) * most;
            }
    });
    return moved(std::move(cover), line, context);
}

Bundle edge_motif(const EdgeLine& line, const Plane& distance, const Bundle& motif, const StepContext& context) {
    const Following following(line, distance, context);
    const float scale = following.scale(), half = static_cast<float>(line.width / 2) * scale, at = static_cast<float>(line.at);
    const auto dash_share = static_cast<float>(line.dash / std::max(1e-6, line.dash + line.gap));
    const auto pixels = [&](double length) { return std::clamp(static_cast<int>(std::lround(length * scale)), 2, 4096); };
    const Size small{pixels(line.dash), pixels(line.width)};
    const Bundle stamp = resized(motif, small, *context.job);
    const bool covers = static_cast<bool>(stamp.coverage);
    std::vector<Plane> planes;
    for (std::size_t c = 0; c < stamp.colour.size(); ++c) planes.push_back(context.plane(0));
    Plane cover = context.plane(0);
    for_rows(*context.job, cover, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < context.size.width; ++x) {
                const float away = (distance.row(y)[x] - at) * scale;
                if (std::abs(away) > half + 1) continue;
                const auto place = following.at(x, y, away);
                if (!place) continue;
                const float dash = dash_share * place->period;
                const float outside = std::max(std::abs(away) - half, beyond(place->along, 0, dash, place->period));
                const float inside = std::clamp(0.5f - outside, 0.0f, 1.0f);
                if (inside <= 0) continue;
                const float u = std::clamp(place->along / dash * static_cast<float>(small.width) - 0.5f, 0.0f,
                                           static_cast<float>(small.width - 1)),
                            v = std::clamp((0.5f + away / (2 * half)) * static_cast<float>(small.height) - 0.5f, 0.0f,
                                           static_cast<float>(small.height - 1));
                for (std::size_t c = 0; c < planes.size(); ++c)
                    planes[c].row(y)[x] = inside * sample_bilinear(*stamp.colour[c], u, v);
                cover.row(y)[x] = inside * (covers ? sample_bilinear(*stamp.coverage, u, v) : 1.0f);
            }
    });
    Bundle result;
    for (Plane& plane : planes) result.colour.push_back(share(moved(std::move(plane), line, context)));
    result.coverage = share(moved(std::move(cover), line, context));
    return result;
}

}  // namespace loom
