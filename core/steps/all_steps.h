// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The list of all steps, in the order people meet them. A new step is one line here.
#pragma once

#include "core/catalogue/description.h"

#define KEEN_LOOM_STEPS(STEP) \
    STEP(flat)                \
    STEP(gradient)            \
    STEP(static)              \
    STEP(clouds)              \
    STEP(cells)               \
    STEP(veins)               \
    STEP(facets)              \
    STEP(dashes)              \
    STEP(streaks)             \
    STEP(rings)               \
    STEP(weave)               \
    STEP(courses)             \
    STEP(stripes)             \
    STEP(scatter)             \
    STEP(image)               \
    STEP(shape)               \
    STEP(lettering)           \
    STEP(formula)             \
    STEP(recipe)              \
    STEP(beneath)             \
    STEP(borrow)              \
    STEP(gaussian)            \
    STEP(directional)         \
    STEP(spin)                \
    STEP(zoom)                \
    STEP(median)              \
    STEP(smooth)              \
    STEP(flow)                \
    STEP(grain)               \
    STEP(daub)                \
    STEP(dapple)              \
    STEP(fray)                \
    STEP(tear)                \
    STEP(edges)               \
    STEP(stipple)             \
    STEP(mosaic)              \
    STEP(posterise)           \
    STEP(threshold)           \
    STEP(morph)               \
    STEP(press)               \
    STEP(displace)            \
    STEP(wander)              \
    STEP(byobject)            \
    STEP(crinkle)             \
    STEP(wave)                \
    STEP(ripple)              \
    STEP(swirl)               \
    STEP(swell)               \
    STEP(polar)               \
    STEP(shift)               \
    STEP(place)               \
    STEP(handles)             \
    STEP(handwarp)            \
    STEP(relief)              \
    STEP(reflections)         \
    STEP(bloom)               \
    STEP(hollows)             \
    STEP(settle)              \
    STEP(wear)                \
    STEP(bevel)               \
    STEP(edgetone)            \
    STEP(shadow)              \
    STEP(rim)                 \
    STEP(vignette)            \
    STEP(distance)            \
    STEP(levels)              \
    STEP(curves)              \
    STEP(huesat)              \
    STEP(balance)             \
    STEP(contrast)            \
    STEP(gradientmap)         \
    STEP(channels)            \
    STEP(invert)              \
    STEP(desaturate)          \
    STEP(autorange)           \
    STEP(localcontrast)       \
    STEP(match)               \
    STEP(inlay)               \
    STEP(handtone)            \
    STEP(gate)                \
    STEP(paint)               \
    STEP(pick)                \
    STEP(closeseams)          \
    STEP(evenout)

namespace loom {
#define KEEN_LOOM_DECLARE(name) StepDescription describe_##name();
KEEN_LOOM_STEPS(KEEN_LOOM_DECLARE)
#undef KEEN_LOOM_DECLARE
}  // namespace loom
