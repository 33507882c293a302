// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// How a rendering gets at the pictures that a recipe keeps; core/files has the one that is used.
#pragma once

#include <string>

#include "core/base/result.h"
#include "core/image/bundle.h"

namespace loom {

class PictureReader {
public:
    virtual ~PictureReader() = default;
    /// Pixels, from the head of the file; an error says why it cannot be read.
    virtual Result<Size> size_of(const std::string& bytes) const = 0;
    /// The picture, sRGB-encoded, premultiplied.
    virtual Result<Bundle> read(const std::string& bytes) const = 0;
};

}  // namespace loom
