// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/noise/grains.h"

#include <algorithm>
#include <cmath>

#include "core/base/hash.h"

namespace loom {

float normal_of(std::uint64_t hash) {
    // Centre of one of 2^23 equal cells of (-1, 1): 2 k + 1 has 24 bits, so a float holds it and neither end is reached.
    const float x = (2.0f * static_cast<float>(hash >> 41) + 1.0f) * (1.0f / 8388608.0f) - 1.0f;
    float w = -std::log((1.0f - x) * (1.0f + x));
    float p;
    if (w < 5.0f) {
        w -= 2.5f;
        p = 2.81022636e-08f;
        for (float c : {3.43273939e-07f, -3.5233877e-06f, -4.39150654e-06f, 0.00021858087f, -0.00125372503f, -0.00417768164f,
                        0.246640727f, 1.50140941f})
            p = c + p * w;
    } else {
        w = std::sqrt(w) - 3.0f;
        p = -0.000200214257f;
        for (float c : {0.000100950558f, 0.00134934322f, -0.00367342844f, 0.00573950773f, -0.0076224613f, 0.00943887047f,
                        1.00167406f, 2.83297682f})
            p = c + p * w;
    }
    return 1.41421356f * p * x;
}

std::vector<GrainField::Span> GrainField::spans(int grains, int pixels) {
    std::vector<Span> result(static_cast<std::size_t>(pixels));
    const double ratio = static_cast<double>(grains) / pixels;
    for (int i = 0; i < pixels; ++i) {
        Span& span = result[static_cast<std::size_t>(i)];
        const double begin = i * ratio, end = (i + 1) * ratio;
        span.first = static_cast<int>(std::floor(begin + 1e-9));
        for (int k = span.first; k < end - 1e-9; ++k)
            span.weights.push_back(static_cast<float>((std::min<double>(k + 1, end) - std::max<double>(k, begin)) / ratio));
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

float GrainField::grain(std::uint64_t row_hash, int column) const {
    const std::uint64_t hash = mix64(row_hash + static_cast<std::uint64_t>(column));
    if (settings_.spread == Spread::sparse) return unit_float(hash) < settings_.share ? 1.0f : 0.0f;
    // Even: variance of a uniform deviate on (-1, 1) is 1/3.
    const float n = settings_.spread == Spread::even ? (2 * unit_float(hash) - 1) * 1.7320508f : normal_of(hash);
    if (settings_.tails <= 0) return n;
    return std::copysign(std::pow(std::abs(n), 1 + settings_.tails), n) * tail_scale_;
}

void GrainField::row(int y, int x, int count, float* out) const {
    std::fill_n(out, count, 0.0f);
    const Span& down = down_[static_cast<std::size_t>(y)];
    for (std::size_t j = 0; j < down.weights.size(); ++j) {
        const std::uint64_t row_hash = mix64(settings_.seed, static_cast<std::uint64_t>(down.first) + j);
        int known = -1;
        float value = 0;
        for (int i = 0; i < count; ++i) {
            const Span& across = across_[static_cast<std::size_t>(x + i)];
            float sum = 0;
            for (std::size_t k = 0; k < across.weights.size(); ++k) {
                const int column = across.first + static_cast<int>(k);
                if (column != known) {
                    value = grain(row_hash, column);
                    known = column;
                }
                sum += across.weights[k] * value;
            }
            out[i] += down.weights[j] * sum;
        }
    }
}

}  // namespace loom
