// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// Reading and writing of picture files other than PNG, kept in a module of its own: OpenImageIO brings some 250 shared
// libraries, whose loading costs half a second and holds the address space meanwhile. The module is loaded when the first
// such picture is read or written.
#pragma once

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/files/packing/row_strips.h"
#include "core/files/picture.h"
#include "core/image/picture_reader.h"

namespace loom {

/// Interleaved float pixels, top row first. Alpha, if any (2 or 4 channels), is last.
struct RawPicture {
    Size size;
    int channels = 1;
    bool linear = false;  ///< the values are linear light
    std::vector<float> pixels;
};

enum class ColourMark { srgb, linear, data };

/// What failed, in words for people; none if nothing did.
struct CodecFailure {
    std::string words;
    explicit operator bool() const { return !words.empty(); }
};
/// What a sink has to say of its failures is told by who owns it.
inline CodecFailure not_put_there() { return {"it could not be put there"}; }

/// What is known of a picture before its first row is written.
struct PictureLayout {
    Size size;
    int channels = 1;
    PictureFormat format = PictureFormat::tiff;
    ColourMark mark = ColourMark::srgb;
};

/// Where an encoder puts its bytes.
class ByteSink {
public:
    virtual ~ByteSink() = default;
    /// False if they cannot be put there; why is known to whoever owns the sink. Throws nothing.
    virtual bool write_at(std::size_t offset, std::string_view bytes) = 0;
};

class PictureEncoder {
public:
    virtual ~PictureEncoder() = default;
    /// The next rows of interleaved floats. Alpha goes in straight, except for EXR, which is premultiplied by definition.
    virtual CodecFailure add(int rows, const LayRow& lay) = 0;
    /// After the last row.
    virtual CodecFailure finish() = 0;
};

class PictureCodec {
public:
    virtual ~PictureCodec() = default;
    /// The bytes of a file come in, alpha comes out premultiplied. Refuses pictures with more than `greatest` pixels on a side
    /// before it reads them.
    virtual CodecFailure read(std::string_view file, int greatest, RawPicture& out) const = 0;
    /// The size alone, from the head of the file, with the same refusals.
    virtual CodecFailure size(std::string_view file, int greatest, Size& out) const = 0;
    /// Of an SVG file, in its own units. Nothing outside of the file is read.
    virtual CodecFailure drawing_size(std::string_view svg, DrawingSize& out) const = 0;
    /// Rows of what it covers, 0..1; see PictureReader::drawn.
    virtual CodecFailure draw(std::string_view svg, const Affine& placing, const std::vector<std::pair<int, int>>& copies,
                              int width, Rows rows, float* out) const = 0;
    /// The sink has to outlive the encoder. Rows go on as they come, except that WebP's library wants all of them first and
    /// JPEG's keeps what it has encoded.
    virtual std::unique_ptr<PictureEncoder> encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) const = 0;
};

/// The module's codec, loaded on the first call; an error if the program was installed without it.
Result<const PictureCodec*> picture_codec();

}  // namespace loom

extern "C" const loom::PictureCodec* keen_loom_picture_codec();
