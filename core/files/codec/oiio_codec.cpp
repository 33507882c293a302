// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The module that links OpenImageIO and libtiff; see core/files/picture_codec.h.
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <tiffio.h>

#include <algorithm>
#include <cstdint>
#include <cstring>
#include <memory>
#include <new>

#include "core/files/picture_codec.h"

namespace loom {

namespace {

std::string one_line(std::string text) {
    std::replace(text.begin(), text.end(), '\n', ' ');
    while (!text.empty() && text.back() == ' ') text.pop_back();
    return text;
}

/// A file name of that kind, by which the library chooses.
const char* writer_of(PictureFormat format) {
    switch (format) {
        case PictureFormat::exr: return "picture.exr";
        case PictureFormat::jpg: return "picture.jpg";
        case PictureFormat::webp: return "picture.webp";
        case PictureFormat::png:
        case PictureFormat::png16:
        case PictureFormat::tiff: break;
    }
    return "";
}

/// What kind of picture the first bytes say it is, as a file name; the library tries all kinds for any other.
std::string name_of(std::string_view file) {
    using namespace std::string_view_literals;
    if (file.starts_with("II*\0"sv) || file.starts_with("MM\0*"sv)) return "picture.tif";
    if (file.starts_with("\x76\x2f\x31\x01"sv)) return "picture.exr";
    if (file.starts_with("\xff\xd8\xff"sv)) return "picture.jpg";
    if (file.starts_with("RIFF"sv) && file.substr(0, 12).ends_with("WEBP"sv)) return "picture.webp";
    return "picture";
}

/// `bytes` has to outlive the input.
std::unique_ptr<OIIO::ImageInput> opened(OIIO::Filesystem::IOMemReader& bytes, std::string_view file, int greatest,
                                         CodecFailure& failure) {
    auto input = OIIO::ImageInput::open(name_of(file), nullptr, &bytes);
    if (!input) {
        (void)OIIO::geterror();
        failure.words = "it is no picture of a kind that can be read (PNG, TIFF, EXR, JPEG, WebP)";
        return nullptr;
    }
    const OIIO::ImageSpec& spec = input->spec();
    if (spec.width < 1 || spec.height < 1 || spec.width > greatest || spec.height > greatest) {
        failure.words = "it has " + std::to_string(spec.width) + "x" + std::to_string(spec.height) + " pixels; at most " +
                        std::to_string(greatest) + " on a side can be read";
        return nullptr;
    }
    return input;
}

/// A file in memory for the C functions of the libraries, which know no exceptions; a short count is an error they know.
class MemoryOutput final : public OIIO::Filesystem::IOProxy {
public:
    explicit MemoryOutput(std::vector<unsigned char>& bytes) : IOProxy("", Write), bytes_(bytes) {}
    const char* proxytype() const override { return "memory"; }
    size_t size() const override { return bytes_.size(); }
    size_t write(const void* data, size_t count) override {
        count = pwrite(data, count, m_pos);
        m_pos += static_cast<int64_t>(count);
        return count;
    }
    size_t pwrite(const void* data, size_t count, int64_t offset) override {
        try {
            const auto at = static_cast<size_t>(offset);
            if (bytes_.size() < at + count) bytes_.resize(at + count);
            std::memcpy(bytes_.data() + at, data, count);
            return count;
        } catch (const std::bad_alloc&) {
            return 0;
        }
    }

private:
    std::vector<unsigned char>& bytes_;
};

CodecFailure not_enough_memory() { return {"there is not enough memory"}; }

/// 16 bit, deflated. Through libtiff itself: the writer of this OpenImageIO loses the directory when it writes to memory.
CodecFailure write_tiff(const RawPicture& picture, MemoryOutput& out) {
    const auto write = [](thandle_t file, void* data, tmsize_t count) {
        return static_cast<tmsize_t>(static_cast<MemoryOutput*>(file)->write(data, static_cast<size_t>(count)));
    };
    const auto seek = [](thandle_t file, toff_t offset, int origin) -> toff_t {
        auto& output = *static_cast<MemoryOutput*>(file);
        output.seek(static_cast<int64_t>(offset), origin);
        return static_cast<toff_t>(output.tell());
    };
    const auto read = [](thandle_t, void*, tmsize_t) -> tmsize_t { return 0; };
    const auto close = [](thandle_t) { return 0; };
    const auto size = [](thandle_t file) { return static_cast<toff_t>(static_cast<MemoryOutput*>(file)->size()); };
    TIFFSetErrorHandler(nullptr), TIFFSetWarningHandler(nullptr);
    TIFF* tiff = TIFFClientOpen("memory", "w", &out, read, write, seek, close, size, nullptr, nullptr);
    if (!tiff) return not_enough_memory();
    const auto channels = static_cast<std::size_t>(picture.channels);
    TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, picture.size.width);
    TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, picture.size.height);
    TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, 16);
    TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, picture.channels);
    TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, channels < 3 ? PHOTOMETRIC_MINISBLACK : PHOTOMETRIC_RGB);
    TIFFSetField(tiff, TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
    TIFFSetField(tiff, TIFFTAG_ORIENTATION, ORIENTATION_TOPLEFT);
    TIFFSetField(tiff, TIFFTAG_COMPRESSION, COMPRESSION_ADOBE_DEFLATE);
    TIFFSetField(tiff, TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
    // Noise hardly shrinks further at higher levels, which take several times as long.
    TIFFSetField(tiff, TIFFTAG_ZIPQUALITY, 2);
    TIFFSetField(tiff, TIFFTAG_SOFTWARE, "Keen Loom");
    TIFFSetField(tiff, TIFFTAG_ROWSPERSTRIP, TIFFDefaultStripSize(tiff, 0));
    std::uint16_t straight = EXTRASAMPLE_UNASSALPHA;
    if (channels % 2 == 0) TIFFSetField(tiff, TIFFTAG_EXTRASAMPLES, 1, &straight);
    std::vector<std::uint16_t> row(static_cast<std::size_t>(picture.size.width) * channels);
    bool written = true;
    for (int y = 0; y < picture.size.height && written; ++y) {
        const float* from = picture.pixels.data() + static_cast<std::size_t>(y) * row.size();
        for (std::size_t k = 0; k < row.size(); ++k)
            row[k] = from[k] > 0 ? static_cast<std::uint16_t>(std::min(from[k] * 65535.0f + 0.5f, 65535.0f)) : std::uint16_t{0};
        written = TIFFWriteScanline(tiff, row.data(), static_cast<std::uint32_t>(y)) == 1;
    }
    written = written && TIFFFlush(tiff) == 1;
    TIFFClose(tiff);
    return written ? CodecFailure{} : not_enough_memory();
}

class OiioCodec final : public PictureCodec {
public:
    CodecFailure size(std::string_view file, int greatest, Size& out) const override {
        CodecFailure failure;
        OIIO::Filesystem::IOMemReader bytes(file.data(), file.size());
        if (const auto input = opened(bytes, file, greatest, failure)) out = {input->spec().width, input->spec().height};
        return failure;
    }

    CodecFailure read(std::string_view file, int greatest, RawPicture& out) const override {
        CodecFailure failure;
        OIIO::Filesystem::IOMemReader bytes(file.data(), file.size());
        const auto input = opened(bytes, file, greatest, failure);
        if (!input) return failure;
        const OIIO::ImageSpec& spec = input->spec();
        out.size = {spec.width, spec.height};
        out.channels = spec.nchannels;
        out.linear =
            spec.get_string_attribute("oiio:ColorSpace") == "Linear" || std::string_view(input->format_name()) == "openexr";
        out.pixels.resize(out.size.pixels() * static_cast<std::size_t>(out.channels));
        if (!input->read_image(0, 0, 0, out.channels, OIIO::TypeDesc::FLOAT, out.pixels.data()))
            return {"the picture is damaged: " + one_line(input->geterror())};
        return {};
    }

    CodecFailure write(const RawPicture& picture, PictureFormat format, ColourMark mark,
                       std::vector<unsigned char>& out) const override {
        MemoryOutput bytes(out);
        if (format == PictureFormat::tiff) return write_tiff(picture, bytes);
        const std::string name = writer_of(format);
        const auto output = OIIO::ImageOutput::create(name);
        if (!output || !output->set_ioproxy(&bytes)) {
            (void)OIIO::geterror();
            return {"this machine cannot write that format"};
        }
        OIIO::ImageSpec spec(picture.size.width, picture.size.height, picture.channels,
                             format == PictureFormat::exr ? OIIO::TypeDesc::HALF : OIIO::TypeDesc::UINT8);
        spec.attribute("oiio:ColorSpace", mark == ColourMark::data ? "Raw" : mark == ColourMark::linear ? "Linear" : "sRGB");
        if (format != PictureFormat::exr) spec.attribute("oiio:UnassociatedAlpha", 1);
        if (picture.channels == 2) spec.channelnames = {"Y", "A"}, spec.alpha_channel = 1;
        if (format == PictureFormat::jpg) spec.attribute("Compression", "jpeg:95");
        if (format == PictureFormat::webp) spec.attribute("Compression", "webp:95");
        spec.attribute("Software", "Keen Loom");
        const bool written = output->open(name, spec) && output->write_image(OIIO::TypeDesc::FLOAT, picture.pixels.data());
        const bool closed = output->close();
        if (written && closed) return {};
        const std::string words = one_line(output->geterror());
        return words.empty() ? not_enough_memory() : CodecFailure{words};
    }
};

}  // namespace

}  // namespace loom

const loom::PictureCodec* keen_loom_picture_codec() {
    static const loom::OiioCodec codec;
    return &codec;
}
