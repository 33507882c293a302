// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/rank.h"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <vector>

#include "core/image/rank_kernel.h"

namespace loom {

namespace {

/// Row y with `before` pixels more at its start, and behind it as many and room for a vector.
void pad(const Plane& plane, int y, int before, std::vector<float>& out) {
    const float* row = plane.row(wrap(y, plane.height()));
    const int width = plane.width();
    out.resize(static_cast<std::size_t>(width + 2 * before) + 48);
    std::copy_n(row, width, out.begin() + before);
    for (int k = 1; k <= before; ++k) {
        out[static_cast<std::size_t>(before - k)] = row[wrap(-k, width)];
        out[static_cast<std::size_t>(before + width + k - 1)] = row[wrap(k - 1, width)];
    }
}

/// Comparators for `count` values, less what the places `lower` and `upper` do not need.
std::vector<Comparator> network_for(int count, int lower, int upper) {
    std::vector<Comparator> all, needed;
    merge_exchange(count, [&](int first, int second) {
        all.push_back({static_cast<std::uint16_t>(first), static_cast<std::uint16_t>(second)});
    });
    std::vector<bool> wanted(static_cast<std::size_t>(count), false);
    wanted[static_cast<std::size_t>(lower)] = wanted[static_cast<std::size_t>(upper)] = true;
    for (auto c = all.rbegin(); c != all.rend(); ++c) {
        if (!wanted[c->first] && !wanted[c->second]) continue;
        wanted[c->first] = wanted[c->second] = true;
        needed.push_back(*c);
    }
    std::reverse(needed.begin(), needed.end());
    return needed;
}

Plane ranked_directly(const Plane& plane, int rx, int ry, double rank, Rows wanted, const Job& job) {
    const int rows_near = 2 * ry + 1, columns = 2 * rx + 1, count = rows_near * columns;
    const double at = std::clamp(rank * count - 0.5, 0.0, count - 1.0);
    const int lower = static_cast<int>(at), upper = std::min(lower + 1, count - 1);
    const std::vector<Comparator> comparators = network_for(count, lower, upper);
    const RankNetwork network{comparators.data(), static_cast<int>(comparators.size()), lower, upper,
                              static_cast<float>(at - lower)};
    Plane out(plane.size(), wanted);
    for_rows(job, out, [&](int first, int last) {
        std::vector<std::vector<float>> near(static_cast<std::size_t>(rows_near));
        for (int j = -ry; j < ry; ++j) pad(plane, first + j, rx, near[static_cast<std::size_t>(wrap(first + j, rows_near))]);
        std::vector<const float*> rows(near.size());
        for (int y = first; y < last; ++y) {
            pad(plane, y + ry, rx, near[static_cast<std::size_t>(wrap(y + ry, rows_near))]);
            for (std::size_t j = 0; j < near.size(); ++j) rows[j] = near[j].data();
            rank_row(network, rows.data(), rows_near, columns, plane.width(), out.row(y));
        }
    });
    return out;
}

/// Tones of a plane in 256 even bins.
struct Bins {
    std::vector<std::uint8_t> of;
    float low, step;
    explicit Bins(const Plane& plane) : of(plane.size().pixels()) {
        const auto [least, greatest] = std::minmax_element(plane.data(), plane.data() + plane.size().pixels());
        low = *least, step = (*greatest - low) / 255;
        const float scale = step > 0 ? 1 / step : 0;
        for (std::size_t i = 0; i < of.size(); ++i)
            of[i] = static_cast<std::uint8_t>(std::min(255.0f, (plane.data()[i] - low) * scale + 0.5f));
    }
};

/// Counts in a moving box by the histograms of its columns (Perreault & Hebert 2007): groups of bins are kept up to date, the
/// bins of a group only when it is looked into.
class Box {
public:
    Box(const Bins& bins, Size size, int rx, int ry, double rank)
        : bins_(bins), size_(size), ry_(ry), fine_(columns() * rank_bins), coarse_(columns() * rank_groups) {
        for (int x = -rx - 1; x <= size.width + rx; ++x) column_.push_back(wrap(x, size.width));
        given_ = {fine_.data(), coarse_.data(), column_.data(), rx, size.width, rank * (2 * rx + 1) * (2 * ry + 1)};
    }

    void start(int y) {
        std::fill(fine_.begin(), fine_.end(), std::uint16_t{0}), std::fill(coarse_.begin(), coarse_.end(), std::uint16_t{0});
        for (int j = -ry_; j <= ry_; ++j) count_row(y + j, 1);
    }
    /// Row y; afterwards the box stands on the next.
    void row(int y, float* out) {
        rank_columns(given_, out);
        for (int x = 0; x < size_.width; ++x) out[x] = bins_.low + out[x] * bins_.step;
        count_row(y - ry_, -1);
        count_row(y + ry_ + 1, 1);
    }

private:
    std::size_t columns() const { return static_cast<std::size_t>(size_.width); }

    void count_row(int y, int sign) {
        const std::uint8_t* row = &bins_.of[static_cast<std::size_t>(wrap(y, size_.height)) * columns()];
        for (std::size_t x = 0; x < columns(); ++x) {
            std::uint16_t &fine = fine_[x * rank_bins + row[x]], &coarse = coarse_[x * rank_groups + row[x] / rank_group];
            fine = static_cast<std::uint16_t>(fine + sign), coarse = static_cast<std::uint16_t>(coarse + sign);
        }
    }

    const Bins& bins_;
    Size size_;
    int ry_;
    std::vector<std::uint16_t> fine_, coarse_;
    std::vector<std::int32_t> column_;
    RankColumns given_{};
};

}  // namespace

namespace {

/// Up to here comparing every neighbour costs less than counting.
constexpr int few = 4;

void within(Size size, int& rx, int& ry) { rx = std::min(rx, (size.width - 1) / 2), ry = std::min(ry, (size.height - 1) / 2); }

}  // namespace

Footprint ranked_footprint(int rx, int ry, Size size) {
    within(size, rx, ry);
    return rx <= few && ry <= few ? Footprint::near(rx, ry) : Footprint::whole();
}

Plane ranked(const Plane& plane, int rx, int ry, double rank, Rows rows, const Job& job) {
    const Size size = plane.size();
    within(size, rx, ry);
    if (rx <= few && ry <= few) return ranked_directly(plane, rx, ry, rank, rows, job);
    const Bins bins(plane);
    if (bins.step <= 0) return plane.clone();
    Plane out(size);
    const int length = std::max(64, 2 * (2 * ry + 1));
    for_ranges(job, (size.height + length - 1) / length, 1, [&](int from, int to) {
        Box box(bins, size, rx, ry, rank);
        for (int part = from; part < to; ++part) {
            const int first = part * length, last = std::min(first + length, size.height);
            box.start(first);
            for (int y = first; y < last; ++y) {
                job.check();
                box.row(y, out.row(y));
            }
        }
    });
    return out;
}

}  // namespace loom
