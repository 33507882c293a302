// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/plane.h"

#include <algorithm>
#include <atomic>
#include <cstring>

#include "core/base/memory.h"

namespace loom {

namespace {
// Room beyond the last pixel, so that vectors and pairs may be read across a row's end.
constexpr std::size_t slack = 16;

/// Planes that are read side by side must not all begin at the same place of a page: their rows would push each other out of the
/// caches, which tell addresses apart by their last 16 bits.
constexpr std::size_t line = 64, places = 256, worth_it = std::size_t{256} << 10;
std::size_t next_offset() {
    static std::atomic<std::size_t> count{0};
    return count.fetch_add(1, std::memory_order_relaxed) * 37 % places * line;
}

}  // namespace

Plane::Plane(Size size, Rows rows) : size_(size), rows_(rows) {
    const std::size_t bytes = (count() + slack) * sizeof(float);
    const bool large = bytes >= worth_it;
    const Memory::Piece piece = Memory::process().take(large ? bytes + places * line : bytes);
    data_ = reinterpret_cast<float*>(static_cast<char*>(piece.data) + (large ? next_offset() : 0));
    // Should that throw, it calls the deleter.
    memory_ = std::shared_ptr<void>(piece.data, [piece](void*) { Memory::process().give_back(piece); });
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
