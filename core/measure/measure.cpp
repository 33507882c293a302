// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/measure.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"

namespace loom {

namespace {

/// OKLab of a picture over black, plane by plane; grey pictures have no a and b.
struct LabPlanes {
    std::vector<Plane> planes;
    explicit LabPlanes(const Bundle& picture) {
        const Size size = picture.size();
        const int count = picture.grey() ? 1 : 3;
        for (int k = 0; k < count; ++k) planes.emplace_back(size);
        const float *r = picture.channel(0).data(), *g = picture.channel(1).data(), *b = picture.channel(2).data();
        for (std::size_t i = 0; i < size.pixels(); ++i) {
            const Lab lab = to_oklab({r[i], g[i], b[i]});
            planes[0].data()[i] = lab.lightness;
            if (count == 3) planes[1].data()[i] = lab.a, planes[2].data()[i] = lab.b;
        }
    }
    Size size() const { return planes.front().size(); }
    /// Lightness difference plus chroma distance of two pixels.
    double difference(int x0, int y0, int x1, int y1) const {
        double total = std::abs(planes[0].at(x0, y0) - planes[0].at(x1, y1));
        if (planes.size() == 3)
            total += std::hypot(planes[1].at(x0, y0) - planes[1].at(x1, y1), planes[2].at(x0, y0) - planes[2].at(x1, y1));
        return total;
    }
};

double percentile(std::vector<double> values, double share) {
    if (values.empty()) return 0;
    const auto at = static_cast<std::size_t>(share * static_cast<double>(values.size() - 1) + 0.5);
    std::nth_element(values.begin(), values.begin() + static_cast<std::ptrdiff_t>(at), values.end());
    return values[at];
}

/// `lines` neighbours of `length` pixels; difference(line, place) compares line with the next one (wrapping).
template <class Difference>
Seam seam(int lines, int length, Difference&& difference) {
    std::vector<double> means(static_cast<std::size_t>(lines), 0.0);
    for (int line = 0; line < lines; ++line) {
        double sum = 0;
        for (int place = 0; place < length; ++place) sum += difference(line, place);
        means[static_cast<std::size_t>(line)] = sum / length;
    }
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

Seam seam_across(const LabPlanes& lab) {
    const Size size = lab.size();
    return seam(size.width, size.height, [&](int x, int y) { return lab.difference(x, y, (x + 1) % size.width, y); });
}

Seam seam_down(const LabPlanes& lab) {
    const Size size = lab.size();
    return seam(size.height, size.width, [&](int y, int x) { return lab.difference(x, y, x, (y + 1) % size.height); });
}

Standout standout_of(const LabPlanes& lab, const Job& job) {
    const Size size = lab.size();
    std::vector<double> values(size.pixels(), 0.0);
    // Distance from the middle colour, in units of the usual distance.
    for (const Plane& plane : lab.planes) {
        const Plane soft = gaussian_blur(plane, size.width / 24.0, size.height / 24.0, job);
        std::vector<double> tones(soft.data(), soft.data() + size.pixels());
        const double middle = percentile(tones, 0.5);
        for (std::size_t i = 0; i < values.size(); ++i) values[i] += (tones[i] - middle) * (tones[i] - middle);
    }
    Standout result;
    std::size_t strongest = 0;
    for (std::size_t i = 0; i < values.size(); ++i) {
        values[i] = std::sqrt(values[i]);
        if (values[i] > values[strongest]) strongest = i;
    }
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

Seam seam_across(const Bundle& picture) { return seam_across(LabPlanes(picture)); }
Seam seam_down(const Bundle& picture) { return seam_down(LabPlanes(picture)); }

Histogram histogram_of(const Bundle& picture) {
    Histogram result;
    const PlaneRef tone = tone_of(picture);
    const std::size_t count = tone->size().pixels();
    double sum = 0;
    std::size_t black = 0, white = 0;
    std::array<std::size_t, Histogram::bins> counts{};
    for (std::size_t i = 0; i < count; ++i) {
        const float value = tone->data()[i];
        sum += value;
        black += value <= 0;
        white += value >= 1;
        ++counts[static_cast<std::size_t>(std::clamp(value * 255.0f + 0.5f, 0.0f, 255.0f))];
    }
    const auto total = static_cast<double>(std::max<std::size_t>(1, count));
    for (std::size_t k = 0; k < counts.size(); ++k) result.share[k] = static_cast<double>(counts[k]) / total;
    result.black = static_cast<double>(black) / total;
    result.white = static_cast<double>(white) / total;
    result.mean = sum / total;
    return result;
}

Measures measure(const Bundle& picture, const Job& job) {
    const LabPlanes lab(picture);
    Measures result;
    job.check();
    result.across = seam_across(lab);
    job.check();
    result.down = seam_down(lab);
    result.standout = standout_of(lab, job);
    result.evenness = evenness_of(lab, job);
    result.histogram = histogram_of(picture);
    double sums[3] = {};
    for (int c = 0; c < 3; ++c) {
        const Plane& plane = picture.channel(c);
        for (std::size_t i = 0; i < plane.size().pixels(); ++i) sums[c] += plane.data()[i];
    }
    const auto count = static_cast<double>(picture.size().pixels());
    result.mean = {static_cast<float>(sums[0] / count), static_cast<float>(sums[1] / count), static_cast<float>(sums[2] / count)};
    return result;
}

}  // namespace loom
