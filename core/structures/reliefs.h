// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Reliefs of our own that can be pressed into a surface, made by our own steps at any size. Private to core/steps/roughen.
#pragma once

#include "core/catalogue/context.h"

namespace loom {

enum class OwnRelief {
    duck,      ///< tight cotton cloth; a repeat is two threads
    sacking,   ///< loose, uneven cloth; a repeat is two threads
    grit,      ///< sharp grains; a repeat is one of them
    hide,      ///< pebbled skin with fine wrinkles; a repeat is a pebble
    laid,      ///< ribs of a paper mould; a repeat is the way from one chain line to the next
    hammered,  ///< dents of a ball hammer; a repeat is a dent
};

/// Heights from about 0 to 1, closed at the tile's edges. `repeat_px`: mean width of a repeat, which is bent to whole ones.
Plane own_relief(OwnRelief relief, double repeat_px, const StepContext& context);

}  // namespace loom
