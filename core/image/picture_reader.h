// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a rendering gets at the pictures that a recipe keeps; core/files has the one that is used.
#pragma once

#include <string>
#include <utility>
#include <vector>

#include "core/base/result.h"
#include "core/image/bundle.h"

namespace loom {

struct DrawingSize {
    double width = 0, height = 0;
};

/// x' = xx x + xy y + x0, y' = yx x + yy y + y0.
struct Affine {
    double xx = 1, yx = 0, xy = 0, yy = 1, x0 = 0, y0 = 0;
};

class PictureReader {
public:
    virtual ~PictureReader() = default;
    /// Pixels, from the head of the file; an error says why it cannot be read.
    virtual Result<Size> size_of(const std::string& bytes) const = 0;
    /// The picture, sRGB-encoded, premultiplied.
    virtual Result<Bundle> read(const std::string& bytes) const = 0;
    /// Width and height of an SVG file, in its own units.
    virtual Result<DrawingSize> drawing_size(const std::string& svg) const = 0;
    /// What an SVG file covers, 0..1, with its own units brought to pixels by `placing` and once more for each of `copies`, moved
    /// by so many pixels; rows of a tile.
    virtual Result<Plane> drawn(const std::string& svg, const Affine& placing, const std::vector<std::pair<int, int>>& copies,
                                Size size, Rows rows, const Job& job) const = 0;
};

}  // namespace loom
