// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/round.h"

#include <algorithm>
#include <cmath>

#include "core/image/box_kernel.h"
#include "core/image/polar_kernel.h"
#include "core/image/sample_kernel.h"

namespace loom {

namespace {

constexpr double full_turn = 6.283185307179586;

int ring_samples(int radius) { return std::max(8, static_cast<int>(std::ceil(full_turn * radius))); }

/// Four samples round a place and where it lies between them: on one line and on the next.
struct Between {
    std::size_t first, second;
    float along_first, along_second, across;
    float read(const float* sheet) const {
        const float a = sheet[first] + along_first * (sheet[first + 1] - sheet[first]);
        const float b = sheet[second] + along_second * (sheet[second + 1] - sheet[second]);
        return a + across * (b - a);
    }
};

}  // namespace

/// Lines of samples one after another; a closed line repeats its first sample behind its last.
struct PolarLines::Sheet {
    std::vector<int> counts;
    std::vector<std::size_t> starts;
    bool closed;

    Sheet(std::vector<int> line_counts, bool lines_closed) : counts(std::move(line_counts)), closed(lines_closed) {
        std::size_t next = 0;
        for (int count : counts) starts.push_back(next), next += static_cast<std::size_t>(count) + 1;
        starts.push_back(next);
    }
    std::size_t samples() const { return starts.back(); }
};

namespace {

/// To the farthest corner, in pixels.
int reach_of(Size size, double cx, double cy) {
    double far = 0;
    for (double x : {0.0, size.width - 1.0})
        for (double y : {0.0, size.height - 1.0}) far = std::max(far, std::hypot(x - cx, y - cy));
    return static_cast<int>(std::ceil(far)) + 2;
}

}  // namespace

PolarLines::PolarLines(Size size, double centre_x_percent, double centre_y_percent)
    : size_(size), cx_(centre_x_percent / 100 * size.width - 0.5), cy_(centre_y_percent / 100 * size.height - 0.5) {
    reach_ = reach_of(size_, cx_, cy_);
}

double polar_scratch(Size size, double centre_x_percent, double centre_y_percent, int planes) {
    const double reach = reach_of(size, centre_x_percent / 100 * size.width, centre_y_percent / 100 * size.height);
    // About a sample for each pixel of a disc that far; half as many again for rays, which crowd in the middle.
    return planes * 3.2 * reach * reach / static_cast<double>(size.pixels());
}

template <class Places, class Find>
std::vector<Plane> PolarLines::by(const Sheet& sheet, const std::vector<const Plane*>& planes, const Job& job,
                                  const Filter& filter, const Places& places, const Find& find) const {
    const std::size_t plane_count = planes.size();
    std::vector<const float*> from;
    std::vector<Plane> sheets, out;  // a sheet is kept as a plane of one row, for its large pages
    for (const Plane* plane : planes) {
        from.push_back(plane->data());
        sheets.emplace_back(Size{static_cast<int>(sheet.samples()), 1}), out.emplace_back(size_);
    }
    constexpr int together = 16;
    for_ranges(job, static_cast<int>(sheet.counts.size()), together, [&](int first, int last) {
        // Neighbouring lines are read piece by piece side by side, as what one reads the next mostly reads again.
        std::vector<float> x, y, values;
        std::vector<std::size_t> starts;
        for (int n = first; n < last; ++n) {
            const int count = sheet.counts[static_cast<std::size_t>(n)];
            starts.push_back(x.size());
            x.resize(x.size() + static_cast<std::size_t>(count)), y.resize(x.size());
            places(n, count, x.data() + starts.back(), y.data() + starts.back());
        }
        values.resize(x.size() * plane_count);
        std::vector<float*> rows(plane_count);
        constexpr int piece = 128;
        for (int begin = 0; begin < sheet.counts[static_cast<std::size_t>(last - 1)]; begin += piece)
            for (int n = first; n < last; ++n) {
                const int end = std::min(begin + piece, sheet.counts[static_cast<std::size_t>(n)]);
                if (begin >= end) continue;
                const std::size_t at = starts[static_cast<std::size_t>(n - first)] + static_cast<std::size_t>(begin);
                for (std::size_t k = 0; k < plane_count; ++k) rows[k] = values.data() + k * x.size() + at;
                read_bilinear(from.data(), static_cast<int>(plane_count), size_, x.data() + at, y.data() + at, end - begin,
                              rows.data());
            }
        for (int n = first; n < last; ++n)
            for (std::size_t k = 0; k < plane_count; ++k) {
                const int count = sheet.counts[static_cast<std::size_t>(n)];
                float* line = sheets[k].data() + sheet.starts[static_cast<std::size_t>(n)];
                filter(values.data() + k * x.size() + starts[static_cast<std::size_t>(n - first)], count, line);
                line[count] = sheet.closed ? line[0] : line[count - 1];
            }
    });
    // Tile by tile: what a row reads of a ring or a ray the next row mostly reads again.
    constexpr int tile = 64;
    for_rows(job, size_.height, [&](int first, int last) {
        float radius[tile], turn[tile];
        Between where[tile];
        std::vector<float*> rows(plane_count);
        for (int left = 0; left < size_.width; left += tile)
            for (int y = first; y < last; ++y) {
                const int count = std::min(tile, size_.width - left);
                polar_row(static_cast<float>(left - cx_), static_cast<float>(y - cy_), count, radius, turn);
                for (std::size_t k = 0; k < plane_count; ++k) rows[k] = out[k].row(y) + left;
                // Lines lie far apart in memory: all are asked for before the first is waited for.
                for (int x = 0; x < count; ++x) {
                    where[x] = find(radius[x], turn[x]);
                    for (const Plane& lines : sheets) __builtin_prefetch(lines.data() + where[x].second);
                }
                for (std::size_t k = 0; k < plane_count; ++k) {
                    const float* data = sheets[k].data();
                    for (int x = 0; x < count; ++x) rows[k][x] = where[x].read(data);
                }
            }
    });
    return out;
}

std::vector<Plane> PolarLines::by_rings(const std::vector<const Plane*>& planes, const Job& job, const Filter& filter) const {
    std::vector<int> counts;
    for (int r = 0; r < reach_; ++r) counts.push_back(ring_samples(r));
    const Sheet sheet(std::move(counts), true);
    return by(
        sheet, planes, job, filter,
        [&](int radius, int count, float* x, float* y) {
            // A point that is turned on by the same small angle each time.
            const double c = std::cos(full_turn / count), s = std::sin(full_turn / count);
            double dx = radius, dy = 0;
            for (int k = 0; k < count; ++k) {
                x[k] = static_cast<float>(cx_ + dx), y[k] = static_cast<float>(cy_ + dy);
                const double next = c * dx - s * dy;
                dy = s * dx + c * dy, dx = next;
            }
        },
        [&](float radius, float turn) {
            const int inner = std::min(static_cast<int>(radius), reach_ - 2);
            Between place{};
            place.across = radius - static_cast<float>(inner);
            auto on = [&](int ring, std::size_t& at, float& along) {
                const int count = sheet.counts[static_cast<std::size_t>(ring)];
                const float where = turn * static_cast<float>(count);
                const int k = std::min(static_cast<int>(where), count - 1);
                at = sheet.starts[static_cast<std::size_t>(ring)] + static_cast<std::size_t>(k);
                along = where - static_cast<float>(k);
            };
            on(inner, place.first, place.along_first);
            on(inner + 1, place.second, place.along_second);
            return place;
        });
}

std::vector<Plane> PolarLines::by_rays(const std::vector<const Plane*>& planes, const Job& job, const Filter& filter) const {
    // Half as many rays as the outermost ring has pixels: between rays the picture is read by straight lines.
    const int rays = std::max(16, ring_samples(reach_) / 2);
    const Sheet sheet(std::vector<int>(static_cast<std::size_t>(rays), reach_), false);
    const auto stride = static_cast<std::size_t>(reach_) + 1;
    return by(
        sheet, planes, job, filter,
        [&](int ray, int count, float* x, float* y) {
            const double c = std::cos(full_turn * ray / rays), s = std::sin(full_turn * ray / rays);
            for (int r = 0; r < count; ++r) x[r] = static_cast<float>(cx_ + r * c), y[r] = static_cast<float>(cy_ + r * s);
        },
        [&](float radius, float turn) {
            const float where = turn * static_cast<float>(rays);
            const int ray = std::min(static_cast<int>(where), rays - 1), inner = std::min(static_cast<int>(radius), reach_ - 2);
            const float along = radius - static_cast<float>(inner);
            const auto at = static_cast<std::size_t>(inner);
            return Between{static_cast<std::size_t>(ray) * stride + at,
                           (ray + 1 < rays ? static_cast<std::size_t>(ray) + 1 : 0) * stride + at, along, along,
                           where - static_cast<float>(ray)};
        });
}

void closed_mean(const float* values, int count, double half, float* out) {
    half = std::min(half, (count - 1) / 2.0);
    const int whole = static_cast<int>(half), reach = whole + 1;
    thread_local std::vector<double> columns;
    columns.resize(static_cast<std::size_t>(count + 2 * reach));
    for (int x = 0; x < count; ++x) columns[static_cast<std::size_t>(x + reach)] = static_cast<double>(values[x]);
    for (int x = 0; x < reach; ++x) {
        columns[static_cast<std::size_t>(reach - 1 - x)] = static_cast<double>(values[wrap(-1 - x, count)]);
        columns[static_cast<std::size_t>(reach + count + x)] = static_cast<double>(values[wrap(x, count)]);
    }
    box_across(columns.data() + reach, count, whole, half - whole, 1 / (2 * half + 1), out);
}

}  // namespace loom
