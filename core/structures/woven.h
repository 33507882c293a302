// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Cloth from a draft, yarn by yarn.
#pragma once

#include <string>

#include "core/catalogue/context.h"
#include "core/colour/colour.h"

namespace loom {

struct Woven {
    enum class Binding { plain, twill, satin, basket, herringbone, grid };
    enum class Way { right, left };
    Binding draft = Binding::twill;
    int over = 3, under = 1;
    Way way = Way::right;
    int satin = 5, step = 2, block = 2;
    std::string grid = "##../.##./..##/#..#";
    int warp = 92, weft = 64;
    double width = 100, gap = 6, roundness = 70;
    double twist = 28, twist_depth = 50;
    double slub_size = 60, slub = 13, jitter = 40, closing = 60, fuzz = 30;
    Colour warp_colour{0.16f, 0.22f, 0.36f}, weft_colour{0.62f, 0.62f, 0.60f};
    double dye = 40, fade = 40;
};

/// Threads across and down, in whole repeats of the draft.
struct ThreadCounts {
    int warp = 1, weft = 1;
};
ThreadCounts thread_counts(const Woven& settings);

Bundle woven(const Woven& settings, const StepContext& context);

}  // namespace loom
