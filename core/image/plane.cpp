// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
#include "core/image/plane.h"

#include <algorithm>
#include <cstring>
#include <new>

namespace loom {

namespace {
constexpr std::align_val_t alignment{64};
}

void Plane::Free::operator()(float* data) const { ::operator delete[](data, alignment); }

Plane::Plane(Size size) : size_(size), data_(static_cast<float*>(::operator new[](size.pixels() * sizeof(float), alignment))) {}

Plane::Plane(Size size, float value) : Plane(size) { std::fill_n(data(), size.pixels(), value); }

Plane Plane::clone() const {
    Plane copy(size_);
    std::memcpy(copy.data(), data(), bytes());
    return copy;
}

}  // namespace loom
