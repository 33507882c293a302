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

/// Weights from the middle outwards.
std::vector<float> half_kernel(double sigma) {
    const int radius = std::max(1, static_cast<int>(std::ceil(3.0 * sigma)));
    std::vector<double> values;
    double sum = 0;
    for (int k = 0; k <= radius; ++k) sum += (k ? 2 : 1) * values.emplace_back(std::exp(-0.5 * k * k / (sigma * sigma)));
    std::vector<float> weights;
    for (double value : values) weights.push_back(static_cast<float>(value / sum));
    return weights;
}

/// A row and the pixels beyond its ends.
void pad(const float* from, int width, int radius, std::vector<float>& padded) {
    padded.resize(static_cast<std::size_t>(width + 2 * radius));
    std::copy_n(from, width, padded.data() + radius);
    for (int k = 1; k <= radius; ++k) {
        padded[static_cast<std::size_t>(radius - k)] = from[wrap(-k, width)];
        padded[static_cast<std::size_t>(radius + width + k - 1)] = from[wrap(k - 1, width)];
    }
}

/// Both directions at once: rows are blurred across into a ring of as many as the kernel is high, and down from there, so that
/// what lies between stays near the core.
void direct(const Plane& in, Plane& out, double across, double down, const Job& job) {
    const Rows wanted = out.rows();
    const auto wx = half_kernel(std::max(across, least)), wy = half_kernel(std::max(down, least));
    const int rx = across > least ? static_cast<int>(wx.size()) - 1 : 0, ry = down > least ? static_cast<int>(wy.size()) - 1 : 0;
    const int width = in.width();
    constexpr int band = 64;
    for_ranges(job, wanted.count, band, [&](int first, int last) {
        first += wanted.first, last += wanted.first;
        std::vector<float> padded;
        std::vector<const float*> rows(static_cast<std::size_t>(2 * std::max(rx, ry) + 1));
        const int high = 2 * ry + 1;
        // Rows of the ring do not lie whole pages apart, which would make them compete for the same places of the cache.
        Plane ring({width + 80, high});
        auto blur_across = [&](int y) {
            const float* row = in.row(wrap(y, in.height()));
            float* to = ring.row(wrap(y, high));
            if (rx == 0) {
                std::copy_n(row, width, to);
                return;
            }
            pad(row, width, rx, padded);
            for (int k = 0; k <= 2 * rx; ++k) rows[static_cast<std::size_t>(k)] = padded.data() + k;
            symmetric_sum(rows.data(), wx.data(), rx, width, to);
        };
        for (int y = first - ry; y < first + ry; ++y) blur_across(y);
        for (int y = first; y < last; ++y) {
            blur_across(y + ry);
            for (int k = -ry; k <= ry; ++k) rows[static_cast<std::size_t>(k + ry)] = ring.row(wrap(y + k, high));
            if (ry == 0)
                std::copy_n(rows[0], width, out.row(wrap(y, in.height())));
            else
                symmetric_sum(rows.data(), wy.data(), ry, width, out.row(wrap(y, in.height())));
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
    filter.warm_up = std::min(count, static_cast<int>(std::ceil(7 * sigma)));
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
        // In pieces of a few columns, so that both sides of the turning stay near the core.
        constexpr int piece = 64;
        const auto stride = static_cast<std::size_t>(lanes);
        for (int left = 0; left < in.width(); left += piece)
            transpose(in.row(first) + left, width, last - first, std::min(piece, in.width() - left),
                      strip.data() + static_cast<std::size_t>(left) * stride, stride);
        gaussian_strip(filter, strip.data(), result.data(), in.width());
        for (int left = 0; left < in.width(); left += piece)
            transpose(result.data() + static_cast<std::size_t>(left) * stride, stride, std::min(piece, in.width() - left),
                      last - first, out.row(first) + left, width);
    });
}

void recursive_down(const Plane& in, Plane& out, double sigma, const Job& job) {
    const RecursiveGaussian filter = recursive_filter(sigma, in.height());
    const int lanes = gaussian_lanes();
    const auto stride = static_cast<std::size_t>(lanes);
    // Two strips at a time: rows lie pages apart, so that each visit should fetch more than a line or two.
    for_ranges(job, in.width(), 2 * lanes, [&](int first, int last) {
        const std::size_t length = static_cast<std::size_t>(in.height()) * stride;
        std::vector<float> strips(2 * length, 0.0f), results(2 * length);
        const auto used = static_cast<std::size_t>(last - first), left = std::min(used, stride), right = used - left;
        constexpr int ahead = 12;
        for (int y = 0; y < in.height(); ++y) {
            const float* row = in.row(y) + first;
            const float* later = in.row(std::min(y + ahead, in.height() - 1)) + first;
            for (std::size_t k = 0; k < used; k += 16) __builtin_prefetch(later + k);
            float* to = strips.data() + static_cast<std::size_t>(y) * stride;
            std::copy_n(row, left, to);
            std::copy_n(row + left, right, to + length);
        }
        for (std::size_t k = 0; k < (right > 0 ? 2u : 1u); ++k)
            gaussian_strip(filter, strips.data() + k * length, results.data() + k * length, in.height());
        for (int y = 0; y < in.height(); ++y) {
            float* row = out.row(y) + first;
            const float* later = out.row(std::min(y + ahead, in.height() - 1)) + first;
            for (std::size_t k = 0; k < used; k += 16) __builtin_prefetch(later + k, 1);
            const float* from = results.data() + static_cast<std::size_t>(y) * stride;
            std::copy_n(from, left, row);
            std::copy_n(from + length, right, row + left);
        }
    });
}

}  // namespace

Footprint gaussian_footprint(double across, double down) {
    if (std::max(across, down) >= recursive_from) return Footprint::whole();
    auto reach = [](double sigma) { return sigma > least ? std::max(1, static_cast<int>(std::ceil(3 * sigma))) : 0; };
    const int x = reach(across), y = reach(down);
    return x > 0 || y > 0 ? Footprint::near(x, y) : Footprint::pixel();
}

Plane gaussian_blur(const Plane& plane, double across, double down, const Job& job) {
    return gaussian_blur(plane, across, down, plane.rows(), job);
}

Plane gaussian_blur(const Plane& plane, double across, double down, Rows rows, const Job& job) {
    const bool small_across = across < recursive_from, small_down = down < recursive_from;
    if (across <= least && down <= least) return plane.part(rows)->clone();
    Plane out(plane.size(), rows);
    if (small_across && small_down) {
        direct(plane, out, across, down, job);
        return out;
    }
    // The recursive filter works on strips that it copies, so that a plane can be filtered in its place.
    if (small_across || small_down) {
        // One of each: the direct way is left out in the other direction.
        direct(plane, out, small_across ? across : 0, small_down ? down : 0, job);
        (small_across ? recursive_down : recursive_across)(out, out, small_across ? down : across, job);
        return out;
    }
    recursive_across(plane, out, across, job);
    recursive_down(out, out, down, job);
    return out;
}

}  // namespace loom
