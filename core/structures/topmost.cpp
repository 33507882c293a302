// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/structures/topmost.h"

#include <algorithm>
#include <numeric>

namespace loom {

std::vector<std::uint32_t> topmost(const std::vector<float>& areas, const std::vector<float>& heights, double enough) {
    std::vector<std::uint32_t> order(areas.size());
    std::iota(order.begin(), order.end(), 0u);
    if (std::accumulate(areas.begin(), areas.end(), 0.0) < enough) return order;
    if (!heights.empty())
        std::sort(order.begin(), order.end(),
                  [&](std::uint32_t a, std::uint32_t b) { return heights[a] != heights[b] ? heights[a] < heights[b] : a < b; });
    std::size_t first = order.size();
    for (double area = 0; first > 0 && area < enough;) area += static_cast<double>(areas[order[--first]]);
    order.erase(order.begin(), order.begin() + static_cast<std::ptrdiff_t>(first));
    std::sort(order.begin(), order.end());
    return order;
}

}  // namespace loom
