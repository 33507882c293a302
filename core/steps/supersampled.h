// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// For steps whose details are finer than the pixels of small pictures: those are made at twice the size and averaged, so that
// they look as large ones do.
#pragma once

#include <algorithm>

#include "core/catalogue/context.h"

namespace loom {

/// Planes of the result's size that this needs more, for `planes` that are made.
constexpr int supersampled_planes(int planes) { return 4 * planes; }

/// `make` is given the context to work in.
template <class Make>
Bundle supersampled(const StepContext& context, Make&& make) {
    if (std::min(context.scale_x(), context.scale_y()) >= 1.5) return make(context);
    StepContext twice = context;
    twice.size = {2 * context.size.width, 2 * context.size.height};
    return resized(make(twice), context.size);
}

}  // namespace loom
