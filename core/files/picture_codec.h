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

/// What a file says of its picture before the first row.
struct PictureHead {
    Size size;                          ///< as it is stored
    int channels = 1;                   ///< of the rows that follow, 1 to 4; alpha, if any (2 or 4), is last
    bool premultiplied = false;         ///< by alpha
    std::size_t beside = 0;             ///< bytes that a library keeps besides, as rows come in passes or all at once
    bool linear = false;                ///< linear light, unless a profile says otherwise
    int orientation = 1;                ///< how it is to be turned, as Exif 2.3 counts (exif.h)
    std::string profile;                ///< ICC; "": none
    std::vector<float> chromaticities;  ///< x and y of red, green, blue and white; none: those of sRGB

    /// Every decoder of more refuses the file: what lies beyond colour and alpha is not read.
    static constexpr int most_channels = 64;
};

/// Takes a picture as it is decoded.
class PictureRows {
public:
    virtual ~PictureRows() = default;
    /// Before the first row; false if the picture is not wanted, and why is known to whoever owns this.
    virtual bool begin(const PictureHead& head) = 0;
    /// The next rows, top row first, of interleaved values. Like check() it throws what its owner catches: the decoder holds
    /// nothing that would be lost.
    virtual void add(int rows, const float* values) = 0;
    /// Asked often where no rows come for long.
    virtual void check() const = 0;
    /// Counted memory for what a library has to keep whole; one piece, which is gone with this.
    virtual unsigned char* room(std::size_t bytes) = 0;
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
    std::string profile;  ///< ICC, where the mark is srgb
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

/// An SVG file that has been read; for one thread at a time.
class VectorDrawing {
public:
    virtual ~VectorDrawing() = default;
    /// In its own units.
    virtual DrawingSize size() const = 0;
    /// Rows of what it covers, 0..1; see PictureReader::drawn.
    virtual CodecFailure draw(const Affine& placing, const std::vector<std::pair<int, int>>& copies, int width, Rows rows,
                              float* out) = 0;
};

class PictureCodec {
public:
    virtual ~PictureCodec() = default;
    /// The bytes of a file come in, rows go out as they are decoded. Refuses pictures with more than `greatest` pixels on a side
    /// before it reads them.
    virtual CodecFailure read(std::string_view file, int greatest, PictureRows& out) const = 0;
    /// What stands before the rows, with the same refusals.
    virtual CodecFailure head(std::string_view file, int greatest, PictureHead& out) const = 0;
    /// An SVG file, read once for all that is drawn of it. Nothing outside of the file is read.
    virtual std::unique_ptr<VectorDrawing> drawing(std::string_view svg, CodecFailure& failure) const = 0;
    /// The sink has to outlive the encoder. Rows go on as they come, except that WebP's library wants all of them first and
    /// JPEG's keeps what it has encoded.
    virtual std::unique_ptr<PictureEncoder> encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) const = 0;
};

/// The module's codec, loaded on the first call; an error if the program was installed without it.
Result<const PictureCodec*> picture_codec();

}  // namespace loom

extern "C" const loom::PictureCodec* keen_loom_picture_codec();
