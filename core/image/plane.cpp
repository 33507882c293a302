// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/plane.h"

#include <sys/mman.h>

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <new>

namespace loom {

namespace {
constexpr std::align_val_t alignment{64};
// Room beyond the last pixel, so that vectors and pairs may be read across a row's end.
constexpr std::size_t slack = 16;
}  // namespace

void Plane::Free::operator()(float* data) const { ::operator delete[](data, alignment); }

namespace {

/// Rows lie pages apart, so that filters walk over many pages at once: large pages spare looking them up one by one.
float* allocated(std::size_t bytes) {
    void* data = ::operator new[](bytes, alignment);
    constexpr std::uintptr_t large = std::uintptr_t{2} << 20;
    const auto begin = reinterpret_cast<std::uintptr_t>(data), first = (begin + large - 1) / large * large,
               last = (begin + bytes) / large * large;
    if (first < last) madvise(reinterpret_cast<void*>(first), last - first, MADV_HUGEPAGE);
    return static_cast<float*>(data);
}

}  // namespace

Plane::Plane(Size size) : size_(size), data_(allocated((size.pixels() + slack) * sizeof(float))) {}

Plane::Plane(Size size, float value) : Plane(size) { std::fill_n(data(), size.pixels(), value); }

Plane Plane::clone() const {
    Plane copy(size_);
    std::memcpy(copy.data(), data(), bytes());
    return copy;
}

}  // namespace loom
