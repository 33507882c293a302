// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/box.h"

#include <algorithm>
#include <cstddef>
#include <cstring>

#include "core/image/box_kernel.h"

namespace loom {

namespace {

/// Half a box: whole pixels, the share of the next one, and the box's weight.
struct Half {
    int whole;
    double part, scale;
    Half(double radius, int count) {
        radius = std::min(radius, (count - 1) / 2.0);
        whole = static_cast<int>(radius), part = radius - whole, scale = 1 / (2 * radius + 1);
    }
};

/// The sums of columns and what is needed to carry them from row to row.
class Band {
public:
    Band(Size size, const Half& across, const Half& down, const RowSource& source)
        : size_(size),
          across_(across),
          down_(down),
          source_(source),
          rows_(2, std::vector<float>(width())),
          columns_(width() + 2 * static_cast<std::size_t>(margin())) {}

    void start(int k, int y, std::vector<double>& sums) {
        sums.assign(width(), 0);
        for (int j = -down_.whole; j <= down_.whole; ++j) box_add(sums.data(), row(k, y + j, 0), size_.width);
    }

    /// The means of row y; afterwards the sums are those of the next row.
    void means(int k, int y, std::vector<double>& sums, float* out) {
        double* columns = columns_.data() + margin();
        const float* after = row(k, y + down_.whole + 1, 0);
        if (down_.part > 0)
            box_columns(sums.data(), row(k, y - down_.whole - 1, 1), after, down_.part, size_.width, columns);
        else
            std::memcpy(columns, sums.data(), width() * sizeof(double));
        for (int x = 1; x <= margin(); ++x)
            columns[-x] = columns[wrap(-x, size_.width)], columns[size_.width + x - 1] = columns[wrap(x - 1, size_.width)];
        box_across(columns, size_.width, across_.whole, across_.part, across_.scale * down_.scale, out);
        box_move(sums.data(), after, row(k, y - down_.whole, 1), size_.width);
    }

private:
    std::size_t width() const { return static_cast<std::size_t>(size_.width); }
    int margin() const { return across_.whole + 1; }
    const float* row(int k, int y, std::size_t scratch) { return source_(k, wrap(y, size_.height), rows_[scratch].data()); }

    Size size_;
    const Half &across_, &down_;
    const RowSource& source_;
    std::vector<std::vector<float>> rows_;
    std::vector<double> columns_;
};

}  // namespace

namespace {

/// A block begins with a whole box; it is long enough for that not to matter, and the same for any number of threads.
int block_of(const Half& down) { return std::max(64, 2 * (2 * down.whole + 1)); }

}  // namespace

Footprint box_footprint(Size size, double radius_x, double radius_y) {
    const Half across(radius_x, size.width), down(radius_y, size.height);
    return Footprint::near(across.whole + 1, down.whole + 1, block_of(down));
}

void box_rows(Size size, double radius_x, double radius_y, int count, const RowSource& source, const RowSink& sink,
              const Job& job) {
    box_rows(size, {0, size.height}, radius_x, radius_y, count, source, sink, job);
}

void box_rows(Size size, Rows wanted, double radius_x, double radius_y, int count, const RowSource& source, const RowSink& sink,
              const Job& job) {
    const Half across(radius_x, size.width), down(radius_y, size.height);
    const int length = block_of(down), skipped = wanted.first / length;
    for_ranges(job, (wanted.end() + length - 1) / length - skipped, 1, [&](int from, int to) {
        from += skipped, to += skipped;
        Band band(size, across, down, source);
        std::vector<std::vector<double>> sums(static_cast<std::size_t>(count));
        std::vector<std::vector<float>> means(sums.size(), std::vector<float>(static_cast<std::size_t>(size.width)));
        std::vector<float*> rows;
        for (auto& row : means) rows.push_back(row.data());
        for (int part = from; part < to; ++part) {
            const int first = part * length, last = std::min(first + length, wanted.end());
            for (int k = 0; k < count; ++k) band.start(k, first, sums[static_cast<std::size_t>(k)]);
            for (int y = first; y < last; ++y) {
                for (int k = 0; k < count; ++k)
                    band.means(k, y, sums[static_cast<std::size_t>(k)], rows[static_cast<std::size_t>(k)]);
                sink(y, rows.data());
            }
        }
    });
}

Plane box_mean(const Plane& plane, double radius_x, double radius_y, const Job& job) {
    Plane out(plane.size());
    box_rows(
        plane.size(), radius_x, radius_y, 1, [&](int, int y, float*) { return plane.row(y); },
        [&](int y, float* const* means) { std::copy_n(means[0], plane.width(), out.row(y)); }, job);
    return out;
}

}  // namespace loom
