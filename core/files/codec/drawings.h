// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// SVG files through librsvg, as core/files/picture_codec.h says. What a file names outside of itself is not read: librsvg is told
// of no place that such names could start from. It limits itself how often a file may use its own parts.
#pragma once

#include "core/files/picture_codec.h"

namespace loom {

CodecFailure size_of_drawing(std::string_view svg, DrawingSize& out);
CodecFailure draw_drawing(std::string_view svg, const Affine& placing, const std::vector<std::pair<int, int>>& copies, int width,
                          Rows rows, float* out);

}  // namespace loom
