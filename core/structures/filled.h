// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// A form's coverage as a picture of one colour, or of two where a line lies over it.
#pragma once

#include "core/catalogue/context.h"
#include "core/catalogue/description.h"
#include "core/colour/colour.h"

namespace loom {

/// `line` lies over `fill`; each may be null.
Bundle filled(const PlaneRef& fill, const Colour& colour, const PlaneRef& line, const Colour& line_colour,
              const StepContext& context);

constexpr bool is_grey(const Colour& colour) { return colour.red == colour.green && colour.green == colour.blue; }
constexpr Shape filled_shape(const Colour& colour, const Colour& line_colour) {
    return {is_grey(colour) && is_grey(line_colour) ? 1 : 3, true};
}

}  // namespace loom
