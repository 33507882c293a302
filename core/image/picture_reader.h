// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a rendering gets at the pictures that a recipe keeps; core/files has the one that is used.
#pragma once

#include <memory>
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

/// An SVG file that has been read, for drawing as often as is wanted; threads wait for each other.
class ReadDrawing {
public:
    virtual ~ReadDrawing() = default;
    /// In its own units.
    virtual DrawingSize size() const = 0;
    /// What it covers, 0..1, with its own units brought to pixels by `placing` and once more for each of `copies`, moved by so
    /// many pixels; rows of a tile. Cancelled with the job, whatever the file asks for.
    virtual Result<Plane> drawn(const Affine& placing, const std::vector<std::pair<int, int>>& copies, Size size, Rows rows,
                                const Job& job) const = 0;
};

class PictureReader {
public:
    virtual ~PictureReader() = default;
    /// Pixels as they are shown, from the head of the file; an error says why it cannot be read.
    virtual Result<Size> size_of(const std::string& bytes) const = 0;
    /// The picture, upright, sRGB-encoded, premultiplied.
    virtual Result<Bundle> read(const std::string& bytes, const Job& job) const = 0;
    /// An SVG file, read once.
    virtual Result<std::shared_ptr<const ReadDrawing>> drawing(std::shared_ptr<const std::string> svg, const Job& job) const = 0;
};

}  // namespace loom
