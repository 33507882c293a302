// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The module that links OpenImageIO and libtiff; see core/files/picture_codec.h.
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>
#include <tiffio.h>

#include <algorithm>
#include <cstdint>
#include <memory>
#include <vector>

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

/// What the sink has to say of its failures is told by who owns it.
CodecFailure not_put_there() { return {"it could not be put there"}; }

/// The sink as a file for the libraries.
class SinkFile final : public OIIO::Filesystem::IOProxy {
public:
    explicit SinkFile(ByteSink& sink) : IOProxy("", Write), sink_(sink) {}
    const char* proxytype() const override { return "sink"; }
    size_t size() const override { return size_; }
    size_t write(const void* data, size_t count) override {
        count = pwrite(data, count, m_pos);
        m_pos += static_cast<int64_t>(count);
        return count;
    }
    size_t pwrite(const void* data, size_t count, int64_t offset) override {
        const auto at = static_cast<size_t>(offset);
        if (!sink_.write_at(at, {static_cast<const char*>(data), count})) return 0;
        size_ = std::max(size_, at + count);
        return count;
    }

private:
    ByteSink& sink_;
    size_t size_ = 0;
};

/// 16 bit, deflated. Through libtiff itself: the writer of this OpenImageIO loses the directory when it writes to a proxy.
class TiffEncoder final : public PictureEncoder {
public:
    TiffEncoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure)
        : file_(sink), row_(static_cast<std::size_t>(layout.size.width) * static_cast<std::size_t>(layout.channels)) {
        const auto write = [](thandle_t file, void* data, tmsize_t count) {
            return static_cast<tmsize_t>(static_cast<SinkFile*>(file)->write(data, static_cast<size_t>(count)));
        };
        const auto seek = [](thandle_t file, toff_t offset, int origin) -> toff_t {
            auto& output = *static_cast<SinkFile*>(file);
            output.seek(static_cast<int64_t>(offset), origin);
            return static_cast<toff_t>(output.tell());
        };
        const auto read = [](thandle_t, void*, tmsize_t) -> tmsize_t { return 0; };
        const auto close = [](thandle_t) { return 0; };
        const auto size = [](thandle_t file) { return static_cast<toff_t>(static_cast<SinkFile*>(file)->size()); };
        TIFFSetErrorHandler(nullptr), TIFFSetWarningHandler(nullptr);
        tiff_.reset(TIFFClientOpen("sink", "w", &file_, read, write, seek, close, size, nullptr, nullptr));
        if (!tiff_) {
            failure = not_put_there();
            return;
        }
        set(TIFFTAG_IMAGEWIDTH, layout.size.width);
        set(TIFFTAG_IMAGELENGTH, layout.size.height);
        set(TIFFTAG_BITSPERSAMPLE, 16);
        set(TIFFTAG_SAMPLESPERPIXEL, layout.channels);
        set(TIFFTAG_PHOTOMETRIC, layout.channels < 3 ? PHOTOMETRIC_MINISBLACK : PHOTOMETRIC_RGB);
        set(TIFFTAG_PLANARCONFIG, PLANARCONFIG_CONTIG);
        set(TIFFTAG_ORIENTATION, ORIENTATION_TOPLEFT);
        set(TIFFTAG_COMPRESSION, COMPRESSION_ADOBE_DEFLATE);
        set(TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
        // Noise hardly shrinks further at higher levels, which take several times as long.
        set(TIFFTAG_ZIPQUALITY, 2);
        set(TIFFTAG_SOFTWARE, "Keen Loom");
        set(TIFFTAG_ROWSPERSTRIP, TIFFDefaultStripSize(tiff_.get(), 0));
        std::uint16_t straight = EXTRASAMPLE_UNASSALPHA;
        if (layout.channels % 2 == 0) TIFFSetField(tiff_.get(), TIFFTAG_EXTRASAMPLES, 1, &straight);
    }

    CodecFailure add(const float* row) override {
        for (std::size_t k = 0; k < row_.size(); ++k)
            row_[k] = row[k] > 0 ? static_cast<std::uint16_t>(std::min(row[k] * 65535.0f + 0.5f, 65535.0f)) : std::uint16_t{0};
        return TIFFWriteScanline(tiff_.get(), row_.data(), next_++) == 1 ? CodecFailure{} : not_put_there();
    }

    CodecFailure finish() override {
        const bool written = TIFFFlush(tiff_.get()) == 1;
        tiff_.reset();
        return written ? CodecFailure{} : not_put_there();
    }

private:
    template <class T>
    void set(std::uint32_t tag, T value) {
        TIFFSetField(tiff_.get(), tag, value);
    }
    struct Close {
        void operator()(TIFF* tiff) const { TIFFClose(tiff); }
    };

    SinkFile file_;
    std::vector<std::uint16_t> row_;
    std::uint32_t next_ = 0;
    std::unique_ptr<TIFF, Close> tiff_;
};

/// Everything else: a few rows are gathered, as the library shares out what it is given at a time among its threads.
class OiioEncoder final : public PictureEncoder {
public:
    OiioEncoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure)
        : file_(sink),
          size_(layout.size),
          length_(static_cast<std::size_t>(layout.size.width) * static_cast<std::size_t>(layout.channels)) {
        const std::string name = writer_of(layout.format);
        output_ = OIIO::ImageOutput::create(name);
        if (!output_ || !output_->set_ioproxy(&file_)) {
            (void)OIIO::geterror();
            failure.words = "this machine cannot write that format";
            return;
        }
        const bool exr = layout.format == PictureFormat::exr;
        OIIO::ImageSpec spec(size_.width, size_.height, layout.channels, exr ? OIIO::TypeDesc::HALF : OIIO::TypeDesc::UINT8);
        spec.attribute("oiio:ColorSpace", layout.mark == ColourMark::data     ? "Raw"
                                          : layout.mark == ColourMark::linear ? "Linear"
                                                                              : "sRGB");
        if (!exr) spec.attribute("oiio:UnassociatedAlpha", 1);
        if (layout.channels == 2) spec.channelnames = {"Y", "A"}, spec.alpha_channel = 1;
        if (layout.format == PictureFormat::jpg) spec.attribute("Compression", "jpeg:95");
        if (layout.format == PictureFormat::webp) spec.attribute("Compression", "webp:95");
        spec.attribute("Software", "Keen Loom");
        // The library would write the time of day, so that no two files of the same picture were the same; blanks stand for an
        // unknown date (Exif 2.3).
        spec.attribute("DateTime", "    :  :     :  :  ");
        if (!output_->open(name, spec)) failure = failed();
        rows_.reserve(length_ * at_a_time);
    }

    CodecFailure add(const float* row) override {
        rows_.insert(rows_.end(), row, row + length_);
        return rows_.size() == length_ * at_a_time ? pass_on() : CodecFailure{};
    }

    CodecFailure finish() override {
        if (auto failure = pass_on()) return failure;
        return output_->close() ? CodecFailure{} : failed();
    }

private:
    static constexpr std::size_t at_a_time = 64;

    CodecFailure pass_on() {
        const int count = static_cast<int>(rows_.size() / length_);
        if (count == 0) return {};
        const bool written = output_->write_scanlines(next_, next_ + count, 0, OIIO::TypeDesc::FLOAT, rows_.data());
        next_ += count;
        rows_.clear();
        return written ? CodecFailure{} : failed();
    }
    CodecFailure failed() const {
        const std::string words = one_line(output_->geterror());
        return words.empty() ? not_put_there() : CodecFailure{words};
    }

    SinkFile file_;
    Size size_;
    std::size_t length_;
    std::vector<float> rows_;
    int next_ = 0;
    std::unique_ptr<OIIO::ImageOutput> output_;
};

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

    std::unique_ptr<PictureEncoder> encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) const override {
        if (layout.format == PictureFormat::tiff) return std::make_unique<TiffEncoder>(layout, sink, failure);
        return std::make_unique<OiioEncoder>(layout, sink, failure);
    }
};

}  // namespace

}  // namespace loom

const loom::PictureCodec* keen_loom_picture_codec() {
    static const loom::OiioCodec codec;
    return &codec;
}
