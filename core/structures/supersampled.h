// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// For steps whose details are finer than the pixels of small pictures: those are made at twice the size and averaged, so that
// they look as large ones do. In the smallest, fewer and larger things stand for many.
#pragma once

#include <algorithm>

#include "core/catalogue/context.h"
#include "core/image/footprint.h"

namespace loom {

/// Where a pixel is eight design pixels wide or more, whatever would be drawn finer is lost in it. Scales are pixels a design
/// pixel.
inline bool smallest(double scale_x, double scale_y) { return std::min(scale_x, scale_y) <= 0.125; }

inline bool supersamples(double scale_x, double scale_y) {
    return !smallest(scale_x, scale_y) && std::min(scale_x, scale_y) < 1.5;
}

/// Planes that this needs besides, where making `out` planes needs `scratch` more.
inline double supersampled_scratch(const Scales& at, int out, double scratch) {
    return supersamples(at.x(), at.y()) ? 5 * out + 4 * scratch - 1 : scratch;
}

/// `make` is given the context to work in.
template <class Make>
Bundle supersampled(const StepContext& context, Make&& make) {
    if (!supersamples(context.scale_x(), context.scale_y())) return make(context);
    StepContext twice = context;
    twice.size = {2 * context.size.width, 2 * context.size.height};
    return resized(make(twice), context.size, *context.job);
}

/// Some of many things, each with so much more area that together they cover what all of them would.
struct Fewer {
    int count;
    double area;  ///< of each, times its own
};

/// What is drawn for `count` things of which each covers `part` of the area that a pixel can show: all of them, but in pictures
/// too small for supersampling as many as can be seen (stochastic simplification: Cook, Halstead, Planck & Ryu 2007), and of
/// those that crowd a pixel and cover little of it down to half. Things have to be drawn by lot, so that the first of them are
/// any of them.
inline Fewer simplified(const StepContext& context, int count, double part) {
    constexpr double most = 6, faint = 0.4;
    const bool crowded = count > static_cast<double>(context.size.pixels());
    const double area = smallest(context.scale_x(), context.scale_y()) ? std::clamp(1 / part, 1.0, most)
                        : crowded                                      ? std::clamp(faint / part, 1.0, 2.0)
                                                                       : 1;
    return {static_cast<int>(std::ceil(count / area)), area};
}

}  // namespace loom
