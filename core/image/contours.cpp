// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/contours.h"

#include <algorithm>
#include <cmath>

#include "core/image/squares.h"

namespace loom {

Contours::Contours(const Plane& plane, float level, const Job& job) : size_(plane.size()) {
    gather(plane, level, job);
    std::unordered_map<std::uint64_t, int> beginning_at;
    beginning_at.reserve(pieces_.size());
    for (std::size_t k = 0; k < pieces_.size(); ++k) beginning_at.emplace(pieces_[k].from, static_cast<int>(k));
    for (std::size_t k = 0; k < pieces_.size(); ++k) {
        if (k % 65536 == 0) job.check();
        if (pieces_[k].line < 0) follow(static_cast<int>(k), beginning_at);
    }
}

void Contours::gather(const Plane& plane, float level, const Job& job) {
    const int width = size_.width, height = size_.height;
    for (int y = 0; y < height; ++y) {
        if (y % 256 == 0) job.check();
        const int below = y + 1 < height ? y + 1 : 0;
        const float *top = plane.row(y), *low = plane.row(below);
        for (int x = 0; x < width; ++x) {
            const int right = x + 1 < width ? x + 1 : 0;
            const float v[4] = {top[x], top[right], low[right], low[x]};
            const bool high = v[0] > level;
            if ((v[1] > level) == high && (v[2] > level) == high && (v[3] > level) == high) continue;
            SquareCrossing ends[4];
            const int count = pieces_between(v, level, ends);
            std::array<int, 2> held{-1, -1};
            for (int k = 0; k < count; ++k) {
                SquareCrossing a = ends[2 * k], b = ends[2 * k + 1];
                // It begins on the side where, going round the square with the clock, the plane rises over the level: the square
                // beyond that side goes round it the other way, and ends a piece there.
                const auto rises = [&](int side) { return v[(side + 1) % 4] > level; };
                if (!rises(a.side)) std::swap(a, b);
                // Upper and lower sides are counted even, left and right ones odd.
                const auto name = [&](int side) {
                    return side == 0   ? 2 * square(x, y)
                           : side == 1 ? 2 * square(right, y) + 1
                           : side == 2 ? 2 * square(x, below)
                                       : 2 * square(x, y) + 1;
                };
                held[static_cast<std::size_t>(k)] = static_cast<int>(pieces_.size());
                pieces_.push_back(
                    {x, y, a.x, a.y, b.x, b.y, name(a.side), name(b.side), -1, 0, std::hypot(b.x - a.x, b.y - a.y)});
            }
            if (count > 0) in_square_.emplace(square(x, y), held);
        }
    }
}

void Contours::follow(int first, const std::unordered_map<std::uint64_t, int>& beginning_at) {
    const int line = static_cast<int>(lengths_.size());
    std::vector<int> walked;
    double along = 0, x = pieces_[static_cast<std::size_t>(first)].x, y = pieces_[static_cast<std::size_t>(first)].y;
    // Where it begins is told by its form, so that dashes lie alike at every size: at the end of the line in an odd direction.
    double best = -1e30, begins = 0;
    for (int at = first; pieces_[static_cast<std::size_t>(at)].line < 0;) {
        Piece& piece = pieces_[static_cast<std::size_t>(at)];
        piece.line = line, piece.along = along;
        walked.push_back(at);
        const double score = 0.83 * (x + piece.x0) / size_.width + 0.557 * (y + piece.y0) / size_.height;
        if (score > best) best = score, begins = along;
        along += piece.length;
        const auto next = beginning_at.find(piece.to);
        if (next == beginning_at.end()) break;
        const Piece& after = pieces_[static_cast<std::size_t>(next->second)];
        const auto step = [](int to, int from, int count) {
            const int way = to - from;
            return way > 1 ? way - count : way < -1 ? way + count : way;
        };
        x += step(after.x, piece.x, size_.width), y += step(after.y, piece.y, size_.height);
        at = next->second;
    }
    for (int each : walked) {
        double& place = pieces_[static_cast<std::size_t>(each)].along;
        place -= begins;
        if (place < 0) place += along;
    }
    lengths_.push_back(along);
}

std::optional<OnContour> Contours::at(float x, float y) const {
    const int left = static_cast<int>(std::floor(x)), top = static_cast<int>(std::floor(y));
    const Piece* nearest = nullptr;
    float least = 2.25f, share = 0;
    for (int dy = -1; dy <= 1; ++dy)
        for (int dx = -1; dx <= 1; ++dx) {
            const auto found = in_square_.find(square(wrap(left + dx, size_.width), wrap(top + dy, size_.height)));
            if (found == in_square_.end()) continue;
            const float px = x - static_cast<float>(left + dx), py = y - static_cast<float>(top + dy);
            for (int index : found->second) {
                if (index < 0) continue;
                const Piece& p = pieces_[static_cast<std::size_t>(index)];
                const float ax = p.x1 - p.x0, ay = p.y1 - p.y0, square_length = ax * ax + ay * ay;
                const float t =
                    square_length > 0 ? std::clamp(((px - p.x0) * ax + (py - p.y0) * ay) / square_length, 0.0f, 1.0f) : 0.0f;
                const float ox = px - p.x0 - t * ax, oy = py - p.y0 - t * ay, away = ox * ox + oy * oy;
                if (away < least) least = away, nearest = &p, share = t;
            }
        }
    if (!nearest) return std::nullopt;
    return OnContour{nearest->line, nearest->along + static_cast<double>(share) * nearest->length};
}

}  // namespace loom
