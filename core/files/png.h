// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// PNG through libspng, in memory or row by row into a sink: the one format that starts and pipelines wait for, so it needs no
// module. Private to core/files.
#pragma once

#include <functional>
#include <string_view>

#include "core/files/picture_codec.h"

namespace loom {

bool is_png(std::string_view start);

/// The size alone, from the head. Refuses pictures with more than `greatest` pixels on a side.
CodecFailure png_size(std::string_view file, int greatest, Size& out);

/// Alpha comes out premultiplied.
CodecFailure read_png(std::string_view file, int greatest, RawPicture& out);

struct PngLayout {
    Size size;
    int channels = 3;  ///< 1, 2 (grey and alpha), 3 or 4
    int depth = 8;     ///< bits, 8 or 16
    ColourMark mark = ColourMark::srgb;
};

/// `fill` writes a row of interleaved straight values; the sink's first error ends the writing and is handed on.
Result<Done> write_png(const PngLayout& layout, const std::function<void(int y, float* row)>& fill,
                       const std::function<Result<Done>(std::string_view)>& sink);

}  // namespace loom
