// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/gaussian.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <vector>

#include "core/image/gaussian_kernel.h"

namespace loom {

namespace {

constexpr double recursive_from = 3.0;
constexpr double least = 0.02;

std::vector<float> kernel(double sigma) {
    const int radius = std::max(1, static_cast<int>(std::ceil(4.5 * sigma)));
    std::vector<double> values;
    double sum = 0;
    for (int k = -radius; k <= radius; ++k) sum += values.emplace_back(std::exp(-0.5 * k * k / (sigma * sigma)));
    std::vector<float> weights;
    for (double value : values) weights.push_back(static_cast<float>(value / sum));
    return weights;
}

void direct_across(const Plane& in, Plane& out, double sigma, const Job& job) {
    const auto weights = kernel(sigma);
    const int radius = static_cast<int>(weights.size() / 2), width = in.width();
    for_rows(job, in.height(), [&](int first, int last) {
        std::vector<float> padded(static_cast<std::size_t>(width + 2 * radius));
        for (int y = first; y < last; ++y) {
            const float* from = in.row(y);
            for (int x = -radius; x < width + radius; ++x) padded[static_cast<std::size_t>(x + radius)] = from[wrap(x, width)];
            float* to = out.row(y);
            std::fill_n(to, width, 0.0f);
            for (std::size_t k = 0; k < weights.size(); ++k) {
                const float weight = weights[k];
                const float* shifted = padded.data() + k;
                for (int x = 0; x < width; ++x) to[x] += weight * shifted[x];
            }
        }
    });
}

void direct_down(const Plane& in, Plane& out, double sigma, const Job& job) {
    const auto weights = kernel(sigma);
    const int radius = static_cast<int>(weights.size() / 2), width = in.width();
    for_rows(job, in.height(), [&](int first, int last) {
        for (int y = first; y < last; ++y) {
            float* to = out.row(y);
            std::fill_n(to, width, 0.0f);
            for (std::size_t k = 0; k < weights.size(); ++k) {
                const float weight = weights[k];
                const float* from = in.row(wrap(y + static_cast<int>(k) - radius, in.height()));
                for (int x = 0; x < width; ++x) to[x] += weight * from[x];
            }
        }
    });
}

/// The two pole pairs of Deriche's fit for this deviation, with unit gain, and their periodic start.
RecursiveGaussian recursive_filter(double sigma, int count) {
    using Complex = std::complex<double>;
    // g(x) = Re[(1.68 - 3.735 i) e^((-1.783 + 0.6318 i) x)] + Re[(-0.6803 + 0.2598 i) e^((-1.723 + 1.997 i) x)]
    const Complex residues[2] = {{1.68, -3.735}, {-0.6803, 0.2598}};
    const Complex poles[2] = {std::exp(Complex(-1.783, 0.6318) / sigma), std::exp(Complex(-1.723, 1.997) / sigma)};
    double gain = 0;
    for (int k = 0; k < 2; ++k) gain += (residues[k] * (1.0 + poles[k]) / (1.0 - poles[k])).real();
    RecursiveGaussian filter{};
    filter.warm_up = std::min(count, static_cast<int>(std::ceil(11 * sigma)));
    for (int k = 0; k < 2; ++k) {
        const Complex residue = residues[k] / gain;
        // A start after one whole period is the sum over all periods less this factor.
        const Complex closing = filter.warm_up == count ? 1.0 / (1.0 - std::pow(poles[k], count)) : Complex(1);
        filter.pole[k] = {static_cast<float>(poles[k].real()), static_cast<float>(poles[k].imag())};
        filter.residue[k] = {static_cast<float>(residue.real()), static_cast<float>(residue.imag())};
        filter.closing[k] = {static_cast<float>(closing.real()), static_cast<float>(closing.imag())};
    }
    return filter;
}

void recursive_across(const Plane& in, Plane& out, double sigma, const Job& job) {
    const RecursiveGaussian filter = recursive_filter(sigma, in.width());
    const int lanes = gaussian_lanes();
    const auto width = static_cast<std::size_t>(in.width());
    for_ranges(job, in.height(), lanes, [&](int first, int last) {
        std::vector<float> strip(width * static_cast<std::size_t>(lanes), 0.0f), result(strip.size());
        for (int y = first; y < last; ++y) {
            const float* row = in.row(y);
            float* lane = strip.data() + (y - first);
            for (std::size_t x = 0; x < width; ++x) lane[x * static_cast<std::size_t>(lanes)] = row[x];
        }
        gaussian_strip(filter, strip.data(), result.data(), in.width());
        for (int y = first; y < last; ++y) {
            float* row = out.row(y);
            const float* lane = result.data() + (y - first);
            for (std::size_t x = 0; x < width; ++x) row[x] = lane[x * static_cast<std::size_t>(lanes)];
        }
    });
}

void recursive_down(const Plane& in, Plane& out, double sigma, const Job& job) {
    const RecursiveGaussian filter = recursive_filter(sigma, in.height());
    const int lanes = gaussian_lanes();
    const auto stride = static_cast<std::size_t>(lanes);
    for_ranges(job, in.width(), lanes, [&](int first, int last) {
        const auto used = static_cast<std::size_t>(last - first);
        std::vector<float> strip(static_cast<std::size_t>(in.height()) * stride, 0.0f), result(strip.size());
        for (int y = 0; y < in.height(); ++y)
            std::copy_n(in.row(y) + first, used, strip.data() + static_cast<std::size_t>(y) * stride);
        gaussian_strip(filter, strip.data(), result.data(), in.height());
        for (int y = 0; y < in.height(); ++y)
            std::copy_n(result.data() + static_cast<std::size_t>(y) * stride, used, out.row(y) + first);
    });
}

}  // namespace

Plane gaussian_blur(const Plane& plane, double across, double down, const Job& job) {
    Plane narrow;
    const Plane* current = &plane;
    if (across > least) {
        narrow = Plane(plane.size());
        (across < recursive_from ? direct_across : recursive_across)(plane, narrow, across, job);
        current = &narrow;
    }
    if (down > least) {
        Plane out(plane.size());
        (down < recursive_from ? direct_down : recursive_down)(*current, out, down, job);
        return out;
    }
    return current == &narrow ? std::move(narrow) : plane.clone();
}

}  // namespace loom
