// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// For steps whose details are finer than the pixels of small pictures: those are made at twice the size and averaged, so that
// they look as large ones do.
#pragma once

#include <algorithm>

#include "core/catalogue/context.h"
#include "core/image/footprint.h"

namespace loom {

/// Planes that this needs besides, where making `out` planes needs `scratch` more.
inline double supersampled_scratch(const Scales& at, int out, double scratch) {
    return std::min(at.x(), at.y()) >= 1.5 ? scratch : 5 * out + 4 * scratch - 1;
}

/// `make` is given the context to work in.
template <class Make>
Bundle supersampled(const StepContext& context, Make&& make) {
    if (std::min(context.scale_x(), context.scale_y()) >= 1.5) return make(context);
    StepContext twice = context;
    twice.size = {2 * context.size.width, 2 * context.size.height};
    return resized(make(twice), context.size, *context.job);
}

}  // namespace loom
