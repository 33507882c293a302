// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/measure/repeat.h"

#include <algorithm>
#include <cmath>

#include "core/image/gaussian.h"
#include "core/measure/lab_planes.h"

namespace loom {

namespace {

/// Means of difference(line, place) between the last line and the first, in parts along it, over the mean of other lines.
template <class Difference>
std::vector<double> along(int lines, int length, Difference&& difference) {
    const int parts = std::min(marks_along, length);
    std::vector<double> marks(static_cast<std::size_t>(parts));
    // Every eighth line tells well enough what is usual.
    double usual = 0;
    int counted = 0;
    for (int line = 0; line + 1 < lines; line += std::max(1, lines / 8)) {
        for (int place = 0; place < length; ++place) usual += difference(line, place);
        ++counted;
    }
    usual = std::max(usual / (std::max(1, counted) * static_cast<double>(length)), 0.5 / 255);
    for (int k = 0; k < parts; ++k) {
        const int from = k * length / parts, to = (k + 1) * length / parts;
        double sum = 0;
        for (int place = from; place < to; ++place) sum += difference(lines - 1, place);
        marks[static_cast<std::size_t>(k)] = sum / (to - from) / usual;
    }
    return marks;
}

double deviation(const Plane& plane) {
    double sum = 0, squares = 0;
    for (std::size_t i = 0; i < plane.count(); ++i) sum += plane.data()[i];
    const double mean = sum / static_cast<double>(plane.count());
    for (std::size_t i = 0; i < plane.count(); ++i) squares += (plane.data()[i] - mean) * (plane.data()[i] - mean);
    return std::sqrt(squares / static_cast<double>(plane.count()));
}

}  // namespace

RepeatMarks repeat_marks(const Bundle& picture, const Job& job) {
    const LabPlanes lab(picture, job);
    const Size size = lab.size();
    RepeatMarks marks;
    marks.across = along(size.width, size.height, [&](int x, int y) { return lab.difference(x, y, (x + 1) % size.width, y); });
    job.check();
    marks.down = along(size.height, size.width, [&](int y, int x) { return lab.difference(x, y, x, (y + 1) % size.height); });
    job.check();
    const double shrink = std::min(1.0, 64.0 / std::max(size.width, size.height));
    const Size small{std::max(1, static_cast<int>(size.width * shrink)), std::max(1, static_cast<int>(size.height * shrink))};
    Plane light = gaussian_blur(resized(lab.planes[0], small, job), small.width / 6.0, small.height / 6.0, job);
    double mean = 0;
    for (std::size_t i = 0; i < light.count(); ++i) mean += light.data()[i];
    mean /= static_cast<double>(light.count());
    for (std::size_t i = 0; i < light.count(); ++i) light.data()[i] -= static_cast<float>(mean);
    marks.light = std::move(light);
    const double whole = deviation(lab.planes[0]);
    const Plane broad = gaussian_blur(lab.planes[0], size.width / 24.0, size.height / 24.0, job);
    marks.grid = whole > 1e-6 ? std::min(1.0, deviation(broad) / whole) : 0;
    return marks;
}

}  // namespace loom
