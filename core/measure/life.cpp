// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/life.h"

#include <algorithm>
#include <cmath>

#include "core/colour/colour.h"
#include "core/image/gaussian.h"

namespace loom {

namespace {

constexpr int across = 512, least_side = 16;

struct Lightness {
    Plane l, a, b;
};

/// OKLab over black, brought to 512 across by area means.
Lightness brought(const Bundle& picture, const Job& job) {
    const Size own = picture.size();
    const Size size = own.width > across
                          ? Size{across, std::max(1, static_cast<int>(std::lround(double(own.height) * across / own.width)))}
                          : own;
    const Bundle small = size == own ? picture : resized(picture, size, job);
    Lightness lab{Plane(size), Plane(size), Plane(size)};
    for_rows(job, size.height, [&](int first, int last) {
        for (int y = first; y < last; ++y)
            for (int x = 0; x < size.width; ++x) {
                const Lab here = to_oklab({small.channel(0).at(x, y), small.channel(1).at(x, y), small.channel(2).at(x, y)});
                lab.l.row(y)[x] = here.lightness, lab.a.row(y)[x] = here.a, lab.b.row(y)[x] = here.b;
            }
    });
    return lab;
}

Plane band(const Plane& lightness, int k, const Job& job) {
    const double fine = 0.7 * (1 << k), coarse = 1.4 * (1 << k);
    Plane out = gaussian_blur(lightness, fine, fine, job);
    const Plane soft = gaussian_blur(lightness, coarse, coarse, job);
    for (std::size_t i = 0; i < out.count(); ++i) out.data()[i] -= soft.data()[i];
    return out;
}

struct Moments {
    double mean = 0, variance = 0, fourth = 0;
};
Moments moments_of(const Plane& plane) {
    Moments m;
    const auto count = static_cast<double>(plane.count());
    for (std::size_t i = 0; i < plane.count(); ++i) m.mean += static_cast<double>(plane.data()[i]);
    m.mean /= count;
    for (std::size_t i = 0; i < plane.count(); ++i) {
        const double off = static_cast<double>(plane.data()[i]) - m.mean, square = off * off;
        m.variance += square, m.fourth += square * square;
    }
    m.variance /= count, m.fourth /= count;
    return m;
}

constexpr double flat = 1e-12;  ///< a variance that only rounding makes

Plane strength(const Plane& band_plane, int k, const Job& job) {
    Plane size = band_plane.clone();
    for (std::size_t i = 0; i < size.count(); ++i) size.data()[i] = std::abs(size.data()[i]);
    return gaussian_blur(size, 1.4 * (1 << k), 1.4 * (1 << k), job);
}

double correlation(const Plane& one, const Plane& other) {
    const Moments a = moments_of(one), b = moments_of(other);
    if (a.variance < flat || b.variance < flat) return 0;
    double both = 0;
    for (std::size_t i = 0; i < one.count(); ++i)
        both += (static_cast<double>(one.data()[i]) - a.mean) * (static_cast<double>(other.data()[i]) - b.mean);
    return both / static_cast<double>(one.count()) / std::sqrt(a.variance * b.variance);
}

/// What a cubic in `tone` leaves of the variance of `of`: least squares by normal equations about the mean tone.
double unexplained(const Plane& tone, const Plane& of) {
    constexpr int terms = 4;
    const double middle = moments_of(tone).mean;
    double matrix[terms][terms + 1] = {};
    double squares = 0;
    for (std::size_t i = 0; i < tone.count(); ++i) {
        const double t = static_cast<double>(tone.data()[i]) - middle, v = static_cast<double>(of.data()[i]);
        const double powers[terms] = {1, t, t * t, t * t * t};
        for (int r = 0; r < terms; ++r) {
            for (int c = 0; c < terms; ++c) matrix[r][c] += powers[r] * powers[c];
            matrix[r][terms] += powers[r] * v;
        }
        squares += v * v;
    }
    double right[terms];
    for (int r = 0; r < terms; ++r) right[r] = matrix[r][terms];
    for (int p = 0; p < terms; ++p) {
        // A term that the others hold already says nothing new.
        if (std::abs(matrix[p][p]) < 1e-9 * static_cast<double>(tone.count()) * 1e-6) {
            for (int c = 0; c <= terms; ++c) matrix[p][c] = 0;
            continue;
        }
        for (int r = 0; r < terms; ++r) {
            if (r == p) continue;
            const double factor = matrix[r][p] / matrix[p][p];
            for (int c = p; c <= terms; ++c) matrix[r][c] -= factor * matrix[p][c];
        }
    }
    double explained = 0;
    for (int r = 0; r < terms; ++r)
        if (matrix[r][r] != 0) explained += matrix[r][terms] / matrix[r][r] * right[r];
    return std::max(0.0, (squares - explained) / static_cast<double>(tone.count()));
}

bool too_small(const Bundle& picture) {
    return picture.empty() || std::min(picture.size().width, picture.size().height) < least_side;
}

}  // namespace

Life life_of(const Bundle& picture, const Job& job) {
    Life life;
    if (too_small(picture)) return life;
    const Lightness lab = brought(picture, job);
    const Plane bands[] = {band(lab.l, 0, job), band(lab.l, 1, job), band(lab.l, 2, job)};
    for (int k = 0; k < 2; ++k) {
        const Moments m = moments_of(bands[k]);
        if (m.variance > flat) life.spark += m.fourth / (m.variance * m.variance) / 2;
        life.kinship += correlation(strength(bands[k], k, job), strength(bands[k + 1], k, job)) / 2;
        job.check();
    }
    life.play = picture.grey() ? 0 : 100 * std::sqrt(unexplained(lab.l, lab.a) + unexplained(lab.l, lab.b));
    return life;
}

Bands bands_of(const Bundle& picture, const Job& job) {
    Bands result;
    if (too_small(picture)) return result;
    const Lightness lab = brought(picture, job);
    for (int k = 0; k < band_count; ++k)
        result.deviation[static_cast<std::size_t>(k)] = std::sqrt(moments_of(band(lab.l, k, job)).variance);
    return result;
}

}  // namespace loom
