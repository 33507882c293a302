// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/box.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace loom {

namespace {

/// Mean round each entry of a closed line; `values` holds count entries.
void line_mean(const float* values, int count, double radius, float* out) {
    radius = std::min(radius, (count - 1) / 2.0);
    const int whole = static_cast<int>(radius);
    const double part = radius - whole, scale = 1 / (2 * radius + 1);
    double sum = 0;
    for (int k = -whole; k <= whole; ++k) sum += static_cast<double>(values[wrap(k, count)]);
    for (int x = 0; x < count; ++x) {
        const int left = x - whole, right = x + whole;
        const auto before = static_cast<double>(values[left - 1 >= 0 ? left - 1 : wrap(left - 1, count)]);
        const auto after = static_cast<double>(values[right + 1 < count ? right + 1 : wrap(right + 1, count)]);
        out[x] = static_cast<float>(scale * (sum + part * (before + after)));
        sum += after - static_cast<double>(values[left >= 0 ? left : wrap(left, count)]);
    }
}

}  // namespace

Plane box_mean(const Plane& plane, double radius_x, double radius_y, const Job& job) {
    const Size size = plane.size();
    Plane across(size), out(size);
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y) line_mean(plane.row(y), size.width, radius_x, across.row(y));
    });
    // Down in strips of columns, whose sums are carried from row to row.
    constexpr int strip = 64;
    const double radius = std::min(radius_y, (size.height - 1) / 2.0);
    const int whole = static_cast<int>(radius);
    const double part = radius - whole, scale = 1 / (2 * radius + 1);
    for_ranges(job, (size.width + strip - 1) / strip, 1, [&](int first, int last) {
        for (int s = first; s < last; ++s) {
            const int left = s * strip, count = std::min(strip, size.width - left);
            double sum[strip] = {};
            for (int k = -whole; k <= whole; ++k) {
                const float* row = across.row(wrap(k, size.height)) + left;
                for (int x = 0; x < count; ++x) sum[x] += static_cast<double>(row[x]);
            }
            for (int y = 0; y < size.height; ++y) {
                const float* before = across.row(wrap(y - whole - 1, size.height)) + left;
                const float* after = across.row(wrap(y + whole + 1, size.height)) + left;
                const float* leaving = across.row(wrap(y - whole, size.height)) + left;
                float* to = out.row(y) + left;
                for (int x = 0; x < count; ++x) {
                    to[x] = static_cast<float>(scale * (sum[x] + part * static_cast<double>(before[x] + after[x])));
                    sum[x] += static_cast<double>(after[x]) - static_cast<double>(leaving[x]);
                }
            }
        }
    });
    return out;
}

}  // namespace loom
