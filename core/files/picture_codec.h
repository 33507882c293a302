// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Reading and writing of picture files, kept in a module of its own: OpenImageIO brings some 250 shared
// libraries, whose loading would cost every start half a second. The module is loaded when the first picture
// is read or written, or ahead of that by prepare_picture_files().
#pragma once

#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/files/picture.h"

namespace loom {

/// Interleaved float pixels, top row first. Alpha, if any (2 or 4 channels), is last.
struct RawPicture {
    Size size;
    int channels = 1;
    bool linear = false;  ///< read: the values are linear light
    std::vector<float> pixels;
};

enum class ColourMark { srgb, linear, data };

/// What failed: a system error number or 0, and words for people.
struct CodecFailure {
    int system_error = 0;
    std::string words;
    explicit operator bool() const { return system_error != 0 || !words.empty(); }
};

class PictureCodec {
public:
    virtual ~PictureCodec() = default;
    /// Alpha comes out premultiplied. Refuses pictures with more than `greatest` pixels on a side before it reads them.
    virtual CodecFailure read(const std::string& path, int greatest, RawPicture& out) const = 0;
    /// The size alone, from the head of the file, with the same refusals.
    virtual CodecFailure size(const std::string& path, int greatest, Size& out) const = 0;
    /// Alpha goes in straight, except for EXR, which is premultiplied by definition.
    virtual CodecFailure write(const std::string& path, const RawPicture& picture, PictureFormat format,
                               ColourMark mark) const = 0;
    /// An 8-bit PNG in memory from rows of `channels` bytes.
    virtual CodecFailure png(Size size, int channels, const std::vector<unsigned char>& bytes, std::string& out) const = 0;
};

/// The module's codec, loaded on the first call; an error if the program was installed without it.
Result<const PictureCodec*> picture_codec();

/// Loads the module on another thread, so that it is there when it is needed.
void prepare_picture_files();

}  // namespace loom

extern "C" const loom::PictureCodec* keen_loom_picture_codec();
