// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Strokes that work on a picture, one after the other.
#pragma once

#include <functional>

#include "core/structures/brush.h"

namespace loom {

/// Planes that strokes change in place; premultiplied alike. They hold the whole tile, or the wanted rows of it where every pixel
/// depends on itself alone.
using HandPlanes = std::vector<Plane>;

/// What a stroke does to pixels [x, x + count) of row `y`, given how strongly the brush works there, 0..1.
using BrushPixels = std::function<void(int y, int x, int count, const float* how_much)>;

/// Strokes whose every pixel depends on itself alone: `apply` is called for each of them, in their order for each pixel, from
/// several threads for several rows, all of them wanted.
void brush_pixels(const std::vector<StrokePath>& paths, const StepContext& context,
                  const std::function<void(std::size_t path, int y, int x, int count, const float* how_much)>& apply);

/// Its own place, unless a stroke counts whose tool looks around.
template <class LooksAround>
Footprint strokes_footprint(const Strokes& strokes, LooksAround&& looks_around) {
    for (std::size_t k = 0; k < strokes.size(); ++k)
        if (!strokes[k].muted && looks_around(strokes[k])) return Footprint::whole();
    return Footprint::pixel();
}

/// Mixes in the picture's own Gaussian blur, of an eighth of the brush's size.
void brush_blur(HandPlanes& planes, const Stroke& stroke, const StepContext& context);

/// Drags what lies under the brush along with it, as a finger does wet colour.
void brush_smudge(HandPlanes& planes, const Stroke& stroke, const StepContext& context);

}  // namespace loom
