// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/surface.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/image/sample.h"

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

/// Rows of a blur that may be smaller than the picture, between whose pixels it is read: down first, then across.
class SoftRows {
public:
    SoftRows(const Plane& soft, Size size) : soft_(soft), size_(size) {
        if (soft.size() == size) return;
        for (int x = 0; x < size.width; ++x) {
            Tap tap;
            tap.first = place(x, size.width, soft.width(), tap.weights);
            taps_.push_back(tap);
        }
    }

    /// For one thread.
    struct Room {
        std::vector<float> narrow, row;
    };
    const float* at(int y, Room& room) const {
        if (taps_.empty()) return soft_.row(y);
        float weights[4];
        const int first = place(y, size_.height, soft_.height(), weights), width = soft_.width();
        const float* rows[4];
        for (int k = 0; k < 4; ++k) rows[k] = soft_.row(wrap(first + k, soft_.height()));
        // Two more on either side, over the edges.
        constexpr int more = 2;
        room.narrow.resize(static_cast<std::size_t>(width + 2 * more)), room.row.resize(taps_.size());
        for (int x = -more; x < width + more; ++x) {
            const int from = wrap_near(x, width);
            room.narrow[static_cast<std::size_t>(x + more)] =
                weights[0] * rows[0][from] + weights[1] * rows[1][from] + weights[2] * rows[2][from] + weights[3] * rows[3][from];
        }
        for (std::size_t x = 0; x < taps_.size(); ++x) {
            const Tap& tap = taps_[x];
            const float* from = room.narrow.data() + tap.first + more;
            room.row[x] =
                tap.weights[0] * from[0] + tap.weights[1] * from[1] + tap.weights[2] * from[2] + tap.weights[3] * from[3];
        }
        return room.row.data();
    }

private:
    struct Tap {
        int first;
        float weights[4];
    };

    /// The first of the four that pixel `index` of `count` lies between.
    static int place(int index, int count, int fewer, float weights[4]) {
        const double at = (index + 0.5) * fewer / count - 0.5, left = std::floor(at);
        catmull_rom(static_cast<float>(at - left), weights);
        return static_cast<int>(left) - 1;
    }

    const Plane& soft_;
    Size size_;
    std::vector<Tap> taps_;
};

}  // namespace

Bundle occlusion_map(const Plane& height, const std::vector<const Plane*>& soft, double deep, double pixels_per_design_px,
                     Rows rows, const Job& job) {
    const Size size = height.size();
    Plane sky(size, rows);
    std::vector<SoftRows> wide;
    for (const Plane* each : soft) wide.emplace_back(*each, size);
    for_rows(job, sky, [&](int first, int last) {
        SoftRows::Room room;
        for (int y = first; y < last; ++y) {
            float* out = sky.row(y);
            const float* here = height.row(y);
            // How deep it lies, in ways that take the light down to 1/e.
            std::fill_n(out, size.width, 0.0f);
            for (std::size_t k = 0; k < wide.size(); ++k) {
                const float* around = wide[k].at(y, room);
                const auto factor = static_cast<float>(deep / std::max(0.5, occlusion_px[k] * pixels_per_design_px));
                for (int x = 0; x < size.width; ++x) out[x] += factor * std::max(0.0f, around[x] - here[x]);
            }
            for (int x = 0; x < size.width; ++x) out[x] = std::exp(-out[x]);
        }
    });
    return Bundle::of(std::move(sky));
}

}  // namespace loom
