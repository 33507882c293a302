// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/stream.h"

#include <algorithm>

#include "core/image/sample_kernel.h"
#include "core/image/stream_kernel.h"

namespace loom {

std::vector<Plane> stream_means(const std::vector<const Plane*>& planes, const DirectionField& field, double stride,
                                const std::vector<float>& weights, const Job& job) {
    const Size size = field.cosine.size();
    const std::size_t count = planes.size();
    std::vector<Plane> out;
    for (std::size_t k = 0; k < count; ++k) out.emplace_back(size);
    std::vector<const float*> sources;
    for (const Plane* plane : planes) sources.push_back(plane->data());
    sources.push_back(field.cosine.data()), sources.push_back(field.sine.data());
    float total = weights[0];
    for (std::size_t n = 1; n < weights.size(); ++n) total += 2 * weights[n];

    // A tile at a time stays near the core while its lines are followed.
    constexpr int tile = 256;
    for_ranges(job, size.height, 8, [&](int first, int last) {
        std::vector<float> px(tile), py(tile), dx(tile), dy(tile), before_x(tile), before_y(tile), values((count + 2) * tile);
        std::vector<float*> read(count + 2);
        for (std::size_t k = 0; k < read.size(); ++k) read[k] = values.data() + k * tile;
        const float *cosine = read[count], *sine = read[count + 1];
        for (int left = 0; left < size.width; left += tile)
            for (int y = first; y < last; ++y) {
                job.check();
                const int width = std::min(tile, size.width - left);
                for (std::size_t k = 0; k < count; ++k)
                    for (int x = 0; x < width; ++x) out[k].row(y)[left + x] = weights[0] / total * planes[k]->row(y)[left + x];
                for (float side : {1.0f, -1.0f}) {
                    for (int x = 0; x < width; ++x) px[static_cast<std::size_t>(x)] = static_cast<float>(left + x);
                    std::fill_n(py.begin(), width, static_cast<float>(y));
                    // The first direction is made to look right (or down), or left for the other side.
                    std::fill_n(dx.begin(), width, side), std::fill_n(dy.begin(), width, side * 1e-3f);
                    stream_turn(field.cosine.row(y) + left, field.sine.row(y) + left, width, dx.data(), dy.data());
                    before_x = dx, before_y = dy;
                    for (std::size_t n = 1; n < weights.size(); ++n) {
                        // Half a stride back from the direction here, as far as it turned over the last one (Adams &
                        // Bashforth's second order).
                        stream_move(1.5f * static_cast<float>(stride), dx.data(), dy.data(), width, px.data(), py.data());
                        stream_move(-0.5f * static_cast<float>(stride), before_x.data(), before_y.data(), width, px.data(),
                                    py.data());
                        std::copy_n(dx.data(), width, before_x.data()), std::copy_n(dy.data(), width, before_y.data());
                        read_bilinear(sources.data(), static_cast<int>(count + 2), size, px.data(), py.data(), width,
                                      read.data());
                        for (std::size_t k = 0; k < count; ++k)
                            stream_add(weights[n] / total, read[k], width, out[k].row(y) + left);
                        stream_turn(cosine, sine, width, dx.data(), dy.data());
                    }
                }
            }
    });
    return out;
}

}  // namespace loom
