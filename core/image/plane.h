// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A plane: width x height float32 values, row by row, top row first, no padding between rows.
#pragma once

#include <cassert>
#include <cstddef>
#include <memory>

namespace loom {

struct Size {
    int width = 0;
    int height = 0;
    bool operator==(const Size&) const = default;
    std::size_t pixels() const { return static_cast<std::size_t>(width) * static_cast<std::size_t>(height); }
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
    /// Contents are left as they are in memory. Up to 16 values beyond the last may be read (they mean nothing).
    explicit Plane(Size size);
    Plane(Size size, float value);
    Plane(Plane&&) noexcept = default;
    Plane& operator=(Plane&&) noexcept = default;

    Plane clone() const;

    Size size() const { return size_; }
    int width() const { return size_.width; }
    int height() const { return size_.height; }
    std::size_t bytes() const { return size_.pixels() * sizeof(float); }

    float* row(int y) {
        assert(y >= 0 && y < size_.height);
        return data_.get() + static_cast<std::size_t>(y) * static_cast<std::size_t>(size_.width);
    }
    const float* row(int y) const { return const_cast<Plane*>(this)->row(y); }
    float* data() { return data_.get(); }
    const float* data() const { return data_.get(); }

    float at(int x, int y) const { return row(y)[x]; }
    float wrapped(int x, int y) const { return row(wrap(y, size_.height))[wrap(x, size_.width)]; }

private:
    struct Free {
        void operator()(float* data) const;
    };
    Size size_;
    std::unique_ptr<float[], Free> data_;
};

/// A finished plane is shared and never written again.
using PlaneRef = std::shared_ptr<const Plane>;

inline PlaneRef share(Plane plane) { return std::make_shared<const Plane>(std::move(plane)); }

}  // namespace loom
