// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/band.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace loom {

namespace {

constexpr double longest = 256, near_edge = 0.24;
/// Below this nobody sees it; and where strips differ along the edge, now this way and now that, there is no band.
constexpr double least_difference = 0.03, least_likeness = 0.9;

/// Differences of the strips that meet before each line.
struct Differences {
    std::vector<double> each;      ///< at each place along the line, the mean of them
    std::vector<double> together;  ///< of the strips as wholes
};

/// value(channel, line, place), for lines that may lie outside.
template <class Value>
Differences differences(int channels, int lines, int length, int wide, Value&& value) {
    Differences found;
    found.each.resize(static_cast<std::size_t>(lines)), found.together.resize(found.each.size());
    std::vector<std::array<double, 3>> sums(found.each.size());
    for (int place = 0; place < length; ++place) {
        std::array<double, 3> strips{};
        for (int c = 0; c < channels; ++c)
            for (int k = 0; k < wide; ++k) strips[static_cast<std::size_t>(c)] += value(c, k, place) - value(c, k - wide, place);
        for (int line = 0; line < lines; ++line) {
            const auto at = static_cast<std::size_t>(line);
            found.each[at] += std::hypot(strips[0], strips[1], strips[2]);
            for (int c = 0; c < channels; ++c) {
                double& strip = strips[static_cast<std::size_t>(c)];
                sums[at][static_cast<std::size_t>(c)] += strip;
                strip += value(c, line + wide, place) - 2 * value(c, line, place) + value(c, line - wide, place);
            }
        }
    }
    for (std::size_t k = 0; k < sums.size(); ++k) {
        found.each[k] /= static_cast<double>(wide) * length;
        found.together[k] = std::hypot(sums[k][0], sums[k][1], sums[k][2]) / (static_cast<double>(wide) * length);
    }
    return found;
}

template <class Value>
void find_band(Seam& seam, int channels, int lines, int length, Value&& value) {
    for (const double share : {1.0 / 32, 1.0 / 16, 1.0 / 8}) {
        const int wide = std::max(2, static_cast<int>(std::lround(share * lines)));
        const int near = std::max(wide, static_cast<int>(near_edge * lines));
        if (2 * near + wide > lines) continue;
        const Differences found = differences(channels, lines, length, wide, value);
        std::vector<double> inside;
        for (int line = std::max(near, 2 * wide) + 1; line < lines - std::max(near, 2 * wide); ++line)
            inside.push_back(found.each[static_cast<std::size_t>(line)]);
        if (inside.empty()) continue;
        const auto most = inside.begin() + static_cast<std::ptrdiff_t>(0.95 * static_cast<double>(inside.size() - 1));
        std::nth_element(inside.begin(), most, inside.end());
        const double usual = std::max(*most, 0.5 / 255);
        for (int line = -near; line <= near; ++line) {
            const auto k = static_cast<std::size_t>(wrap(line, lines));
            if (found.together[k] < least_difference || found.together[k] < least_likeness * found.each[k]) continue;
            if (found.each[k] / usual > seam.band) seam.band = found.each[k] / usual, seam.band_width = share;
        }
    }
}

}  // namespace

void find_bands(const LabPlanes& lab, Seam& across, Seam& down, const Job& job) {
    const Size size = lab.size();
    const double shrink = std::min(1.0, longest / std::max(size.width, size.height));
    const Size small{std::max(1, static_cast<int>(std::lround(size.width * shrink))),
                     std::max(1, static_cast<int>(std::lround(size.height * shrink)))};
    std::vector<Plane> planes;
    for (const Plane& plane : lab.planes) planes.push_back(resized(plane, small, job));
    const int channels = static_cast<int>(planes.size());
    const auto value = [&](int c, int x, int y) {
        return static_cast<double>(planes[static_cast<std::size_t>(c)].at(wrap(x, small.width), wrap(y, small.height)));
    };
    find_band(across, channels, small.width, small.height, value);
    job.check();
    find_band(down, channels, small.height, small.width, [&](int c, int line, int place) { return value(c, place, line); });
}

}  // namespace loom
