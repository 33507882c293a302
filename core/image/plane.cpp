// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/plane.h"

#include <algorithm>
#include <cstring>

#include "core/base/memory.h"

namespace loom {

namespace {
// Room beyond the last pixel, so that vectors and pairs may be read across a row's end.
constexpr std::size_t slack = 16;
}  // namespace

Plane::Plane(Size size, Rows rows) : size_(size), rows_(rows) {
    const std::size_t bytes = (count() + slack) * sizeof(float);
    data_ = static_cast<float*>(Memory::process().take(bytes));
    // Should that throw, it calls the deleter.
    memory_ = std::shared_ptr<void>(data_, [bytes](void* data) { Memory::process().give_back(data, bytes); });
}

Plane::Plane(Size size, Rows rows, float value) : Plane(size, rows) { std::fill_n(data(), count(), value); }

Plane Plane::clone() const {
    Plane copy(size_, rows_);
    std::memcpy(copy.data(), data(), bytes());
    return copy;
}

PlaneRef Plane::part(Rows rows) const {
    assert(rows.count <= rows_.count && place(wrap(rows.first, size_.height)) + rows.count <= rows_.count);
    Plane some;
    some.size_ = size_;
    some.rows_ = {wrap(rows.first, size_.height), rows.count};
    some.data_ = const_cast<float*>(row(some.rows_.first));
    some.memory_ = memory_;
    return share(std::move(some));
}

}  // namespace loom
