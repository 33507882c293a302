// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/moments.h"

#include <algorithm>
#include <array>
#include <vector>

namespace loom {

Moments moments_of(const Plane& plane, const Job& job) {
    // Row by row, so that the sums are joined in the same order always.
    std::vector<std::array<double, 2>> rows(static_cast<std::size_t>(plane.height()));
    for_rows(job, plane.height(), [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            double sum = 0, square = 0;
            const float* row = plane.row(y);
            for (int x = 0; x < plane.width(); ++x) {
                const auto value = static_cast<double>(row[x]);
                sum += value, square += value * value;
            }
            rows[static_cast<std::size_t>(y)] = {sum, square};
        }
    });
    double sum = 0, square = 0;
    for (const auto& row : rows) sum += row[0], square += row[1];
    const auto count = static_cast<double>(plane.size().pixels());
    const double mean = sum / count;
    return {mean, std::max(0.0, square / count - mean * mean)};
}

}  // namespace loom
