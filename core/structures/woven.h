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
    double twist = 28, twist_depth = 100;
    double slub_size = 200, slub = 13, jitter = 80, closing = 85, fuzz = 65;
    Colour warp_colour{0.16f, 0.22f, 0.36f}, weft_colour{0.62f, 0.62f, 0.60f};
    double dye = 40, dye_along = 60, fade = 60, keep_hue = 45;
    /// How long floats stand out: how much they bulge in their middle, and how flat their tops are.
    double arch = 90, shoulder = 25;
    double weft_depth = 50;  ///< %: how far the weft lies below the warp
    double between = 45;     ///< %: tone between the yarns beside the warp's
    /// A weft that differs from the warp; otherwise it is as the warp in all of these.
    bool weft_own = false;
    double weft_width = 100, weft_twist = 28, weft_twist_depth = 100, weft_slub = 13, weft_jitter = 80, weft_fuzz = 65;
    int stray = 0;
    double stray_length = 40;
    Colour stray_colour{0.80f, 0.80f, 0.78f};
};

/// Cloth whose warp and weft lie as high, without stray fibres.
Woven plain_cloth();

/// Threads across and down, in whole repeats of the draft.
struct ThreadCounts {
    int warp = 1, weft = 1;
};
ThreadCounts thread_counts(const Woven& settings);

Bundle woven(const Woven& settings, const StepContext& context);

}  // namespace loom
