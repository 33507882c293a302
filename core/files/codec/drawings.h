// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// SVG files through librsvg, as core/files/picture_codec.h says. What a file names outside of itself is not read: librsvg is told
// of no place that such names could start from. It limits itself how often a file may use its own parts.
#pragma once

#include "core/files/picture_codec.h"

namespace loom {

/// Null after a failure.
std::unique_ptr<VectorDrawing> svg_drawing(std::string_view svg, CodecFailure& failure);

}  // namespace loom
