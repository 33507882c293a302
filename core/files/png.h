// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// PNG, the one format that starts and pipelines wait for, so it needs no module: read through libspng, written in strips that are
// filtered and deflated side by side. Private to core/files.
#pragma once

#include <functional>
#include <memory>
#include <string_view>

#include "core/files/packing/row_strips.h"
#include "core/files/picture_codec.h"

namespace loom {

bool is_png(std::string_view start);

/// What stands before the rows. Refuses pictures with more than `greatest` pixels on a side.
CodecFailure png_head(std::string_view file, int greatest, PictureHead& out);

CodecFailure read_png(std::string_view file, int greatest, PictureRows& out);

struct PngLayout {
    Size size;
    int channels = 3;  ///< 1, 2 (grey and alpha), 3 or 4
    int depth = 8;     ///< bits, 8 or 16
    ColourMark mark = ColourMark::srgb;
};

/// Takes rows from top to bottom. The sink's first error ends the writing and is handed on.
class PngWriter {
public:
    using Sink = std::function<Result<Done>(std::string_view)>;
    PngWriter(const PngLayout& layout, Sink sink);
    PngWriter(PngWriter&&) noexcept;
    ~PngWriter();

    /// The next rows: interleaved straight values.
    Result<Done> add(int rows, const LayRow& lay);
    /// After the last row.
    Result<Done> finish();

private:
    struct State;
    std::unique_ptr<State> state_;
};

}  // namespace loom
