// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/grains.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"
#include "core/noise/grain_kernel.h"

namespace loom {

GrainField::Spans GrainField::spans(int grains, int pixels) {
    Spans result;
    result.one_to_one = grains == pixels;
    const double ratio = static_cast<double>(grains) / pixels;
    for (int i = 0; i < pixels; ++i) {
        Span span;
        const double begin = i * ratio, end = (i + 1) * ratio;
        span.first = static_cast<int>(std::floor(begin + 1e-9));
        span.weight = static_cast<int>(result.weights.size());
        for (int k = span.first; k < end - 1e-9; ++k)
            result.weights.push_back(static_cast<float>((std::min<double>(k + 1, end) - std::max<double>(k, begin)) / ratio));
        span.count = static_cast<int>(result.weights.size()) - span.weight;
        result.of_pixel.push_back(span);
    }
    return result;
}

GrainField::GrainField(const GrainSettings& settings, Size size)
    : settings_(settings), across_(spans(settings.across, size.width)), down_(spans(settings.down, size.height)) {
    if (settings.tails > 0 && settings.spread != Spread::sparse) {
        // E|n|^2q over the spread, so that the deviation stays 1.
        const double q = 1.0 + static_cast<double>(settings.tails);
        const double moment = settings.spread == Spread::even
                                  ? std::pow(3.0, q) / (2 * q + 1)
                                  : std::pow(2.0, q) * std::tgamma(q + 0.5) / std::sqrt(std::acos(-1.0));
        tail_scale_ = static_cast<float>(1.0 / std::sqrt(moment));
    }
}

void GrainField::row(int y, int x, int count, float* out, float factor, float centre) const {
    const Span& down = down_.of_pixel[static_cast<std::size_t>(y)];
    const Span* across = across_.of_pixel.data() + x;
    GrainRow grains;
    grains.spread = settings_.spread;
    // What runs aslant may need any of them.
    const bool aslant = settings_.slant != 0;
    grains.first = aslant ? 0 : across[0].first;
    grains.count = aslant ? settings_.across : across[count - 1].first + across[count - 1].count - grains.first;
    grains.tails = settings_.tails, grains.tail_scale = tail_scale_, grains.share = settings_.share;
    thread_local std::vector<float> values;
    values.resize(static_cast<std::size_t>(std::max(grains.count, count)) + grain_padding);
    const bool direct = across_.one_to_one;
    for (int j = 0; j < down.count; ++j) {
        const std::uint64_t hash = mix64(settings_.seed, static_cast<std::uint64_t>(down.first + j));
        grains.hash_a = static_cast<std::uint32_t>(hash), grains.hash_b = static_cast<std::uint32_t>(hash >> 32);
        // All rows of grains under the pixels are summed first, then averaged across.
        grains.weight = factor * down_.weights[static_cast<std::size_t>(down.weight + j)];
        grains.base = centre, grains.more = j > 0;
        grain_row(grains, values.data());
    }
    if (settings_.slant != 0) return slanted_row(y, x, count, values.data(), out);
    if (direct) {
        std::copy_n(values.data(), count, out);
        return;
    }
    for (int i = 0; i < count; ++i) {
        const float* from = values.data() + (across[i].first - grains.first);
        const float* weights = across_.weights.data() + across[i].weight;
        float sum = 0;
        for (int k = 0; k < across[i].count; ++k) sum += weights[k] * from[k];
        out[i] = sum;
    }
}

/// Means of all grains of the tile at places that have moved by as much as this row lies down the tile.
void GrainField::slanted_row(int y, int x, int count, const float* values, float* out) const {
    const double ratio = static_cast<double>(settings_.across) / static_cast<double>(across_.of_pixel.size()),
                 moved = settings_.slant * settings_.across * (y + 0.5) / static_cast<double>(down_.of_pixel.size());
    for (int i = 0; i < count; ++i) {
        const double begin = (x + i) * ratio + moved, end = begin + ratio;
        double sum = 0;
        for (auto k = static_cast<std::int64_t>(std::floor(begin)); static_cast<double>(k) < end - 1e-9; ++k)
            sum += static_cast<double>(values[wrap(static_cast<int>(k), settings_.across)]) *
                   (std::min(static_cast<double>(k + 1), end) - std::max(static_cast<double>(k), begin));
        out[i] = static_cast<float>(sum / ratio);
    }
}

}  // namespace loom
