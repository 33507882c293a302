// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A plane: float32 values of a tile, row by row, top row first, no padding between rows. It holds all rows of the tile or a
// band of them; a band may run over the tile's lower edge and go on at its top.
#pragma once

#include <cassert>
#include <cstddef>
#include <memory>

#include "core/base/job.h"

namespace loom {

struct Size {
    int width = 0;
    int height = 0;
    bool operator==(const Size&) const = default;
    std::size_t pixels() const { return static_cast<std::size_t>(width) * static_cast<std::size_t>(height); }
};

/// Rows of a tile that follow each other.
struct Rows {
    int first = 0, count = 0;
    bool operator==(const Rows&) const = default;
    int end() const { return first + count; }
};

/// A rectangle of a tile, in pixels; it may lie across the tile's edges.
struct Region {
    int x = 0, y = 0, width = 0, height = 0;
    bool operator==(const Region&) const = default;
    auto operator<=>(const Region&) const = default;
};

/// Index into [0, count) of a place that may lie any number of tiles outside.
constexpr int wrap(int index, int count) {
    const int rest = index % count;
    return rest < 0 ? rest + count : rest;
}

/// Movable, not copyable: a copy of megabytes has to be asked for with clone().
class Plane {
public:
    Plane() = default;
    /// All rows. Contents are left as they are in memory. Up to 16 values beyond the last may be read (they mean nothing).
    explicit Plane(Size size) : Plane(size, Rows{0, size.height}) {}
    Plane(Size size, float value) : Plane(size, Rows{0, size.height}, value) {}
    /// Some rows of a tile of `size`.
    Plane(Size size, Rows rows);
    Plane(Size size, Rows rows, float value);
    Plane(Plane&&) noexcept = default;
    Plane& operator=(Plane&&) noexcept = default;

    /// Another of the same size and rows.
    Plane alike() const { return Plane(size_, rows_); }
    Plane clone() const;
    /// Some of the rows it holds, without copying.
    std::shared_ptr<const Plane> part(Rows rows) const;

    /// Of the tile.
    Size size() const { return size_; }
    int width() const { return size_.width; }
    int height() const { return size_.height; }
    /// That it holds.
    Rows rows() const { return rows_; }
    bool whole() const { return rows_.count == size_.height && rows_.first == 0; }
    std::size_t count() const { return static_cast<std::size_t>(size_.width) * static_cast<std::size_t>(rows_.count); }
    std::size_t bytes() const { return count() * sizeof(float); }
    bool holds(int y) const { return place(y) < rows_.count; }

    /// Row `y` of the tile, which it has to hold.
    float* row(int y) {
        assert(y >= 0 && y < size_.height && holds(y));
        return data_ + static_cast<std::size_t>(place(y)) * static_cast<std::size_t>(size_.width);
    }
    const float* row(int y) const { return const_cast<Plane*>(this)->row(y); }
    /// All count() values, from the first row it holds.
    float* data() { return data_; }
    const float* data() const { return data_; }

    float at(int x, int y) const { return row(y)[x]; }
    float wrapped(int x, int y) const { return row(wrap(y, size_.height))[wrap(x, size_.width)]; }

private:
    int place(int y) const { return y >= rows_.first ? y - rows_.first : y - rows_.first + size_.height; }

    Size size_;
    Rows rows_;
    float* data_ = nullptr;
    std::shared_ptr<void> memory_;
};

/// A finished plane is shared and never written again.
using PlaneRef = std::shared_ptr<const Plane>;

inline PlaneRef share(Plane plane) { return std::make_shared<const Plane>(std::move(plane)); }

/// for_rows over the rows that `plane` holds; ranges are in rows of the tile and never run over its edge.
template <class Body>
void for_rows(const Job& job, const Plane& plane, Body&& body) {
    const int first = plane.rows().first, height = plane.height();
    for_rows(job, plane.rows().count, [&](int from, int to) {
        for (int begin = first + from, end = first + to; begin < end;) {
            const int at = begin < height ? begin : begin - height, count = end - begin < height - at ? end - begin : height - at;
            body(at, at + count);
            begin += count;
        }
    });
}

/// Calls body(first, last) for ranges of the values 0..count() of planes that hold the same rows, on all threads.
template <class Body>
void for_values(const Job& job, const Plane& plane, Body&& body) {
    const auto width = static_cast<std::size_t>(plane.width());
    for_rows(job, plane.rows().count,
             [&](int from, int to) { body(static_cast<std::size_t>(from) * width, static_cast<std::size_t>(to) * width); });
}

}  // namespace loom
