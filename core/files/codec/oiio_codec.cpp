// SPDX-FileCopyrightText: Keen Loom contributors
// SPDX-License-Identifier: Apache-2.0
//
// The module that links OpenImageIO, OpenEXR, libtiff and libwebp; see core/files/picture_codec.h.
#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>

#include <algorithm>
#include <cstdint>
#include <memory>
#include <vector>

#include "core/files/codec/drawings.h"
#include "core/files/codec/exr_encoder.h"
#include "core/files/codec/tiff_encoder.h"
#include "core/files/codec/webp_decoder.h"
#include "core/files/codec/webp_encoder.h"
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
        case PictureFormat::jpg: return "picture.jpg";
        case PictureFormat::png:
        case PictureFormat::png16:
        case PictureFormat::tiff:
        case PictureFormat::exr:
        case PictureFormat::exr_float:
        case PictureFormat::webp: break;
    }
    return "";
}

constexpr std::string_view webp_name = "picture.webp";

/// What kind of picture the first bytes say it is, as a file name; the library tries all kinds for any other.
std::string name_of(std::string_view file) {
    using namespace std::string_view_literals;
    if (file.starts_with("II*\0"sv) || file.starts_with("MM\0*"sv)) return "picture.tif";
    if (file.starts_with("\x76\x2f\x31\x01"sv)) return "picture.exr";
    if (file.starts_with("\xff\xd8\xff"sv)) return "picture.jpg";
    if (file.starts_with("RIFF"sv) && file.substr(0, 12).ends_with("WEBP"sv)) return std::string(webp_name);
    return "picture";
}

/// Beyond its end there is nothing to read; the library's own reader takes what lies there.
class MemoryFile final : public OIIO::Filesystem::IOMemReader {
public:
    using IOMemReader::IOMemReader;
    std::size_t read(void* to, std::size_t count) override {
        const std::size_t got = pread(to, count, m_pos);
        m_pos += static_cast<std::int64_t>(got);
        return got;
    }
    std::size_t pread(void* to, std::size_t count, std::int64_t offset) override {
        const auto all = static_cast<std::int64_t>(size());
        if (offset < 0 || offset >= all) return 0;
        return IOMemReader::pread(to, std::min(count, static_cast<std::size_t>(all - offset)), offset);
    }
};

/// `bytes` has to outlive the input.
std::unique_ptr<OIIO::ImageInput> opened(MemoryFile& bytes, std::string_view file, int greatest, CodecFailure& failure) {
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

/// JPEG: a few rows are gathered, as the library shares out what it is given at a time among its threads.
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
        OIIO::ImageSpec spec(size_.width, size_.height, layout.channels, OIIO::TypeDesc::UINT8);
        spec.attribute("oiio:ColorSpace", layout.mark == ColourMark::data ? "Raw" : "sRGB");
        spec.attribute("oiio:UnassociatedAlpha", 1);
        if (layout.channels == 2) spec.channelnames = {"Y", "A"}, spec.alpha_channel = 1;
        if (layout.format == PictureFormat::jpg) spec.attribute("Compression", "jpeg:95");
        if (!layout.profile.empty())
            spec.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, static_cast<int>(layout.profile.size())),
                           layout.profile.data());
        spec.attribute("Software", "Keen Loom");
        // The library would write the time of day, so that no two files of the same picture were the same; blanks stand for an
        // unknown date (Exif 2.3).
        spec.attribute("DateTime", "    :  :     :  :  ");
        if (!output_->open(name, spec)) failure = failed();
        rows_.reserve(length_ * at_a_time);
    }

    CodecFailure add(int rows, const LayRow& lay) override {
        for (int k = 0; k < rows; ++k) {
            rows_.resize(rows_.size() + length_);
            lay(k, rows_.data() + rows_.size() - length_);
            if (rows_.size() < length_ * at_a_time) continue;
            if (auto failure = pass_on()) return failure;
        }
        return {};
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

/// Whether a JPEG comes in passes, all of whose coefficients are kept (ITU-T T.81, B.2): its frame's marker says so.
bool in_passes(std::string_view file) {
    const auto byte = [&](std::size_t at) { return at < file.size() ? static_cast<unsigned char>(file[at]) : 0u; };
    if (!file.starts_with("\xff\xd8")) return false;
    for (std::size_t at = 2; byte(at) == 0xff && at < file.size();) {
        const unsigned marker = byte(at + 1);
        if (marker == 0xff) {
            ++at;
            continue;
        }
        if (marker >= 0xc0 && marker <= 0xcf && marker != 0xc4 && marker != 0xc8 && marker != 0xcc) return (marker & 3) == 2;
        at += 2 + (byte(at + 2) << 8 | byte(at + 3));
    }
    return false;
}

CodecFailure head_of(const OIIO::ImageInput& input, std::string_view file, PictureHead& out) {
    const OIIO::ImageSpec& spec = input.spec();
    out = {};
    out.size = {spec.width, spec.height};
    if (spec.nchannels > PictureHead::most_channels)
        return {"it has " + std::to_string(spec.nchannels) + " channels; at most " + std::to_string(PictureHead::most_channels) +
                " can be read"};
    // Colour comes first; of what stands behind it only its alpha counts.
    out.channels = std::min(spec.nchannels, 4);
    if (out.channels == 4 && spec.nchannels > 4 && spec.alpha_channel != 3) out.channels = 3;
    out.premultiplied = true;
    if (in_passes(file)) out.beside = out.size.pixels() * static_cast<std::size_t>(out.channels) * 2;
    out.linear = spec.get_string_attribute("oiio:ColorSpace") == "Linear" || std::string_view(input.format_name()) == "openexr";
    out.orientation = std::clamp(spec.get_int_attribute("Orientation", 1), 1, 8);
    if (const auto* profile = spec.find_attribute("ICCProfile"))
        out.profile.assign(static_cast<const char*>(profile->data()), profile->type().size());
    if (const auto* places = spec.find_attribute("chromaticities");
        places && places->type().basetype == OIIO::TypeDesc::FLOAT && places->type().size() == 8 * sizeof(float))
        out.chromaticities.assign(static_cast<const float*>(places->data()), static_cast<const float*>(places->data()) + 8);
    return {};
}

class OiioCodec final : public PictureCodec {
public:
    CodecFailure head(std::string_view file, int greatest, PictureHead& out) const override {
        if (name_of(file) == webp_name) return webp_head(file, greatest, out);
        CodecFailure failure;
        MemoryFile bytes(file.data(), file.size());
        if (const auto input = opened(bytes, file, greatest, failure)) failure = head_of(*input, file, out);
        return failure;
    }

    CodecFailure read(std::string_view file, int greatest, PictureRows& out) const override {
        if (name_of(file) == webp_name) return read_webp(file, greatest, out);
        CodecFailure failure;
        MemoryFile bytes(file.data(), file.size());
        const auto input = opened(bytes, file, greatest, failure);
        if (!input) return failure;
        PictureHead head;
        if ((failure = head_of(*input, file, head))) return failure;
        if (!out.begin(head)) return {};
        const OIIO::ImageSpec& spec = input->spec();
        // Tiles come in whole rows of them.
        const int together = spec.tile_width > 0 ? std::max(1, spec.tile_height) : 64;
        if (together > greatest) return {"its tiles are too large to be read"};
        std::vector<float> rows(static_cast<std::size_t>(together) * static_cast<std::size_t>(head.size.width) *
                                static_cast<std::size_t>(head.channels));
        for (int y = 0; y < head.size.height; y += together) {
            out.check();
            const int end = std::min(y + together, head.size.height), top = spec.y + y, below = spec.y + end;
            const bool read =
                spec.tile_width > 0
                    ? input->read_tiles(0, 0, spec.x, spec.x + spec.width, top, below, spec.z, spec.z + 1, 0, head.channels,
                                        OIIO::TypeDesc::FLOAT, rows.data())
                    : input->read_scanlines(0, 0, top, below, spec.z, 0, head.channels, OIIO::TypeDesc::FLOAT, rows.data());
            if (!read) return {"the picture is damaged: " + one_line(input->geterror())};
            out.add(end - y, rows.data());
        }
        return {};
    }

    std::unique_ptr<VectorDrawing> drawing(std::string_view svg, CodecFailure& failure) const override {
        return svg_drawing(svg, failure);
    }
    std::unique_ptr<PictureEncoder> encoder(const PictureLayout& layout, ByteSink& sink, CodecFailure& failure) const override {
        if (layout.format == PictureFormat::tiff) return tiff_encoder(layout, sink, failure);
        if (layout.format == PictureFormat::exr || layout.format == PictureFormat::exr_float)
            return exr_encoder(layout, sink, failure);
        if (layout.format == PictureFormat::webp) return webp_encoder(layout, sink, failure);
        return std::make_unique<OiioEncoder>(layout, sink, failure);
    }
};

}  // namespace

}  // namespace loom

const loom::PictureCodec* keen_loom_picture_codec() {
    static const loom::OiioCodec codec;
    return &codec;
}
