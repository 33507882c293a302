// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/surface.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/sample_kernel.h"

namespace loom {

Bundle normal_map(const Plane& height, double deep, Rows rows, const Job& job) {
    const Size size = height.size();
    Plane red(size, rows), green(size, rows), blue(size, rows);
    const auto scale = static_cast<float>(deep / 8);
    for_rows(job, red, [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            const float* above = height.row(wrap(y - 1, size.height));
            const float* here = height.row(y);
            const float* below = height.row(wrap(y + 1, size.height));
            for (int x = 0; x < size.width; ++x) {
                const int l = x > 0 ? x - 1 : size.width - 1, r = x + 1 < size.width ? x + 1 : 0;
                const float nx = -scale * ((above[r] + 2 * here[r] + below[r]) - (above[l] + 2 * here[l] + below[l]));
                const float ny = scale * ((below[l] + 2 * below[x] + below[r]) - (above[l] + 2 * above[x] + above[r]));
                const float length = std::sqrt(nx * nx + ny * ny + 1);
                red.row(y)[x] = 0.5f + 0.5f * nx / length;
                green.row(y)[x] = 0.5f + 0.5f * ny / length;
                blue.row(y)[x] = 0.5f + 0.5f / length;
            }
        }
    });
    return Bundle::of(std::move(red), std::move(green), std::move(blue));
}

SoftHeight::SoftHeight(Size whole, double radius) : size(whole), across(radius), down(radius) {
    // With eight pixels or more to a deviation cubic weights give the blur back.
    constexpr double enough = 8;
    int factor = 1;
    while (radius / (2 * factor) >= enough) factor *= 2;
    if (factor == 1) return;
    const auto fewer = [&](int length) { return std::max(1, (length + factor / 2) / factor); };
    size = {fewer(whole.width), fewer(whole.height)};
    const auto left = [&](int from, int to) {
        const double times = static_cast<double>(from) / to;
        // The mean of so many pixels is a blur already.
        return std::sqrt(std::max(0.0, radius * radius - (times * times - 1) / 12)) / times;
    };
    across = left(whole.width, size.width), down = left(whole.height, size.height);
}

Footprint SoftHeight::footprint(Size whole) const {
    return size == whole ? gaussian_footprint(across, down) : Footprint::whole();
}

Plane SoftHeight::of(const Plane& height, Rows rows, const Job& job) const {
    if (height.size() == size) return gaussian_blur(height, across, down, rows, job);
    return gaussian_blur(resized(height, size, job), across, down, job);
}

namespace {

/// A row of a blur that may be smaller than the picture, between whose pixels it is read.
class SoftRow {
public:
    SoftRow(const Plane& soft, Size size) : soft_(soft), size_(size) {
        if (soft.size() == size) return;
        const double times = static_cast<double>(soft.width()) / size.width;
        for (int x = 0; x < size.width; ++x) x_.push_back(static_cast<float>((x + 0.5) * times - 0.5));
        y_.resize(x_.size()), row_.resize(x_.size());
    }

    const float* at(int y) {
        if (x_.empty()) return soft_.row(y);
        std::fill(y_.begin(), y_.end(), static_cast<float>((y + 0.5) * soft_.height() / size_.height - 0.5));
        const float* plane = soft_.data();
        float* row = row_.data();
        read_cubic(&plane, 1, Sheet(soft_), x_.data(), y_.data(), size_.width, &row);
        return row;
    }

private:
    const Plane& soft_;
    Size size_;
    std::vector<float> x_, y_, row_;
};

}  // namespace

Bundle occlusion_map(const Plane& height, const std::vector<const Plane*>& soft, double deep, double pixels_per_design_px,
                     Rows rows, const Job& job) {
    const Size size = height.size();
    Plane sky(size, rows);
    for_rows(job, sky, [&](int first, int last) {
        std::vector<SoftRow> wide;
        for (const Plane* each : soft) wide.emplace_back(*each, size);
        for (int y = first; y < last; ++y) {
            float* out = sky.row(y);
            const float* here = height.row(y);
            std::fill_n(out, size.width, 1.0f);
            for (std::size_t k = 0; k < wide.size(); ++k) {
                const float* around = wide[k].at(y);
                const auto factor = static_cast<float>(deep / std::max(0.5, occlusion_px[k] * pixels_per_design_px));
                for (int x = 0; x < size.width; ++x) out[x] *= std::exp(-factor * std::max(0.0f, around[x] - here[x]));
            }
        }
    });
    return Bundle::of(std::move(sky));
}

}  // namespace loom
