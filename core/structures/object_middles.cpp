// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/object_middles.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <vector>

namespace loom {

namespace {

constexpr double pi = std::numbers::pi;

/// The middle of what is taken of a ring of places: opposite the middle of the longest free stretch; half the ring if there is
/// none.
double middle_between(const std::vector<char>& taken) {
    const int count = static_cast<int>(taken.size());
    int longest = 0, after = 0, run = 0;
    for (int k = 0; k < 2 * count && run < count; ++k) {
        run = taken[static_cast<std::size_t>(k % count)] ? 0 : run + 1;
        if (run > longest) longest = run, after = k + 1;
    }
    return longest == 0 ? count / 2.0 : std::fmod(after - longest / 2.0 - 0.5 + 1.5 * count, count);
}

bool all_taken(const std::vector<char>& taken) {
    return std::all_of(taken.begin(), taken.end(), [](char each) { return each != 0; });
}

}  // namespace

std::unordered_map<int, ObjectMiddle> object_middles(const Plane& ids, const Job& job) {
    const Size size = ids.size();
    struct Sums {
        double cx = 0, sx = 0, cy = 0, sy = 0, count = 0;
    };
    std::unordered_map<int, Sums> sums;
    std::vector<double> cx, sx;
    for (int x = 0; x < size.width; ++x)
        cx.push_back(std::cos(2 * pi * x / size.width)), sx.push_back(std::sin(2 * pi * x / size.width));
    for (int y = 0; y < size.height; ++y) {
        if (y % 64 == 0) job.check();
        const double cy = std::cos(2 * pi * y / size.height), sy = std::sin(2 * pi * y / size.height);
        const float* row = ids.row(y);
        for (int x = 0; x < size.width;) {
            const int id = static_cast<int>(row[x]);
            Sums& s = sums[id];
            // Runs of one object are looked up once.
            for (; x < size.width && static_cast<int>(row[x]) == id; ++x)
                s.cx += cx[static_cast<std::size_t>(x)], s.sx += sx[static_cast<std::size_t>(x)], s.cy += cy, s.sy += sy,
                    ++s.count;
        }
    }
    struct Taken {
        std::vector<char> columns, rows;
    };
    std::unordered_map<int, ObjectMiddle> middles;
    std::unordered_map<int, Taken> taken;
    for (const auto& [id, s] : sums) {
        ObjectMiddle middle;
        middle.x = std::fmod(std::atan2(s.sx, s.cx) / (2 * pi) + 1, 1.0) * size.width;
        middle.y = std::fmod(std::atan2(s.sy, s.cy) / (2 * pi) + 1, 1.0) * size.height;
        middles[id] = middle;
        Taken long_one;
        if (std::hypot(s.cx, s.sx) < 0.3 * s.count) long_one.columns.resize(static_cast<std::size_t>(size.width));
        if (std::hypot(s.cy, s.sy) < 0.3 * s.count) long_one.rows.resize(static_cast<std::size_t>(size.height));
        if (id != 0 && (!long_one.columns.empty() || !long_one.rows.empty())) taken[id] = std::move(long_one);
    }
    if (taken.empty()) return middles;
    for (int y = 0; y < size.height; ++y) {
        const float* row = ids.row(y);
        for (int x = 0; x < size.width;) {
            const int id = static_cast<int>(row[x]), from = x;
            while (x < size.width && static_cast<int>(row[x]) == id) ++x;
            const auto found = taken.find(id);
            if (found == taken.end()) continue;
            if (!found->second.columns.empty())
                std::fill(found->second.columns.begin() + from, found->second.columns.begin() + x, char{1});
            if (!found->second.rows.empty()) found->second.rows[static_cast<std::size_t>(y)] = 1;
        }
    }
    for (const auto& [id, of] : taken) {
        ObjectMiddle& middle = middles[id];
        if (!of.columns.empty()) middle.x = middle_between(of.columns), middle.ring_x = all_taken(of.columns);
        if (!of.rows.empty()) middle.y = middle_between(of.rows), middle.ring_y = all_taken(of.rows);
    }
    return middles;
}

std::unordered_map<int, ObjectExtent> object_extents(const Plane& ids, const Job& job) {
    const Size size = ids.size();
    struct Span {
        double left = 0, right = 0, top = 0, bottom = 0;
    };
    std::unordered_map<int, ObjectMiddle> middles = object_middles(ids, job);
    std::unordered_map<int, Span> spans;
    for (int y = 0; y < size.height; ++y) {
        if (y % 64 == 0) job.check();
        const float* row = ids.row(y);
        for (int x = 0; x < size.width; ++x) {
            const int id = static_cast<int>(row[x]);
            const ObjectMiddle& middle = middles.at(id);
            double dx = x - middle.x, dy = y - middle.y;
            dx -= size.width * std::round(dx / size.width), dy -= size.height * std::round(dy / size.height);
            Span& span = spans[id];
            span.left = std::min(span.left, dx), span.right = std::max(span.right, dx);
            span.top = std::min(span.top, dy), span.bottom = std::max(span.bottom, dy);
        }
    }
    std::unordered_map<int, ObjectExtent> extents;
    for (const auto& [id, span] : spans)
        if (id != 0) extents[id] = {middles.at(id).x, middles.at(id).y, span.right - span.left + 1, span.bottom - span.top + 1};
    return extents;
}

}  // namespace loom
