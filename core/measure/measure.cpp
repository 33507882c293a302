// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/measure.h"

#include <algorithm>
#include <cmath>

#include "core/base/answering.h"
#include "core/base/quick_math.h"
#include "core/image/gaussian.h"
#include "core/measure/band.h"
#include "core/measure/lab_planes.h"

namespace loom {

namespace {

double percentile(std::vector<double> values, double share) {
    if (values.empty()) return 0;
    const auto at = static_cast<std::size_t>(share * static_cast<double>(values.size() - 1) + 0.5);
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(at), values.end());
    return values[at];
}

/// `lines` neighbours of `length` pixels; difference(line, place) compares line with the next one (wrapping).
template <class Difference>
Seam seam(int lines, int length, const Job& job, Difference&& difference) {
    std::vector<double> means(static_cast<std::size_t>(lines), 0.0);
    // Place by place for many lines at once, as one of the two ways runs across the rows in memory.
    for_ranges(job, lines, 64, [&](int first, int last) {
        for (int place = 0; place < length; ++place)
            for (int line = first; line < last; ++line) means[static_cast<std::size_t>(line)] += difference(line, place);
    });
    for (double& mean : means) mean /= length;
    Seam result;
    const double edge = means.back();
    const std::vector<double> interior(means.begin(), means.end() - 1);
    // Below half a step of 16 bit nothing can be told apart.
    const double floor = 0.5 / 65535;
    const double usual = std::max(percentile(interior, 0.95), floor);
    result.ratio = edge <= floor ? 0 : edge / usual;
    if (!interior.empty())
        result.rank = static_cast<double>(std::count_if(interior.begin(), interior.end(), [&](double m) { return m < edge; })) /
                      static_cast<double>(interior.size());
    // Worst stretch of a sixteenth of the edge.
    const int stretch = std::max(1, length / 16);
    double window = 0, worst = -1;
    for (int k = 0; k < stretch; ++k) window += difference(lines - 1, k);
    for (int start = 0; start < length; ++start) {
        if (window > worst) worst = window, result.worst_place = std::fmod((start + stretch * 0.5) / length, 1.0);
        window += difference(lines - 1, (start + stretch) % length) - difference(lines - 1, start);
    }
    return result;
}

Seam seam_across(const LabPlanes& lab, const Job& job) {
    const Size size = lab.size();
    return seam(size.width, size.height, job, [&](int x, int y) { return lab.difference(x, y, (x + 1) % size.width, y); });
}

Seam seam_down(const LabPlanes& lab, const Job& job) {
    const Size size = lab.size();
    return seam(size.height, size.width, job, [&](int y, int x) { return lab.difference(x, y, x, (y + 1) % size.height); });
}

Standout standout_of(const LabPlanes& lab, const Job& job) {
    const Size size = lab.size();
    std::vector<double> values(size.pixels(), 0.0);
    // Distance from the middle colour, in units of the usual distance.
    for (const Plane& plane : lab.planes) {
        const Plane soft = gaussian_blur(plane, size.width / 24.0, size.height / 24.0, job);
        std::vector<double> tones(soft.data(), soft.data() + size.pixels());
        const double middle = percentile(tones, 0.5);
        for_values(job, plane, [&](std::size_t first, std::size_t last) {
            for (std::size_t i = first; i < last; ++i) values[i] += (tones[i] - middle) * (tones[i] - middle);
        });
    }
    Standout result;
    for_values(job, lab.planes.front(), [&](std::size_t first, std::size_t last) {
        for (std::size_t i = first; i < last; ++i) values[i] = std::sqrt(values[i]);
    });
    const auto strongest = static_cast<std::size_t>(std::max_element(values.begin(), values.end()) - values.begin());
    // For a normal spread the median distance is 0.6745 deviations.
    const double usual = std::max(percentile(values, 0.5) / 0.6745, 1e-4);
    result.score = values[strongest] / usual;
    result.x = (static_cast<double>(strongest % static_cast<std::size_t>(size.width)) + 0.5) / size.width;
    result.y = (static_cast<double>(strongest / static_cast<std::size_t>(size.width)) + 0.5) / size.height;
    return result;
}

double evenness_of(const LabPlanes& lab, const Job& job) {
    const Size size = lab.size();
    const Plane soft = gaussian_blur(lab.planes.front(), size.width / 6.0, size.height / 6.0, job);
    const auto [low, high] = std::minmax_element(soft.data(), soft.data() + size.pixels());
    return std::clamp(1.0 - static_cast<double>(*high - *low), 0.0, 1.0);
}

}  // namespace

Seam seam_across(const Bundle& picture, const Job& job) { return seam_across(LabPlanes(picture, job), job); }
Seam seam_down(const Bundle& picture, const Job& job) { return seam_down(LabPlanes(picture, job), job); }

namespace {

/// What is counted in some rows; joined in their order, so that sums do not depend on threads.
struct Counts {
    double sum = 0;
    std::size_t black = 0, white = 0;
    std::array<std::size_t, Histogram::bins> bins{};
};

/// Calls body(first, last, part) for ranges of values on all threads and returns the parts in order.
template <class Part, class Body>
std::vector<Part> in_parts(const Plane& plane, const Job& job, Body&& body) {
    constexpr int rows = 64;
    const int parts = (plane.rows().count + rows - 1) / rows;
    std::vector<Part> all(static_cast<std::size_t>(parts));
    const auto width = static_cast<std::size_t>(plane.width());
    for_ranges(job, parts, 1, [&](int from, int to) {
        for (int part = from; part < to; ++part) {
            const auto first = static_cast<std::size_t>(part * rows) * width;
            body(first, std::min(plane.count(), first + rows * width), all[static_cast<std::size_t>(part)]);
        }
    });
    return all;
}

}  // namespace

Histogram histogram_of(const Bundle& picture, const Job& job) {
    Histogram result;
    const PlaneRef tone = tone_of(picture, job);
    const std::size_t count = tone->count();
    Counts all;
    for (const Counts& part : in_parts<Counts>(*tone, job, [&](std::size_t first, std::size_t last, Counts&here) {
             for (std::size_t i = first; i < last; ++i) {
                 const float value = tone->data()[i];
                 here.sum += static_cast<double>(value);
                 here.black += value <= 0;
                 here.white += value >= 1;
                 ++here.bins[static_cast<std::size_t>(within(value * 255.0f + 0.5f, 0.0f, 255.0f))];
             }
         })) {
        all.sum += part.sum, all.black += part.black, all.white += part.white;
        for (std::size_t k = 0; k < all.bins.size(); ++k) all.bins[k] += part.bins[k];
    }
    const auto total = static_cast<double>(std::max<std::size_t>(1, count));
    for (std::size_t k = 0; k < all.bins.size(); ++k) result.share[k] = static_cast<double>(all.bins[k]) / total;
    result.black = static_cast<double>(all.black) / total;
    result.white = static_cast<double>(all.white) / total;
    result.mean = all.sum / total;
    return result;
}

Measures measure(const Bundle& picture, const Job& job) {
    takes_its_time("measuring");
    const LabPlanes lab(picture, job);
    Measures result;
    job.check();
    result.across = seam_across(lab, job);
    job.check();
    result.down = seam_down(lab, job);
    find_bands(lab, result.across, result.down, job);
    result.standout = standout_of(lab, job);
    result.evenness = evenness_of(lab, job);
    result.histogram = histogram_of(picture, job);
    job.check();
    result.life = life_of(picture, job);
    double sums[3] = {};
    for (int c = 0; c < 3; ++c) {
        const Plane& plane = picture.channel(c);
        for (double part : in_parts<double>(plane, job, [&](std::size_t first, std::size_t last, double&sum) {
                 for (std::size_t i = first; i < last; ++i) sum += static_cast<double>(plane.data()[i]);
             }))
            sums[c] += part;
    }
    const auto count = static_cast<double>(picture.size().pixels());
    result.mean = {static_cast<float>(sums[0] / count), static_cast<float>(sums[1] / count), static_cast<float>(sums[2] / count)};
    return result;
}

}  // namespace loom
